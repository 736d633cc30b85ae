import type { Shot } from "../model/shot.ts";

/**
 * A shot made ready to play. `pose(frame)` fills `turns` and `worlds`, `readValues(frame)` fills
 * `values`; nothing is allocated per posed frame. Make one per user: two readers of one player would
 * overwrite each other's frame.
 */
export interface Player {
  readonly shot: Shot;
  /** Index into `values` of a channel, by channel key. */
  readonly channelIndex: ReadonlyMap<string, number>;
  /** Index into `worlds` (times 16), by control id. */
  readonly controlIndex: ReadonlyMap<string, number>;
  /** Final channel values: nine for each control (move, rotate in degrees, scale), then attributes. */
  readonly values: Float64Array;
  /** Each control's own rotation (rest turn not included), four numbers a control. */
  readonly turns: Float64Array;
  /** World matrices by columns, sixteen numbers a control. */
  readonly worlds: Float64Array;
  /** Ids of controls that constraints put elsewhere with their own channels on top. */
  readonly led: ReadonlySet<string>;
  /** Ids of controls whose own channels do not say where they are at a frame, as something else does. */
  ruledAt(frame: number): ReadonlySet<string>;
  /** Fill `turns` and `worlds` for a frame (a float). */
  pose(frame: number): void;
  /** Fill `values` for a frame. */
  readValues(frame: number): void;
}

/** A layer's own values on some channels, as they are at the time; NaN where there are none. */
export interface LiveValues {
  readonly layer: string;
  readonly keys: readonly string[];
  read(n: number, frame: number): number;
}

/** What of a shot a player leaves out, and what it adds. */
export interface PlayerOptions {
  /** Leave out passes from this one upward (by id); "base" leaves out all. */
  readonly below?: string;
  /** Leave out the follows. */
  readonly free?: boolean;
  /** Leave out what rides along with a camera. */
  readonly withoutRides?: boolean;
  /** Work out only these controls (by id) and what they depend on; what the arrays hold of others means nothing. */
  readonly only?: readonly string[];
  /** Values that come in while it plays, over what a layer has. */
  readonly live?: LiveValues;
}

/** Makes players; given to what players are made of, where that needs one in turn. */
export type MakePlayer = (shot: Shot, options?: PlayerOptions) => Player;
