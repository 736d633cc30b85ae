import type { Curve } from "../curve/curve.ts";
import { type ChannelKey, type Control, figureControls, type Rig, splitChannelKey } from "./rig.ts";
import type { Rate } from "./rate.ts";

/** Motion lifted off a shot: copied keys, what an action holds. Times of its curves count from its start. */
export interface Clip {
  readonly rate: Rate;
  /** The frame at which it began where it was lifted. */
  readonly from: number;
  /** Frames from its start to its end; 0 for a pose. */
  readonly length: number;
  /** Curves were lifted as a whole, not keys of them. */
  readonly whole: boolean;
  /** By channel, in the order in which they were picked. */
  readonly curves: Readonly<Record<ChannelKey, Curve>>;
  /** The controls it moves and those above them, or the whole figure: for finding them elsewhere and for playing it by itself. */
  readonly controls: readonly Control[];
  /** Name of the drawn figure it was taken from, if any. */
  readonly figure: string | null;
}

/** What a clip of some channels carries along to be found elsewhere and played by itself: the whole figure, and whatever else it moves. */
export function figureWith(rig: Rig, keys: Iterable<ChannelKey>): Control[] {
  const wanted = new Set([...figureControls(rig), ...controlsFor(rig, keys)]);
  return rig.controls.filter((control) => wanted.has(control));
}

/** The controls that channels belong to, with all that stands above them, in the order of the rig. */
export function controlsFor(rig: Rig, keys: Iterable<ChannelKey>): Control[] {
  const wanted = new Set([...keys].map((key) => splitChannelKey(key).control));
  // Those above stand before those below, so one walk from the end finds them all.
  for (const { id, parent } of [...rig.controls].reverse()) if (parent !== null && wanted.has(id)) wanted.add(parent);
  return rig.controls.filter(({ id }) => wanted.has(id));
}
