import { type KeyMap, keyBefore, NO_MAP } from "@kneader/core";

/** What a drag of keys may change and where it snaps. Set by the user, kept between visits. */
export interface DragRules {
  /** Keys stay at their frames. */
  readonly keepTime: boolean;
  /** Keys stay at their values. */
  readonly keepValue: boolean;
  readonly wholeFrames: boolean;
  /** The grabbed key, or the dragged side of the box, is drawn to keys nearby. */
  readonly toKeys: boolean;
}

/** The frame nearest to `frame` among rising `times`, when it is within reach. */
export function nearestTime(times: Float64Array, frame: number, reach: number): number | null {
  const before = keyBefore(times, frame);
  let best: number | null = null;
  for (const i of [before, before + 1])
    if (i >= 0 && i < times.length && Math.abs(times[i] - frame) <= (best === null ? reach : Math.abs(best - frame))) best = times[i];
  return best;
}

/** Where `frame` comes to rest: on a key nearby, else on a whole frame, as the rules say. */
export function snapFrame(frame: number, rules: DragRules, keys: Float64Array, reach: number): number {
  const key = rules.toKeys ? nearestTime(keys, frame, reach) : null;
  return key ?? (rules.wholeFrames ? Math.round(frame) : frame);
}

/**
 * The map of a drag by frames and value. `grabbed` is the frame of the key under the pointer, `straight`
 * the one direction the drag is held to.
 */
export function dragMap(
  by: { frames: number; amount: number },
  grabbed: number,
  rules: DragRules,
  straight: "time" | "value" | null,
  keys: Float64Array,
  reach: number,
): KeyMap {
  const still = rules.keepTime || straight === "value";
  const target = grabbed + by.frames;
  const key = rules.toKeys ? nearestTime(keys, target, reach) : null;
  // Whole frames are moved by whole frames: a key that lies between frames on purpose stays between them.
  const frames = key !== null ? key - grabbed : rules.wholeFrames ? Math.round(by.frames) : by.frames;
  return { ...NO_MAP, timeShift: still ? 0 : frames, valueShift: rules.keepValue || straight === "time" ? 0 : by.amount };
}
