import { fitSamples } from "../../src/curve/fit/fitSamples.ts";
import { FitKernel } from "../../src/curve/fit/unbroken/fitKernel.ts";
import { unbrokenFit, type UnbrokenFit, type UnbrokenInput } from "../../src/curve/fit/unbroken/unbrokenFit.ts";
import { Chance } from "../help/chance.ts";

const inputOf = (seed: number, count: number): UnbrokenInput => {
  const chance = new Chance(seed);
  let value = 0;
  let speed = 0;
  const samples = Float64Array.from({ length: count }, () => {
    speed = 0.9 * speed + chance.between(-1, 1);
    value += speed;
    return value;
  });
  return { samples, tolerance: 0.3 };
};

/** Take turns, step by step, until all are done. */
function inTurns(inputs: readonly UnbrokenInput[]): (UnbrokenFit | null)[] {
  const steps = inputs.map((input) => unbrokenFit([input], []));
  const found: (UnbrokenFit | null | undefined)[] = inputs.map(() => undefined);
  while (found.includes(undefined))
    steps.forEach((step, n) => {
      if (found[n] !== undefined) return;
      const { done, value } = step.next();
      if (done) found[n] = value;
    });
  return found as (UnbrokenFit | null)[];
}

describe("the memory that fits are worked out in", () => {
  test("fits that take turns do not get in each other's way, and come out as they do alone", () => {
    const inputs = [1, 2, 3, 4].map((seed) => inputOf(seed, 900));
    const alone = inputs.map((input) => inTurns([input])[0]);
    expect(alone.every((fit) => fit !== null && fit.at.length > 40)).toBe(true);
    expect(inTurns(inputs)).toEqual(alone);
  });

  test("a fit that was given up leaves nothing behind, and neither does a longer one before it", () => {
    const input = inputOf(7, 500);
    const [first] = inTurns([input]);
    const givenUp = unbrokenFit([inputOf(8, 3000)], []);
    givenUp.next();
    inTurns([inputOf(9, 6000), { ...inputOf(10, 40), keepsEnd: true, endSlope: 0 }]);
    expect(inTurns([input])[0]).toEqual(first);
  });

  test("what a long shot took up is not kept for later", () => {
    inTurns([inputOf(11, 200_000)]);
    const kernels = [FitKernel.take(), FitKernel.take(), FitKernel.take()];
    for (const kernel of kernels) expect(kernel?.bytes).toBeLessThan(4e6);
    for (const kernel of kernels) kernel?.giveBack();
  });

  test("without WebAssembly a fit is made another way: within the tolerance, with more keys", async () => {
    const { samples, tolerance } = inputOf(12, 600);
    const usual = fitSamples([{ samples, tolerance }], { broken: false });
    const known = globalThis.WebAssembly;
    Object.assign(globalThis, { WebAssembly: undefined });
    try {
      await jest.isolateModulesAsync(async () => {
        const { fitSamples: without } = await import("../../src/curve/fit/fitSamples.ts");
        const fit = without([{ samples, tolerance }], { broken: false });
        expect(fit.at.length).toBeGreaterThan(usual.at.length);
        expect(fit.slopesIn[0].slice(1, -1)).toEqual(fit.slopesOut[0].slice(1, -1));
        for (let k = 0; k + 1 < fit.at.length; k++) {
          const h = fit.at[k + 1] - fit.at[k];
          for (let n = 0; n <= h; n++) {
            // Cubic Hermite, as in appendix C of glTF 2.0.
            const t = n / h;
            const [a, b] = [fit.values[0][k], fit.values[0][k + 1]];
            const [m, l] = [h * fit.slopesOut[0][k], h * fit.slopesIn[0][k + 1]];
            const value =
              (2 * t ** 3 - 3 * t ** 2 + 1) * a + (t ** 3 - 2 * t ** 2 + t) * m + (3 * t ** 2 - 2 * t ** 3) * b + (t ** 3 - t ** 2) * l;
            expect(Math.abs(value - samples[fit.at[k] + n])).toBeLessThanOrEqual(tolerance * (1 + 1e-9));
          }
        }
      });
    } finally {
      Object.assign(globalThis, { WebAssembly: known });
    }
  });
});
