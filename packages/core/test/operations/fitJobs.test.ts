import { type FitInput, type FitOptions, fitSamples, fitSteps } from "../../src/curve/fit/fitSamples.ts";
import type { Fitter } from "../../src/curve/fit/fitter.ts";
import { KneaderError } from "../../src/errors.ts";
import { inPieces } from "../../src/inPieces.ts";
import { fitJobs } from "../../src/operations/clean/fitJobs.ts";
import { Chance } from "../help/chance.ts";

const by = new Chance(8);
const input = (length: number): FitInput => ({
  samples: Float64Array.from({ length }, (_, i) => 10 * Math.sin(i / 9) + by.next()),
  tolerance: 0.3,
});
const options: FitOptions = { broken: false };
const jobs = [4000, 9000, 12_000].map((length) => ({ inputs: [input(length)], options }));
const wanted = jobs.map(({ inputs }) => fitSamples(inputs, options));

/** A fitter that does it here, in pieces, and says which fits it was given. */
function fitter(given: number[] = []): Fitter {
  return {
    worth: 20_000,
    fit(inputs, how, { signal, progress }) {
      given.push(inputs[0].samples.length);
      return inPieces(fitSteps(inputs, how), async (share) => {
        if (signal.aborted) throw new Error("aborted");
        progress(share);
        await new Promise((resolve) => setTimeout(resolve, 0));
      });
    },
  };
}

test("fits made elsewhere are those made here, the longest begun first, and the share done never falls", async () => {
  const given: number[] = [];
  const shares: number[] = [];
  expect(await fitJobs(jobs, (share) => void shares.push(share))).toEqual(wanted);
  expect(shares).toEqual([...shares].sort((a, b) => a - b));
  expect(shares.at(-1)).toBe(1);
  shares.length = 0;
  expect(await fitJobs(jobs, (share) => void shares.push(share), fitter(given))).toEqual(wanted);
  expect(given).toEqual([12_000, 9000, 4000]);
  expect(shares).toEqual([...shares].sort((a, b) => a - b));
});

test("few samples, or one group, are not worth sending", async () => {
  const given: number[] = [];
  await fitJobs([jobs[2]], () => undefined, fitter(given));
  await fitJobs([jobs[0], jobs[1]], () => undefined, fitter(given));
  expect(given).toEqual([]);
});

test("a fit that cannot be made elsewhere is made here", async () => {
  const whole = fitter();
  const broken: Fitter = {
    worth: whole.worth,
    fit: (inputs, how, watch) =>
      inputs[0].samples.length === 9000 ? Promise.reject(new Error("broke down")) : whole.fit(inputs, how, watch),
  };
  expect(await fitJobs(jobs, () => undefined, broken)).toEqual(wanted);
});

test("who is asked for breath may stop all of it, and those elsewhere hear of it", async () => {
  const signals: AbortSignal[] = [];
  const watched: Fitter = {
    worth: 20_000,
    fit(inputs, how, watch) {
      signals.push(watch.signal);
      return fitter().fit(inputs, how, watch);
    },
  };
  let breaths = 0;
  const breathe = () => {
    if (++breaths > 5) throw new KneaderError("cancelled", "Cancelled.");
  };
  await expect(fitJobs(jobs, breathe, watched)).rejects.toThrow("Cancelled.");
  expect(signals).toHaveLength(3);
  expect(signals.every(({ aborted }) => aborted)).toBe(true);
});
