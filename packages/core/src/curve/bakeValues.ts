import { type Curve, type Key, makeKey, Tangent } from "./curve.ts";
import { constantCurve, curveFromKeys, linearCurve, linearFrame } from "./make.ts";

/** Samples at whole frames from `start` as a curve with a linear key a frame; one key when they never change. */
export function curveFromSamples(start: number, samples: Float64Array): Curve {
  if (samples.every((value) => value === samples[0])) return constantCurve(samples[0], start);
  return linearCurve(linearFrame(Float64Array.from(samples, (_, i) => start + i)), samples);
}

/**
 * Samples at whole frames from `start` as a curve that holds where the motion does: where the value
 * half-way to the next frame (`halfway`) is that of the frame, the key is stepped, and a held value is keyed
 * once; elsewhere there is a linear key a frame.
 */
export function steppedFromSamples(start: number, samples: Float64Array, halfway: Float64Array): Curve {
  if (samples.every((value, n) => value === samples[0] && halfway[n] === samples[0])) return constantCurve(samples[0], start);
  const keys: Key[] = [];
  for (let n = 0; n < samples.length; n++) {
    const held = halfway[n] === samples[n];
    if (n > 0 && held && halfway[n - 1] === samples[n - 1] && samples[n] === samples[n - 1]) continue;
    keys.push(makeKey(start + n, samples[n], held ? Tangent.stepped : Tangent.linear));
  }
  return curveFromKeys(keys);
}
