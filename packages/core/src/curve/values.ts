import { type Curve, Tangent } from "./curve.ts";
import { settle } from "./tangents.ts";
import { sampleInto } from "./track.ts";

/**
 * Give some keys new values. Where a tangent is free and both the key and its neighbours are scaled alike,
 * `slope` says by how much its slopes change (1 leaves them).
 */
export function withValues(curve: Curve, keys: readonly number[], value: (i: number) => number, slope = 1): Curve {
  const values = curve.values.slice();
  const slopeIn = slope === 1 ? curve.slopeIn : curve.slopeIn.slice();
  const slopeOut = slope === 1 ? curve.slopeOut : curve.slopeOut.slice();
  let differs = false;
  for (const i of keys) {
    const next = value(i);
    if (next !== values[i]) differs = true;
    values[i] = next;
    if (slope === 1) continue;
    if (curve.kindIn[i] === Tangent.free) slopeIn[i] *= slope;
    if (curve.kindOut[i] === Tangent.free) slopeOut[i] *= slope;
    if (slopeIn[i] !== curve.slopeIn[i] || slopeOut[i] !== curve.slopeOut[i]) differs = true;
  }
  return differs ? settle({ ...curve, values, slopeIn, slopeOut }) : curve;
}

/** The whole frames from a curve's first key to its last, and its values there. */
export function wholeFrames(curve: Curve): { start: number; samples: Float64Array } {
  const start = Math.ceil(curve.times[0]);
  const end = Math.floor(curve.times[curve.times.length - 1]);
  return { start, samples: sampleInto(curve, start, 1, new Float64Array(Math.max(0, end - start + 1))) };
}

/** A value between samples at whole frames, held at the ends. */
export function sampleAt(samples: Float64Array, place: number): number {
  const x = Math.min(samples.length - 1, Math.max(0, place));
  const i = Math.min(samples.length - 2, Math.floor(x));
  if (i < 0) return samples[0];
  if (i === x) return samples[i];
  return samples[i] + (samples[i + 1] - samples[i]) * (x - i);
}
