import { type Curve, Tangent, THIRD } from "./curve.ts";

/**
 * Slope of an auto tangent: the monotone rule of Fritsch & Carlson (1980) in the weighted harmonic
 * mean form of Fritsch & Butland (1984). It never leaves the range of the two neighbouring values.
 * `h` are the lengths of the segments before and after, `d` their chord slopes.
 */
export function autoSlope(h0: number, d0: number, h1: number, d1: number): number {
  if (d0 * d1 <= 0) return 0;
  const w1 = 2 * h1 + h0;
  const w2 = h1 + 2 * h0;
  return (w1 + w2) / (w1 / d0 + w2 / d1);
}

/** One-sided three-point slope at an end key, limited so that it keeps the shape. */
export function autoEndSlope(h0: number, d0: number, h1: number, d1: number): number {
  const slope = ((2 * h0 + h1) * d0 - h0 * d1) / (h0 + h1);
  if (slope * d0 <= 0) return 0;
  if (d0 * d1 <= 0 && Math.abs(slope) > 3 * Math.abs(d0)) return 3 * d0;
  return slope;
}

type Columns = Omit<Curve, "runIn" | "runOut">;

/** The slope of the straight line of each segment. */
function chordsOf({ times, values }: Columns): Float64Array {
  const chords = new Float64Array(Math.max(0, times.length - 1));
  for (let i = 0; i < chords.length; i++) chords[i] = (values[i + 1] - values[i]) / (times[i + 1] - times[i]);
  return chords;
}

function slopeFor(c: Columns, chords: Float64Array, i: number, side: "in" | "out"): number {
  const n = c.times.length;
  const kind = side === "in" ? c.kindIn[i] : c.kindOut[i];
  if (kind === Tangent.free) return side === "in" ? c.slopeIn[i] : c.slopeOut[i];
  if (kind === Tangent.flat || kind === Tangent.stepped || n < 2) return 0;
  if (kind === Tangent.linear) return chords[side === "in" ? Math.max(0, i - 1) : Math.min(n - 2, i)];
  if (kind === Tangent.smooth) {
    if (i === 0) return chords[0];
    if (i === n - 1) return chords[n - 2];
    return (c.values[i + 1] - c.values[i - 1]) / (c.times[i + 1] - c.times[i - 1]);
  }
  if (n === 2) return chords[0];
  const h = (k: number) => c.times[k + 1] - c.times[k];
  if (i === 0) return autoEndSlope(h(0), chords[0], h(1), chords[1]);
  if (i === n - 1) return autoEndSlope(h(n - 2), chords[n - 2], h(n - 3), chords[n - 3]);
  return autoSlope(h(i - 1), chords[i - 1], h(i), chords[i]);
}

/** Slopes before and after each key of straight lines: a key's slope on one side is its neighbour's on the other, so both look at one row. */
export function linearSlopes(times: Float64Array, values: Float64Array): { slopeIn: Float64Array; slopeOut: Float64Array } {
  const n = times.length;
  const slopes = new Float64Array(n + 1);
  for (let i = 1; i < n; i++) slopes[i] = (values[i] - values[i - 1]) / (times[i] - times[i - 1]);
  if (n > 1) {
    slopes[0] = slopes[1];
    slopes[n] = slopes[n - 1];
  }
  return { slopeIn: slopes.subarray(0, n), slopeOut: slopes.subarray(1) };
}

function isAll(kinds: Uint8Array, kind: number): boolean {
  for (const one of kinds) if (one !== kind) return false;
  return true;
}

/**
 * Work out the slopes of every tangent that is not free, from times, values and kinds.
 * Auto tangents get handles of a third, at which they cannot overshoot.
 */
export function settle(curve: Curve): Curve {
  const n = curve.times.length;
  // Captured curves, the long ones, are straight from key to key.
  if (isAll(curve.kindIn, Tangent.linear) && isAll(curve.kindOut, Tangent.linear))
    return { ...curve, ...linearSlopes(curve.times, curve.values) };
  const chords = chordsOf(curve);
  const slopeIn = new Float64Array(n);
  const slopeOut = new Float64Array(n);
  let weightIn = curve.weightIn;
  let weightOut = curve.weightOut;
  for (let i = 0; i < n; i++) {
    // Straight in a row of straight keys: most of what a captured curve has that was opened somewhere.
    if (i > 0 && i < n - 1 && curve.kindIn[i] === Tangent.linear && curve.kindOut[i] === Tangent.linear) {
      slopeIn[i] = chords[i - 1];
      slopeOut[i] = chords[i];
      continue;
    }
    slopeIn[i] = slopeFor(curve, chords, i, "in");
    slopeOut[i] =
      curve.kindOut[i] === curve.kindIn[i] && curve.kindIn[i] !== Tangent.free && curve.kindIn[i] !== Tangent.linear
        ? slopeIn[i]
        : slopeFor(curve, chords, i, "out");
    if (curve.kindIn[i] === Tangent.auto && weightIn[i] !== THIRD) {
      if (weightIn === curve.weightIn) weightIn = curve.weightIn.slice();
      weightIn[i] = THIRD;
    }
    if (curve.kindOut[i] === Tangent.auto && weightOut[i] !== THIRD) {
      if (weightOut === curve.weightOut) weightOut = curve.weightOut.slice();
      weightOut[i] = THIRD;
    }
  }
  return { ...curve, slopeIn, slopeOut, weightIn, weightOut };
}
