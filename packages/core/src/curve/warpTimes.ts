import { type Curve, Tangent } from "./curve.ts";
import { settle } from "./tangents.ts";

/**
 * Keys taken to other times, in the same order; free tangents turn with the stretch of the segment on
 * their side, so that each segment keeps its shape; the outer ones with what becomes of the time beyond. Of keys that fall on one time the last one stays.
 * `to` must never fall.
 */
export function warpTimes(curve: Curve, to: (time: number) => number): Curve {
  const n = curve.times.length;
  const all = curve.times.map(to);
  const kept: number[] = [];
  for (let i = 0; i < n; i++) if (i === n - 1 || all[i + 1] > all[i]) kept.push(i);
  const pick = (column: Float64Array) => Float64Array.from(kept, (i) => column[i]);
  const times = pick(all);
  const slopeIn = pick(curve.slopeIn);
  const slopeOut = pick(curve.slopeOut);
  const kindIn = Uint8Array.from(kept, (i) => curve.kindIn[i]);
  const kindOut = Uint8Array.from(kept, (i) => curve.kindOut[i]);
  for (let k = 0; k < kept.length; k++) {
    const i = kept[k];
    if (kindIn[k] === Tangent.free && k > 0) slopeIn[k] *= (curve.times[i] - curve.times[i - 1]) / (all[i] - times[k - 1]);
    if (kindOut[k] === Tangent.free && k + 1 < kept.length)
      slopeOut[k] *= (curve.times[i + 1] - curve.times[i]) / (times[k + 1] - times[k]);
  }
  const last = kept.length - 1;
  if (kindIn[0] === Tangent.free) slopeIn[0] /= stretchBeyond(curve.times[0], -1, to);
  if (kindOut[last] === Tangent.free) slopeOut[last] /= stretchBeyond(curve.times[n - 1], 1, to);
  return settle({
    ...curve,
    times,
    values: pick(curve.values),
    slopeIn,
    slopeOut,
    weightIn: pick(curve.weightIn),
    weightOut: pick(curve.weightOut),
    kindIn,
    kindOut,
  });
}

/** Far enough for whole frames not to matter. */
const BEYOND = 1e7;

/** How many times longer it takes beyond a time, toward one side; 1 where time stands still. */
function stretchBeyond(time: number, side: 1 | -1, to: (time: number) => number): number {
  return Math.round(((to(time + side * BEYOND) - to(time)) / (side * BEYOND)) * 1e6) / 1e6 || 1;
}
