/*
 * How steady the machine is: a fixed piece of arithmetic, timed before, between and after what is measured. Where it takes much
 * longer than at its quickest, the machine had something else to do (or was slowed down), and times say little.
 */

/** The arithmetic takes at the most so many times its quickest on a quiet machine. */
const QUIET = 1.2;
const TRIES = 5;

const walked = Float64Array.from({ length: 40_000 }, (_, k) => Math.sin(k / 30));

/** Sums that wait for one another, and cubics along columns, as curves are made of. */
function arithmetic(): number {
  let a = 0.1;
  let b = 0.2;
  for (let k = 0; k < 2_000_000; k++) {
    a = a * 0.999 + b * 0.001;
    b = b * 0.998 + a * 0.002 + 1e-9;
  }
  let furthest = 0;
  for (let round = 0; round < 60; round++)
    for (let k = 0; k < walked.length; k++) {
      const t = (k & 63) * 0.125;
      const off = ((a * t + b) * t + 0.3) * t + 0.1 - walked[k];
      if (Math.abs(off) > furthest) furthest = Math.abs(off);
    }
  return a + b + furthest;
}

let kept = 0;

/** Milliseconds the arithmetic takes just now: the median of a few times. */
export function pulse(): number {
  const times = Array.from({ length: TRIES }, () => {
    const start = performance.now();
    kept += arithmetic();
    return performance.now() - start;
  }).sort((a, b) => a - b);
  if (!Number.isFinite(kept)) throw new Error("the arithmetic went wrong");
  return times[TRIES >> 1];
}

/** Was the machine quiet, by pulses of one time and the quickest there is? */
export const isQuiet = (pulses: readonly number[], quickest: number): boolean => pulses.every((one) => one <= QUIET * quickest);

/** "1.04 to 1.31 times its quickest". */
export function sayPulses(pulses: readonly number[], quickest: number): string {
  const times = (one: number) => (one / quickest).toFixed(2);
  return `${times(Math.min(...pulses))} to ${times(Math.max(...pulses))} times its quickest`;
}
