import * as fc from "fast-check";
import { extremesOf, sharedExtremes } from "../../src/curve/extremes.ts";
import { type FitResult, fitSamples } from "../../src/curve/fit/fitSamples.ts";

/** Value of a fit at a time in samples: cubic Hermite from key to key. */
function valueAt(fit: FitResult, curve: number, t: number): number {
  const { at } = fit;
  let i = 0;
  while (i < at.length - 2 && at[i + 1] <= t) i++;
  const h = at[i + 1] - at[i];
  const x = (t - at[i]) / h;
  const v = fit.values[curve];
  return (
    (2 * x ** 3 - 3 * x ** 2 + 1) * v[i] +
    h * (x ** 3 - 2 * x ** 2 + x) * fit.slopesOut[curve][i] +
    (3 * x ** 2 - 2 * x ** 3) * v[i + 1] +
    h * (x ** 3 - x ** 2) * fit.slopesIn[curve][i + 1]
  );
}

const wave = (count: number, make: (i: number) => number) => Float64Array.from({ length: count }, (_, i) => make(i));
const anySamples = fc
  .array(fc.double({ min: -50, max: 50, noNaN: true }), { minLength: 2, maxLength: 60 })
  .map((a) => Float64Array.from(a));

describe.each([true, false])("fitting samples, broken tangents allowed: %p", (broken) => {
  test("never leaves a sample by more than the tolerance, whatever the samples", () => {
    fc.assert(
      fc.property(anySamples, fc.double({ min: 0.01, max: 20, noNaN: true }), (samples, tolerance) => {
        const fit = fitSamples([{ samples, tolerance }], { broken });
        expect(fit.at[0]).toBe(0);
        expect(fit.at.at(-1)).toBe(samples.length - 1);
        samples.forEach((value, i) => {
          expect(Math.abs(valueAt(fit, 0, i) - value)).toBeLessThanOrEqual(tolerance * (1 + 1e-9));
        });
      }),
      { numRuns: 200 },
    );
  });

  test("is calm: half-way between two samples it stays in their range, widened by the tolerance", () => {
    fc.assert(
      fc.property(anySamples, fc.double({ min: 0.1, max: 10, noNaN: true }), (samples, tolerance) => {
        const fit = fitSamples([{ samples, tolerance }], { broken });
        // A span of one frame has no choice; the rule is for the spans that were chosen.
        for (let k = 0; k + 1 < fit.at.length; k++) {
          if (fit.at[k + 1] - fit.at[k] < 2) continue;
          for (let i = fit.at[k]; i < fit.at[k + 1]; i++) {
            const value = valueAt(fit, 0, i + 0.5);
            expect(value).toBeGreaterThanOrEqual(Math.min(samples[i], samples[i + 1]) - tolerance * 1.000001);
            expect(value).toBeLessThanOrEqual(Math.max(samples[i], samples[i + 1]) + tolerance * 1.000001);
          }
        }
      }),
      { numRuns: 200 },
    );
  });

  test("two waves fitted together have keys at the same places, each within its own tolerance", () => {
    const a = wave(120, (i) => 30 * Math.sin(i / 9));
    const b = wave(120, (i) => Math.cos(i / 14));
    const fit = fitSamples(
      [
        { samples: a, tolerance: 0.5 },
        { samples: b, tolerance: 0.01 },
      ],
      { broken },
    );
    for (let i = 0; i < 120; i++) {
      expect(Math.abs(valueAt(fit, 0, i) - a[i])).toBeLessThanOrEqual(0.5);
      expect(Math.abs(valueAt(fit, 1, i) - b[i])).toBeLessThanOrEqual(0.01);
    }
    expect(fit.at.length).toBeLessThan(30);
  });

  test("protected samples have a key", () => {
    const samples = wave(80, (i) => 10 * Math.sin(i / 12));
    const fit = fitSamples([{ samples, tolerance: 2 }], { broken, protect: [19, 57] });
    expect(fit.at).toEqual(expect.arrayContaining([19, 57]));
  });
});

test("unbroken fits have one slope at every inner key", () => {
  const samples = wave(200, (i) => 20 * Math.sin(i / 7) + 5 * Math.sin(i / 2.3));
  const fit = fitSamples([{ samples, tolerance: 0.5 }], { broken: false });
  for (let k = 1; k + 1 < fit.at.length; k++) expect(fit.slopesIn[0][k]).toBe(fit.slopesOut[0][k]);
});

test("one cubic's samples need two keys", () => {
  const samples = wave(40, (i) => 0.001 * i ** 3 - 0.05 * i ** 2 + i);
  expect(fitSamples([{ samples, tolerance: 1e-6 }], { broken: true }).at).toEqual([0, 39]);
});

test("one sample gives one key", () => {
  const fit = fitSamples([{ samples: Float64Array.of(3), tolerance: 1 }], { broken: false });
  expect(fit).toEqual({ at: [0], values: [[3]], slopesIn: [[0]], slopesOut: [[0]] });
});

describe("peaks and valleys", () => {
  test("are those that stand out by more than asked", () => {
    const samples = wave(100, (i) => 10 * Math.sin((i * Math.PI) / 20) + 0.2 * Math.sin(i * 2.1));
    const found = extremesOf(samples, 2);
    expect(found).toHaveLength(5);
    for (const [i, at] of found.entries()) expect(Math.abs(at - (10 + 20 * i))).toBeLessThanOrEqual(3);
  });

  test("a rising line has none", () => {
    expect(
      extremesOf(
        wave(30, (i) => i),
        0.1,
      ),
    ).toEqual([]);
  });
});

describe("peaks of several curves at once", () => {
  const wave = (lag: number, size = 30) => ({
    samples: Float64Array.from({ length: 121 }, (_, i) => size * Math.sin(((i - lag) * 2 * Math.PI) / 60)),
    tolerance: 0.5,
  });

  test("a key on one curve's peak serves another whose peak is as good as there", () => {
    expect(sharedExtremes([wave(0)], 4)).toEqual([15, 45, 75, 105]);
    expect(sharedExtremes([wave(0), wave(1)], 4)).toEqual([15, 45, 75, 105]);
  });

  test("peaks further apart, or of another curve that turns quicker, have keys of their own", () => {
    expect(sharedExtremes([wave(0), wave(10)], 4)).toEqual([15, 25, 45, 55, 75, 85, 105, 115]);
    expect(sharedExtremes([wave(0), wave(3, 300)], 4)).toHaveLength(8);
  });

  test("what does not stand out by so many tolerances is no peak", () => {
    expect(sharedExtremes([wave(0, 0.9)], 4)).toEqual([]);
  });
});

test("a straight way stays straight between frames, also where another curve sets the keys", () => {
  const line = Float64Array.from({ length: 60 }, (_, i) => 0.02 * i);
  const restless = Float64Array.from({ length: 60 }, (_, i) => 10 * Math.sin(i * 1.1) + 6 * Math.cos(i * 2.3));
  const fit = fitSamples(
    [
      { samples: line, tolerance: 0.001 },
      { samples: restless, tolerance: 0.5 },
    ],
    { broken: false },
  );
  expect(fit.at.length).toBeGreaterThan(15);
  for (let t = 0; t <= 59; t += 0.1) expect(Math.abs(valueAt(fit, 0, t) - 0.02 * t)).toBeLessThan(0.001);
  for (const slope of fit.slopesOut[0]) expect(slope).toBeCloseTo(0.02, 3);
});
