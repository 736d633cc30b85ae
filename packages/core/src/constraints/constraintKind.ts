import type { z } from "zod";
import type { Rig } from "../model/rig.ts";

/** The figure while its constraints are applied, one after another. */
export interface Standing {
  /** World matrices by columns, sixteen numbers a control: where everything is so far. */
  readonly worlds: Float64Array;
  /** By control: the one it hangs on, −1 at the top. */
  readonly parents: Int32Array;
  /** By control: the one it goes along with at this frame in place of what it hangs on; −1 where there is none. */
  readonly livesIn: Int32Array;
  /** Write a control's own matrix, as its channels say, under whatever it is put; sixteen numbers at `o`. */
  own(out: Float64Array, o: number, control: number): void;
}

/** A constraint made ready to be applied: what it is told, where its controls stand, and what its channels have at a frame. */
export interface ConstraintSlot<Settings = unknown, Prepared = unknown> {
  readonly settings: Settings;
  /** What the kind worked out beforehand. */
  readonly prepared: Prepared;
  /** Indices of the controls it reads and of those it writes, in the order in which the kind names them. */
  readonly reads: readonly number[];
  readonly writes: readonly number[];
  /** Values of the kind's channels, in their order, at the frame that is played. */
  readonly values: Float64Array;
  /** The frame at which they are read. */
  frame: number;
}

/** What of a constraint changes over time: a channel, with what it is where it has no key. */
interface ConstraintChannel {
  readonly name: string;
  readonly otherwise: number;
}

/** A kind of constraint: one file like `follow.ts` and one line in `kinds.ts`. */
export interface ConstraintKind<Settings = unknown, Prepared = unknown> {
  readonly id: string;
  readonly title: string;
  /** A sentence for the user. */
  readonly help: string;
  /** What `constraint.settings` may be. */
  readonly settings: z.ZodType<Settings>;
  /** What changes over time. */
  channels(settings: Settings): readonly ConstraintChannel[];
  /** Ids of the controls whose place in the world it looks at. */
  reads(settings: Settings): readonly string[];
  /** Ids of the controls it puts elsewhere, those above first. */
  writes(settings: Settings): readonly string[];
  /** It leads each of its controls by itself, so that one may wait for another of them. */
  readonly each?: true;
  /** Do a control's own channels go on top of where it is put, so that it can still be posed? */
  keepsOwn(settings: Settings): boolean;
  /** The control to pull in place of one of its own: what that goes after. Null, or left out: none. */
  pulledFor?(settings: Settings, control: string): string | null;
  /** The settings for a rig so many times as big. */
  scaled(settings: Settings, factor: number): Settings;
  /** The settings when things happen at other frames; left out where they say nothing of frames. */
  retimed?(settings: Settings, frame: (frame: number) => number): Settings;
  /** Does it do nothing at a frame, whatever its strength? */
  isIdle?(settings: Settings, frame: number): boolean;
  /** What can be worked out once for a rig. */
  prepare?(settings: Settings, rig: Rig): Prepared;
  /** Change the world matrices of what it writes, in place. */
  apply(standing: Standing, slot: ConstraintSlot<Settings, Prepared>): void;
}
