import type { Curve } from "../../curve/curve.ts";
import { savitzkyGolay } from "../../curve/filter/savitzkyGolay.ts";
import { sampleInto } from "../../curve/track.ts";

/** Frames to either side of a key that are looked at, and the polynomial that is taken for the motion there. */
const HALF = 3;
const DEGREE = 3;
/** A curve trembles where it is off that motion by more than this share of the tolerance (root of the mean square). */
const SHARE = 0.25;

/** How many of the keys that are left stand where the curve before trembles by more than a quarter of the tolerance. */
export function tremblingKeys(before: Curve, after: Curve, tolerance: number): number {
  const start = Math.ceil(before.times[0]);
  const end = Math.floor(before.times[before.times.length - 1]);
  if (end - start < 2 * HALF) return 0;
  const samples = sampleInto(before, start, 1, new Float64Array(end - start + 1));
  const motion = savitzkyGolay(samples, HALF, DEGREE);
  const limit = SHARE * tolerance * SHARE * tolerance;
  let count = 0;
  for (const time of after.times) {
    const at = Math.round(time) - start;
    const from = Math.max(0, at - HALF);
    const to = Math.min(samples.length - 1, at + HALF);
    let sum = 0;
    for (let k = from; k <= to; k++) sum += (samples[k] - motion[k]) ** 2;
    if (to >= from && sum > limit * (to - from + 1)) count++;
  }
  return count;
}
