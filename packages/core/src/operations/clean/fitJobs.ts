import { type FitInput, type FitOptions, type FitResult, fitSteps } from "../../curve/fit/fitSamples.ts";
import type { Fitter } from "../../curve/fit/fitter.ts";
import { inPieces } from "../../inPieces.ts";

/** Curves that are fitted together. */
export interface FitJob {
  readonly inputs: readonly FitInput[];
  readonly options: FitOptions;
}

type Breathe = (share: number) => Promise<void> | void;

const sizeOf = ({ inputs }: FitJob): number => inputs.length * inputs[0].samples.length;

/**
 * The fits of some jobs, in their order: one after the other, or by `fitter` several at a time where there is enough to do.
 * `breathe` is asked with the share done and may throw to stop.
 */
export async function fitJobs(jobs: readonly FitJob[], breathe: Breathe, fitter?: Fitter): Promise<FitResult[]> {
  const sizes = jobs.map(sizeOf);
  const total = sizes.reduce((sum, size) => sum + size, 0);
  const shares = jobs.map(() => 0);
  const done = (n: number, share: number) => {
    shares[n] = share;
    return breathe(shares.reduce((sum, one, k) => sum + one * sizes[k], 0) / total);
  };
  const here = ({ inputs, options }: FitJob, n: number) => inPieces(fitSteps(inputs, options), (share) => done(n, share));
  if (fitter && jobs.length > 1 && total >= fitter.worth) return elsewhere(jobs, sizes, fitter, here, done);
  const fits: FitResult[] = [];
  for (const [n, job] of jobs.entries()) {
    fits.push(await here(job, n));
    await done(n, 1);
  }
  return fits;
}

async function elsewhere(
  jobs: readonly FitJob[],
  sizes: readonly number[],
  { fit }: Fitter,
  here: (job: FitJob, n: number) => Promise<FitResult>,
  done: (n: number, share: number) => Promise<void> | void,
): Promise<FitResult[]> {
  const stop = new AbortController();
  const { signal } = stop;
  let refuse: (error: unknown) => void = () => undefined;
  const refused = new Promise<never>((_, reject) => {
    refuse = reject;
  });
  const told = async (n: number, share: number) => done(n, share);
  const one = async (n: number): Promise<FitResult> => {
    try {
      const { inputs, options } = jobs[n];
      const found = await fit(inputs, options, { signal, progress: (share) => void told(n, share).catch(refuse) });
      void told(n, 1).catch(refuse);
      return found;
    } catch (error) {
      if (signal.aborted) throw error;
      // Whoever should have helped is gone: it takes longer, and is the same.
      return here(jobs[n], n);
    }
  };
  const fits: Promise<FitResult>[] = [];
  // The longest first, so that none is left to do alone at the end.
  for (const n of [...jobs.keys()].sort((a, b) => sizes[b] - sizes[a])) fits[n] = one(n);
  try {
    return await Promise.race([Promise.all(fits), refused]);
  } finally {
    stop.abort();
    for (const one of fits) one.catch(() => undefined);
  }
}
