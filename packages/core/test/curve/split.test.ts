import { keyOn, Tangent } from "../../src/curve/curve.ts";
import { insertKeysOn } from "../../src/curve/edit.ts";
import { curveFromKeys } from "../../src/curve/make.ts";
import { sampleCurve } from "../../src/curve/track.ts";
import { Chance } from "../help/chance.ts";

const steep = (time: number, value: number, slope: number, weight: number) => ({
  time,
  value,
  slopeIn: slope,
  slopeOut: slope,
  weightIn: weight,
  weightOut: weight,
  kindIn: Tangent.free,
  kindOut: Tangent.free,
});

/** Keys put on a curve of two: none is left out, none has a longer handle than its span, and how far values are off. */
function put(out: number, into: number, slope: number, times: number[]) {
  const curve = curveFromKeys([steep(0, 0, slope, out), steep(10, 100, slope, into)]);
  const more = insertKeysOn(curve, times);
  for (const time of times) expect(keyOn(more, time)).toBeGreaterThan(0);
  for (const weights of [more.weightIn, more.weightOut]) expect(Math.max(...weights)).toBeLessThanOrEqual(1);
  let off = 0;
  for (let t = 0; t <= 10; t += 0.0137) {
    // Where the curve is all but upright a hair in time is much in value.
    const rise = Math.abs(sampleCurve(curve, t + 1e-6) - sampleCurve(curve, t - 1e-6));
    if (rise < 1e-3) off = Math.max(off, Math.abs(sampleCurve(more, t) - sampleCurve(curve, t)));
  }
  return { off, beside: more.times.length - 2 - times.length };
}

describe("keys put between long handles", () => {
  test("leave every value as it was, with one key more where a handle would reach beyond a new one", () => {
    for (const [out, into] of [
      [0.95, 0.95],
      [1, 0.9],
      [0.82, 1],
      [0.9, 0.85],
    ])
      for (const times of [[2], [3], [5], [7.37], [9.9], [1, 2, 3, 4, 5, 6, 7, 8, 9], [6, 8], [2.5, 4.9999999]]) {
        const { off, beside } = put(out, into, 3, times);
        expect(off).toBeLessThan(1e-6);
        expect(beside).toBeLessThanOrEqual(1);
      }
  });

  test("the same by chance; shorter handles get no key beside those asked for", () => {
    for (let n = 0; n < 300; n++) {
      const chance = new Chance(n);
      const [out, into] = [chance.between(0.05, 1), chance.between(0.05, 1)];
      const times = Array.from({ length: 1 + (n % 4) }, () => Math.round(chance.between(0.1, 9.9) * 50) / 50).sort((a, b) => a - b);
      const { off, beside } = put(out, into, chance.between(-20, 20), [...new Set(times)]);
      expect(off).toBeLessThan(1e-6);
      if (times.length === 1 && Math.max(out, into) < 0.8) expect(beside).toBe(0);
    }
  });
});
