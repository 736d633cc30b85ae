import { type ChannelKey, type Curve, sampleCurve, sampleInto, splitChannelKey, Tangent } from "@kneader/core";
import { frameAt, xOf } from "../../timeAxis.ts";
import { valueAt, yOf } from "./valueAxis.ts";

/** What the curve tray draws, worked out without a canvas. */
export interface CurveAxes {
  start: number;
  end: number;
  width: number;
  low: number;
  high: number;
  height: number;
}

/** The mark of a key: the shape tells the kind of tangent. */
export const keyMarks = ["auto", "smooth", "flat", "linear", "stepped", "free", "broken"] as const;
export type KeyMark = (typeof keyMarks)[number];

/** The mark of a key by its place in `keyMarks`. */
export function markIndexOf(curve: Curve, i: number): number {
  const kindIn = curve.kindIn[i];
  const kindOut = curve.kindOut[i];
  if (kindOut === Tangent.stepped || kindIn === Tangent.stepped) return STEPPED;
  if (kindIn !== kindOut || (kindIn === Tangent.free && curve.slopeIn[i] !== curve.slopeOut[i])) return BROKEN;
  // The other marks stand in the order of the kinds.
  return kindIn;
}

const STEPPED = keyMarks.indexOf("stepped");
const BROKEN = keyMarks.indexOf("broken");

export function markOf(curve: Curve, i: number): KeyMark {
  return keyMarks[markIndexOf(curve, i)];
}

/** Which of X, Y, Z a channel belongs to, for colour and dash; other channels count as X. */
export function axisLetter(key: ChannelKey): "x" | "y" | "z" {
  const last = splitChannelKey(key).channel.slice(-1).toLowerCase();
  return last === "y" || last === "z" ? last : "x";
}

export const dashes: Record<"x" | "y" | "z", number[]> = { x: [], y: [7, 3], z: [2, 3] };

/**
 * The curve as points (x, y, x, y …) in pixels. Where keys are denser than pixels, each pixel column is
 * drawn from its lowest to its highest value, so that cost follows pixels and not keys.
 */
export function curvePoints(curve: Curve, axes: CurveAxes, step = 2): Float64Array {
  const count = Math.max(2, Math.ceil(axes.width / step) + 1);
  const perPoint = ((axes.end - axes.start) / axes.width) * step;
  const { times } = curve;
  const span = times[times.length - 1] - times[0];
  const crowded = times.length > 1 && times.length / span > 0.9 / perPoint && perPoint > 1.5;
  if (!crowded) {
    const values = sampleInto(curve, axes.start, perPoint, new Float64Array(count));
    const points = new Float64Array(count * 2);
    for (let i = 0; i < count; i++) {
      points[2 * i] = i * step;
      points[2 * i + 1] = yOf(axes, values[i]);
    }
    return points;
  }
  const points = new Float64Array(count * 4);
  let k = 0;
  for (let i = 0; i < count; i++) {
    const from = axes.start + i * perPoint;
    let low = sampleCurve(curve, from);
    let high = low;
    while (k < times.length && times[k] < from) k++;
    while (k < times.length && times[k] < from + perPoint) {
      const value = curve.values[k++];
      if (value < low) low = value;
      if (value > high) high = value;
    }
    points.set([i * step, yOf(axes, low), i * step, yOf(axes, high)], 4 * i);
  }
  return points;
}

/** Indices of the keys that are in sight and their mean distance in pixels; null when they stand too close to be told apart. */
export function keysInSight(curve: Curve, axes: CurveAxes, closest = 3): { from: number; to: number; spacing: number } | null {
  const { times } = curve;
  const low = lowerBound(times, axes.start - 1);
  const high = lowerBound(times, axes.end + 1);
  const pixels = high - low > 1 ? ((times[high - 1] - times[low]) / (axes.end - axes.start)) * axes.width : Number.POSITIVE_INFINITY;
  const spacing = pixels / (high - low);
  return spacing < closest ? null : { from: low, to: high, spacing };
}

function lowerBound(times: Float64Array, time: number): number {
  let low = 0;
  let high = times.length;
  while (low < high) {
    const middle = (low + high) >>> 1;
    if (times[middle] < time) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** Where the end of a key's handle stands, in pixels, or null where the side has none. */
export function handlePlace(curve: Curve, i: number, side: "in" | "out", axes: CurveAxes): { x: number; y: number } | null {
  const other = side === "in" ? i - 1 : i + 1;
  if (other < 0 || other >= curve.times.length) return null;
  const span = Math.abs(curve.times[other] - curve.times[i]);
  const weight = side === "in" ? curve.weightIn[i] : curve.weightOut[i];
  const slope = side === "in" ? curve.slopeIn[i] : curve.slopeOut[i];
  if ((side === "out" ? curve.kindOut[i] : curve.kindOut[other]) === Tangent.stepped) return null;
  const frames = span * weight * (side === "in" ? -1 : 1);
  return { x: xOf(axes, curve.times[i] + frames), y: yOf(axes, curve.values[i] + slope * frames) };
}

/** The handle that a pixel stands for: slope and weight. */
export function handleAt(
  curve: Curve,
  i: number,
  side: "in" | "out",
  x: number,
  y: number,
  axes: CurveAxes,
): { slope: number; weight: number } {
  const other = side === "in" ? i - 1 : i + 1;
  const span = Math.abs(curve.times[other] - curve.times[i]);
  const sign = side === "in" ? -1 : 1;
  const frames = Math.max(span * 0.02, sign * (frameAt(axes, x) - curve.times[i]));
  const rise = valueAt(axes, y) - curve.values[i];
  return { slope: (sign * rise) / frames, weight: Math.min(1, frames / span) };
}

export interface KeyHit {
  readonly key: ChannelKey;
  readonly index: number;
}

/** The key nearest to a pixel within a reach, found by each curve's index in time. */
export function hitKey(
  curves: readonly { key: ChannelKey; curve: Curve }[],
  x: number,
  y: number,
  axes: CurveAxes,
  within = 8,
): KeyHit | null {
  let best: KeyHit | null = null;
  let distance = within;
  for (const { key, curve } of curves) {
    const sight = keysInSight(curve, axes);
    if (!sight) continue;
    const from = lowerBound(curve.times, frameAt(axes, x - within));
    const to = lowerBound(curve.times, frameAt(axes, x + within) + 1e-9);
    for (let i = from; i < Math.min(to + 1, curve.times.length); i++) {
      const d = Math.hypot(xOf(axes, curve.times[i]) - x, yOf(axes, curve.values[i]) - y);
      if (d < distance) {
        distance = d;
        best = { key, index: i };
      }
    }
  }
  return best;
}

/** Times of keys inside a box of pixels, by channel. */
export function keysInBox(
  curves: readonly { key: ChannelKey; curve: Curve }[],
  box: { x0: number; y0: number; x1: number; y1: number },
  axes: CurveAxes,
): Record<ChannelKey, readonly number[]> {
  const [left, right] = [Math.min(box.x0, box.x1), Math.max(box.x0, box.x1)];
  const [top, bottom] = [Math.min(box.y0, box.y1), Math.max(box.y0, box.y1)];
  const picked: Record<ChannelKey, readonly number[]> = {};
  // Curves that share their times and lie in the box as a whole share one list as well.
  const whole = new Map<Float64Array, number[]>();
  for (const { key, curve } of curves) {
    const from = lowerBound(curve.times, frameAt(axes, left));
    const to = lowerBound(curve.times, frameAt(axes, right));
    let times: number[] = [];
    for (let i = from; i < to; i++) {
      const y = yOf(axes, curve.values[i]);
      if (y >= top && y <= bottom) times.push(curve.times[i]);
    }
    if (times.length === to - from) {
      times = whole.get(curve.times) ?? times;
      whole.set(curve.times, times);
    }
    if (times.length > 0) picked[key] = times;
  }
  return picked;
}

/** The range of values of some curves over a span of frames, with a margin; for fitting. */
export function valueRange(curves: readonly Curve[], start: number, end: number): { low: number; high: number } {
  let low = Number.POSITIVE_INFINITY;
  let high = Number.NEGATIVE_INFINITY;
  const samples = new Float64Array(120);
  for (const curve of curves) {
    sampleInto(curve, start, Math.max(1e-6, (end - start) / (samples.length - 1)), samples);
    for (const value of samples) {
      if (value < low) low = value;
      if (value > high) high = value;
    }
  }
  if (low > high) return { low: -1, high: 1 };
  // A level curve is shown amid some room, not as if the last digit mattered.
  if (high - low < 1e-9) return { low: low - 1, high: high + 1 };
  const margin = Math.max((high - low) * 0.14, Math.abs(high) * 1e-3, 1e-4);
  return { low: low - margin, high: high + margin };
}
