import { type Curve, linearCurve } from "@kneader/core";

/** A stream of numbers in −1..1 that is the same on every machine (a linear congruential generator). */
function stream(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return (state / 4294967296) * 2 - 1;
  };
}

function seedOf(text: string): number {
  let seed = 2166136261;
  for (const char of text) seed = Math.imul(seed ^ char.charCodeAt(0), 16777619);
  return seed;
}

/** A sampled curve with the small jitter of a capture stage: a slow wander and a shake each frame. */
export function noiseFor(key: string, curve: Curve): Curve {
  const next = stream(seedOf(key));
  const size = key.includes(".move") ? 0.0012 : 0.32;
  let wander = 0;
  const values = curve.values.map((value) => {
    wander = 0.86 * wander + 0.14 * next();
    return value + size * (0.55 * next() + 1.6 * wander);
  });
  return linearCurve({ times: curve.times, thirds: curve.weightIn, kinds: curve.kindIn }, values);
}
