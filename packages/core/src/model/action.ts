import type { Curve } from "../curve/curve.ts";
import type { ChannelKey, Control } from "./rig.ts";
import type { Rate } from "./shot.ts";

/** Saved motion (or, of one frame, a pose) that can be laid on other shots. Frame 0 is its start. */
export interface Action {
  readonly id: string;
  readonly name: string;
  readonly notes: string;
  readonly tags: readonly string[];
  readonly folder: string;
  readonly rate: Rate;
  /** Last frame; 0 for a pose. */
  readonly length: number;
  readonly curves: Readonly<Record<ChannelKey, Curve>>;
  /** The controls it was taken from, for matching and for playing it by itself. */
  readonly controls: readonly Control[];
  /** Name of the drawn figure it was taken from, if any. */
  readonly figure: string | null;
  /** Milliseconds since 1970. */
  readonly savedAt: number;
}
