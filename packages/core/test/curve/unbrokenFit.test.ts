import { readFileSync } from "node:fs";
import { join } from "node:path";
import * as fc from "fast-check";
import { unbrokenFit, type UnbrokenFit, type UnbrokenInput } from "../../src/curve/fit/unbroken/unbrokenFit.ts";
import { Chance } from "../help/chance.ts";

function fitted(inputs: readonly UnbrokenInput[], stops: readonly number[] = []): UnbrokenFit | null {
  const steps = unbrokenFit(inputs, stops);
  let step = steps.next();
  while (!step.done) step = steps.next();
  return step.value;
}

/** The curve at a time, by de Casteljau's halving of its Bézier points: nothing the fit itself uses. */
function valueAt({ at }: UnbrokenFit, values: readonly number[], slopes: readonly number[], time: number): number {
  let k = 0;
  while (k < at.length - 2 && at[k + 1] <= time) k++;
  const h = at[k + 1] - at[k];
  const x = (time - at[k]) / h;
  let points = [values[k], values[k] + (slopes[k] * h) / 3, values[k + 1] - (slopes[k + 1] * h) / 3, values[k + 1]];
  while (points.length > 1) points = points.slice(1).map((to, i) => points[i] + x * (to - points[i]));
  return points[0];
}

/** How far past what is allowed a fit is at its worst, in tolerances: at frames, and half-way between them. */
function past(fit: UnbrokenFit, inputs: readonly UnbrokenInput[]): number {
  let worst = 0;
  for (const [i, { samples, tolerance }] of inputs.entries()) {
    const value = (time: number) => valueAt(fit, fit.values[i], fit.slopes[i], time);
    for (let k = 0; k < samples.length; k++) {
      worst = Math.max(worst, Math.abs(value(k) - samples[k]) / tolerance);
      if (k + 1 === samples.length) continue;
      const [low, high] = [Math.min(samples[k], samples[k + 1]), Math.max(samples[k], samples[k + 1])];
      const half = value(k + 0.5);
      worst = Math.max(worst, (half - high) / tolerance, (low - half) / tolerance);
    }
  }
  return worst;
}

/** Curves of many kinds: walks, trembling swings, jumps, long rests. */
function someCurve(chance: Chance, count: number): Float64Array {
  const kind = chance.of(["walk", "swing", "jumps", "rests"] as const);
  let value = chance.between(-50, 50);
  let speed = 0;
  return Float64Array.from({ length: count }, (_, k) => {
    if (kind === "walk") value += speed = 0.9 * speed + chance.between(-1, 1);
    if (kind === "swing") return 30 * Math.sin(k / 7) + chance.between(-0.4, 0.4);
    if (kind === "jumps" && chance.next() < 0.06) value += chance.between(-40, 40);
    if (kind === "rests" && k % 90 < 25) value += chance.between(-2, 2);
    return value;
  });
}

describe("unbroken fits", () => {
  test("against the fewest keys there can be (SciPy's linprog over every choice of keys): never fewer, seldom one more", () => {
    const { cases } = JSON.parse(readFileSync(join(__dirname, "../../../../reference/unbroken.json"), "utf8")) as {
      cases: { kind: string; samples: number[]; tolerance: number; least: number }[];
    };
    let more = 0;
    for (const { samples, tolerance, least } of cases) {
      const input = { samples: Float64Array.from(samples), tolerance };
      const fit = fitted([input]) as UnbrokenFit;
      expect(past(fit, [input])).toBeLessThanOrEqual(1 + 1e-9);
      expect(fit.at.length).toBeGreaterThanOrEqual(least);
      expect(fit.at.length).toBeLessThanOrEqual(least + 1);
      more += fit.at.length - least;
    }
    expect(cases).toHaveLength(24);
    expect(more).toBeLessThanOrEqual(8);
  });

  test("stay within the tolerance and calm, alone and together, with keys wherever they must be, whatever the curves", () => {
    for (let seed = 1; seed <= 60; seed++) {
      const chance = new Chance(seed);
      const count = chance.of([2, 3, 7, 60, 400, 900]);
      const inputs = Array.from({ length: chance.of([1, 1, 3, 6]) }, () => ({
        samples: someCurve(chance, count),
        tolerance: chance.of([0.05, 0.5, 3]),
      }));
      const stops = [Math.floor(count / 3), Math.floor(count / 2)].filter((stop) => stop > 0 && stop < count - 1);
      const fit = fitted(inputs, chance.next() < 0.5 ? stops : []);
      if (fit === null) throw new Error(`seed ${seed} was refused`);
      expect(past(fit, inputs)).toBeLessThanOrEqual(1 + 1e-9);
      expect([fit.at[0], fit.at.at(-1)]).toEqual([0, count - 1]);
      for (const [i, { samples }] of inputs.entries()) expect(fit.values[i][0]).toBe(samples[0]);
    }
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: -50, max: 50, noNaN: true }), { minLength: 2, maxLength: 60 }),
        fc.double({ min: 0.01, max: 20, noNaN: true }),
        (values, tolerance) => {
          const input = { samples: Float64Array.from(values), tolerance };
          const fit = fitted([input]);
          return fit !== null && past(fit, [input]) <= 1 + 1e-9;
        },
      ),
      { numRuns: 200, seed: 3 },
    );
  });

  test("between keys that must be, where two spans do, the key stands in the middle, or right after it", () => {
    const swing = (size: number) => Float64Array.from({ length: 61 }, (_, k) => size * Math.sin((2 * Math.PI * k) / 20));
    const keys = (size: number, stops: readonly number[]) => fitted([{ samples: swing(size), tolerance: 1 }], stops)?.at;
    expect(keys(4, [20, 40])).toEqual([0, 20, 40, 60]);
    expect(keys(8, [20, 40])).toEqual([0, 10, 20, 30, 40, 50, 60]);
    expect(keys(12, [21, 40])).toEqual([0, 11, 21, 31, 40, 50, 60]);
  });

  test("keep the last value, and one slope at both ends of a cycle, where they must; the rest as ever", () => {
    for (let seed = 1; seed <= 20; seed++) {
      const chance = new Chance(seed);
      const round = chance.of([24, 90]);
      const samples = Float64Array.from(
        { length: round + 1 },
        (_, k) => 20 * Math.sin((2 * Math.PI * k) / round + seed) + (k === 0 || k === round ? 0 : chance.between(-0.1, 0.1)),
      );
      samples[round] = samples[0];
      const endSlope = 20 * ((2 * Math.PI) / round) * Math.cos(seed);
      const input = { samples, tolerance: 0.5, keepsEnd: true, endSlope };
      const fit = fitted([input]) as UnbrokenFit;
      expect(past(fit, [input])).toBeLessThanOrEqual(1 + 1e-9);
      expect(fit.values[0].at(-1)).toBe(fit.values[0][0]);
      expect([fit.slopes[0][0], fit.slopes[0].at(-1)]).toEqual([endSlope, endSlope]);
      expect(fit.at.length).toBeLessThan(14);
      const kept = fitted([{ samples: samples.subarray(0, round - 3), tolerance: 0.5, keepsEnd: true }]) as UnbrokenFit;
      expect(kept.values[0].at(-1)).toBe(samples[round - 4]);
    }
  });

  test("numbers that are too coarse for it are refused, not fitted wrongly", () => {
    const samples = Float64Array.from({ length: 30 }, (_, k) => (k % 2) * 1e9);
    expect(fitted([{ samples, tolerance: 0.5 }])).toBeNull();
    expect(fitted([{ samples: samples.map((value) => value / 1e9), tolerance: 0 }])).toBeNull();
  });
});
