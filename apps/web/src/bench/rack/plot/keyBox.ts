import { type ChannelKey, type Curve, type Curves, type KeyMap, keysOn, NO_MAP } from "@kneader/core";
import { xOf } from "../../timeAxis.ts";
import type { CurveAxes } from "../curves/curveView.ts";
import { yOf } from "../curves/valueAxis.ts";
import { type DragRules, snapFrame } from "./dragRules.ts";

/** The box around picked keys: its sides in frames and values. */
export interface KeyBox {
  readonly start: number;
  readonly end: number;
  readonly low: number;
  readonly high: number;
}

/** A side or a corner of the box, by where it stands: "t" top, "b" bottom, "l" left, "r" right. */
export type Grip = "tl" | "t" | "tr" | "l" | "r" | "bl" | "b" | "br";
const GRIPS: readonly Grip[] = ["tl", "tr", "bl", "br", "t", "b", "l", "r"];

/** The box stands off from its keys, so that keys and sides can both be grabbed. */
const MARGIN = 12;
const REACH = 6;

type Picks = Readonly<Record<ChannelKey, readonly number[]>>;

/** The box around picked keys of the curves drawn, or null for fewer than two keys. */
export function boxOf(curves: readonly { key: ChannelKey; curve: Curve }[], picked: Picks): KeyBox | null {
  const places = placesOfPicked(Object.fromEntries(curves.map(({ key, curve }) => [key, curve])), picked);
  return places && places.count > 1 ? places.box : null;
}

/** The box around all picked keys and their number, or null when there is none. */
export function placesOfPicked(curves: Curves, picked: Picks): { box: KeyBox; count: number } | null {
  let count = 0;
  let [start, end, low, high] = [Infinity, -Infinity, Infinity, -Infinity];
  for (const [key, times] of Object.entries(picked)) {
    const curve = curves[key];
    if (!curve) continue;
    const indices = keysOn(curve, times);
    for (const i of indices) {
      const time = curve.times[i];
      count++;
      const value = curve.values[i];
      if (time < start) start = time;
      if (time > end) end = time;
      if (value < low) low = value;
      if (value > high) high = value;
    }
  }
  return count === 0 ? null : { box: { start, end, low, high }, count };
}

/** The box in pixels, with its margin. */
export function boxPlace(box: KeyBox, axes: CurveAxes): { left: number; top: number; right: number; bottom: number } {
  return {
    left: xOf(axes, box.start) - MARGIN,
    right: xOf(axes, box.end) + MARGIN,
    top: yOf(axes, box.high) - MARGIN,
    bottom: yOf(axes, box.low) + MARGIN,
  };
}

/** Where a grip stands, in pixels. */
export function gripPlace(box: KeyBox, grip: Grip, axes: CurveAxes): { x: number; y: number } {
  const { left, right, top, bottom } = boxPlace(box, axes);
  return {
    x: grip.includes("l") ? left : grip.includes("r") ? right : (left + right) / 2,
    y: grip.includes("t") ? top : grip.includes("b") ? bottom : (top + bottom) / 2,
  };
}

/** The grips that can do something: a box without height has no sides to scale values with, and so on. */
export function gripsOf(box: KeyBox): readonly Grip[] {
  const [wide, tall] = [box.end > box.start, box.high > box.low];
  return GRIPS.filter((grip) => (wide || !/[lr]/.test(grip)) && (tall || !/[tb]/.test(grip)));
}

/** What a press takes hold of: a grip, the whole side it lies on, the inside, or nothing. */
export function gripAt(box: KeyBox, x: number, y: number, axes: CurveAxes): Grip | "inside" | null {
  const grips = gripsOf(box);
  for (const grip of grips) {
    const place = gripPlace(box, grip, axes);
    if (Math.hypot(place.x - x, place.y - y) <= REACH + 1) return grip;
  }
  const { left, right, top, bottom } = boxPlace(box, axes);
  if (x < left - REACH || x > right + REACH || y < top - REACH || y > bottom + REACH) return null;
  const sides: [Grip, number][] = [
    ["l", Math.abs(x - left)],
    ["r", Math.abs(x - right)],
    ["t", Math.abs(y - top)],
    ["b", Math.abs(y - bottom)],
  ];
  const near = sides.filter(([grip, off]) => off <= REACH && grips.includes(grip)).sort((a, b) => a[1] - b[1])[0];
  if (near) return near[0];
  return x >= left && x <= right && y >= top && y <= bottom ? "inside" : null;
}

/** The least a box may be squeezed to in time, frames. */
const LEAST = 1e-2;

/** Keys taken from one box to another. A side without length has nothing to scale and only moves. */
export function boxMap(from: KeyBox, to: KeyBox, wholeFrames: boolean): KeyMap {
  const span = from.end - from.start;
  const rise = from.high - from.low;
  const least = wholeFrames ? 1 : LEAST;
  const timeScale = span > 0 ? Math.max(least, to.end - to.start) / span : 1;
  const valueScale = rise > 0 ? (to.high - to.low) / rise : 1;
  // The side that stays put is the one the caller left where it was.
  const timeShift = to.start === from.start || span === 0 ? to.start - from.start * timeScale : to.end - from.end * timeScale;
  return {
    timeScale,
    timeShift,
    valueScale,
    valueShift: to.low - from.low * valueScale,
    wholeFrames: wholeFrames && (timeScale !== 1 || !Number.isInteger(timeShift)),
  };
}

/**
 * The map of a drag of one grip. The opposite side stays, or with `middle` the middle does; `keys` are
 * the frames the side may snap to.
 */
export function gripMap(
  box: KeyBox,
  grip: Grip | "inside",
  by: { frames: number; amount: number },
  rules: DragRules,
  middle: boolean,
  keys: Float64Array,
  reach: number,
): KeyMap {
  if (grip === "inside") return NO_MAP;
  const to = { ...box };
  const least = rules.wholeFrames ? 1 : LEAST;
  if (!rules.keepTime && /[lr]/.test(grip)) {
    const side = grip.includes("r") ? box.end : box.start;
    const off = snapFrame(side + by.frames, rules, keys, reach) - side;
    const sign = grip.includes("r") ? 1 : -1;
    const room = (box.end - box.start - least) / (middle ? 2 : 1);
    const grown = Math.max(-room, off * sign);
    if (sign > 0 || middle) to.end = box.end + grown;
    if (sign < 0 || middle) to.start = box.start - grown;
  }
  if (!rules.keepValue && /[tb]/.test(grip)) {
    const grown = by.amount * (grip.includes("t") ? 1 : -1);
    if (grip.includes("t") || middle) to.high = box.high + grown;
    if (grip.includes("b") || middle) to.low = box.low - grown;
  }
  return boxMap(box, to, rules.wholeFrames);
}
