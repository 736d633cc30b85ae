import * as fc from "fast-check";
import reference from "../../../../reference/filters.json";
import { butterworth } from "../../src/curve/filter/butterworth.ts";
import { despike } from "../../src/curve/filter/despike.ts";
import { gaussian } from "../../src/curve/filter/gaussian.ts";
import { savitzkyGolay } from "../../src/curve/filter/savitzkyGolay.ts";

const samples = Float64Array.from(reference.samples);
const worst = (a: Float64Array, b: readonly number[]) => Math.max(...b.map((value, i) => Math.abs(value - a[i])));
const anySamples = fc
  .array(fc.double({ min: -100, max: 100, noNaN: true }), { minLength: 1, maxLength: 60 })
  .map((a) => Float64Array.from(a));

describe("Savitzky & Golay (1964)", () => {
  test.each(reference.savgol)("equals SciPy's savgol_filter, half $half, degree $degree", ({ half, degree, expected }) => {
    expect(worst(savitzkyGolay(samples, half, degree), expected)).toBeLessThan(1e-9);
  });

  test("leaves every polynomial up to its degree as it is, ends included", () => {
    const cubic = Float64Array.from({ length: 60 }, (_, i) => 0.001 * i ** 3 - 0.1 * i * i + i - 4);
    expect(worst(savitzkyGolay(cubic, 5, 3), [...cubic])).toBeLessThan(1e-9);
  });

  test("fewer samples than a window are left alone", () => {
    expect([...savitzkyGolay(Float64Array.of(1, 5, 2), 2, 2)]).toEqual([1, 5, 2]);
  });
});

describe("the bell", () => {
  test.each(reference.gaussian)("equals SciPy's gaussian_filter1d, sigma $sigma", ({ sigma, expected }) => {
    expect(worst(gaussian(samples, sigma), expected)).toBeLessThan(1e-9);
  });

  test("never leaves the range of the samples, and keeps a level", () => {
    fc.assert(
      fc.property(anySamples, fc.double({ min: 0.1, max: 10, noNaN: true }), (values, sigma) => {
        const soft = gaussian(values, sigma);
        for (const value of soft) {
          expect(value).toBeGreaterThanOrEqual(Math.min(...values) - 1e-9);
          expect(value).toBeLessThanOrEqual(Math.max(...values) + 1e-9);
        }
      }),
    );
    expect([...gaussian(samples, 0)]).toEqual([...samples]);
  });
});

describe("Butterworth, both ways", () => {
  test.each(reference.butterworth)("equals SciPy's butter and filtfilt, cut-off $cutoff", ({ cutoff, expected }) => {
    expect(worst(butterworth(samples, cutoff), expected)).toBeLessThan(1e-9);
  });

  test("a slow wave passes unshifted, a quick one is taken out", () => {
    const slow = Float64Array.from({ length: 400 }, (_, i) => Math.sin((2 * Math.PI * i) / 100));
    const both = slow.map((value, i) => value + 0.5 * Math.sin((2 * Math.PI * i) / 3));
    const soft = butterworth(both, 0.06);
    for (let i = 40; i < 360; i++) expect(Math.abs(soft[i] - slow[i])).toBeLessThan(0.04);
  });

  test("a level stays level; nonsense cut-offs leave the samples", () => {
    expect(worst(butterworth(new Float64Array(40).fill(7), 0.1), new Array(40).fill(7))).toBeLessThan(1e-9);
    expect([...butterworth(samples, 0.5)]).toEqual([...samples]);
    expect([...butterworth(samples, 0)]).toEqual([...samples]);
    expect([...butterworth(Float64Array.of(4), 0.1)]).toEqual([4]);
  });
});

describe("despike (Hampel 1974)", () => {
  const wave = Float64Array.from({ length: 90 }, (_, i) => 20 * Math.sin(i / 9));

  test("finds planted spikes and nothing else", () => {
    const spiked = wave.slice();
    for (const [at, by] of [
      [20, 14],
      [41, -9],
      [70, 30],
    ])
      spiked[at] += by;
    const { samples: mended, mended: count } = despike(spiked, 3, 4, 1);
    expect(count).toBe(3);
    for (let i = 0; i < 90; i++) expect(Math.abs(mended[i] - wave[i])).toBeLessThan(2.5);
  });

  test("a steep slope is no jump, and a jump on it is found", () => {
    const steep = Float64Array.from({ length: 40 }, (_, i) => 12 * i);
    expect(despike(steep, 3, 4, 1).mended).toBe(0);
    steep[20] += 9;
    const { samples: mended } = despike(steep, 3, 4, 1);
    expect(mended[20]).toBeCloseTo(240, 9);
  });

  test("leaves a clean wave, its peaks, its ends and small jitter alone", () => {
    expect(despike(wave, 3, 4, 1).mended).toBe(0);
    const ends = wave.slice();
    ends[0] += 50;
    ends[89] -= 50;
    expect(despike(ends, 3, 4, 1).samples[0]).toBe(ends[0]);
    const small = wave.slice();
    small[30] += 0.6;
    expect(despike(small, 3, 1, 1).mended).toBe(0);
  });
});
