import { type Curve, Tangent } from "./curve.ts";
import { someKeys } from "./someKeys.ts";
import { settle } from "./tangents.ts";

/**
 * Keys taken to other times, in the same order; free tangents turn with the stretch of the segment on
 * their side, so that each segment keeps its shape; the outer ones with what becomes of the time beyond. Of keys that fall on one time the last one stays.
 * `to` must never fall.
 */
export function warpTimes(curve: Curve, to: (time: number) => number): Curve {
  const n = curve.times.length;
  const all = new Float64Array(n);
  for (let i = 0; i < n; i++) all[i] = to(curve.times[i]);
  let count = 0;
  const kept = new Int32Array(n);
  for (let i = 0; i < n; i++) if (i === n - 1 || all[i + 1] > all[i]) kept[count++] = i;
  const warped = someKeys({ ...curve, times: all }, kept.subarray(0, count));
  const { times, slopeIn, slopeOut, kindIn, kindOut } = warped;
  for (let k = 0; k < count; k++) {
    const i = kept[k];
    if (kindIn[k] === Tangent.free && k > 0) slopeIn[k] *= (curve.times[i] - curve.times[i - 1]) / (all[i] - times[k - 1]);
    if (kindOut[k] === Tangent.free && k + 1 < count) slopeOut[k] *= (curve.times[i + 1] - curve.times[i]) / (times[k + 1] - times[k]);
  }
  const last = count - 1;
  if (kindIn[0] === Tangent.free) slopeIn[0] /= stretchBeyond(curve.times[0], -1, to);
  if (kindOut[last] === Tangent.free) slopeOut[last] /= stretchBeyond(curve.times[n - 1], 1, to);
  return settle(warped);
}

/** Far enough for whole frames not to matter. */
const BEYOND = 1e7;

/** How many times longer it takes beyond a time, toward one side; 1 where time stands still. */
function stretchBeyond(time: number, side: 1 | -1, to: (time: number) => number): number {
  return Math.round(((to(time + side * BEYOND) - to(time)) / (side * BEYOND)) * 1e6) / 1e6 || 1;
}
