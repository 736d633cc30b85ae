import type { Curve } from "../curve/curve.ts";
import { constantCurve, linearCurve, linearFrame } from "../curve/make.ts";

/** Samples at whole frames from `start` as a curve with a linear key a frame; one key when they never change. */
export function curveFromSamples(start: number, samples: Float64Array): Curve {
  if (samples.every((value) => value === samples[0])) return constantCurve(samples[0], start);
  return linearCurve(linearFrame(Float64Array.from(samples, (_, i) => start + i)), samples);
}
