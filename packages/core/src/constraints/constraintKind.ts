import type { z } from "zod";

/** A constraint made ready to be applied: what it is told, where its controls stand, and what its channels have at a frame. */
export interface ConstraintSlot<Settings = unknown> {
  readonly settings: Settings;
  /** Indices of the controls it reads and of those it writes, in the order in which the kind names them. */
  readonly reads: readonly number[];
  readonly writes: readonly number[];
  /** Values of the kind's channels, in their order, at the frame that is played. */
  readonly values: Float64Array;
}

/** A kind of constraint: one file like `follow.ts` and one line in `kinds.ts`. */
export interface ConstraintKind<Settings = unknown> {
  readonly id: string;
  readonly title: string;
  /** A sentence for the user. */
  readonly help: string;
  /** What `constraint.settings` may be. */
  readonly settings: z.ZodType<Settings>;
  /** What changes over time, and what each is where it has no key. */
  readonly channels: readonly { readonly name: string; readonly otherwise: number }[];
  /** Ids of the controls whose place in the world it looks at. */
  reads(settings: Settings): readonly string[];
  /** Ids of the controls it puts elsewhere, those above first. */
  writes(settings: Settings): readonly string[];
  /** The settings for a rig so many times as big. */
  scaled(settings: Settings, factor: number): Settings;
  /** Change the world matrices (sixteen numbers a control) of what it writes, in place. */
  apply(worlds: Float64Array, slot: ConstraintSlot<Settings>): void;
}
