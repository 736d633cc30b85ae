import { bendLeast } from "./leastBending.ts";
import { fitFree, fitJoined, found } from "./minimax.ts";

/** Samples at neighbouring whole frames, and how far the fit may be from any of them. */
export interface FitInput {
  readonly samples: Float64Array;
  readonly tolerance: number;
}

export interface FitOptions {
  /** Let the slope break at any key. Otherwise every key has one slope. */
  readonly broken: boolean;
  /** Sample numbers that must have a key, in order. */
  readonly protect?: readonly number[];
}

/** Keys at the same sample numbers for all inputs; values and slopes per input. */
export interface FitResult {
  readonly at: number[];
  readonly values: number[][];
  readonly slopesIn: number[][];
  readonly slopesOut: number[][];
}

/** Longest span looked at, in frames: beyond it nothing is gained and tables grow. */
const LONGEST = 480;
/** Where the next key is tried, as shares of the longest span that would fit. */
const SHARES = [0.9, 0.7];

/**
 * The fewest keys we know how to find whose cubic segments stay within each input's tolerance at every
 * sample, and calm between samples. Spans are grown as far as they will go, not split at the worst
 * error. With unbroken slopes a span is chosen together with the next one: of a few places for the
 * key between them, the one from which the pair reaches furthest.
 */
export function fitSamples(inputs: readonly FitInput[], options: FitOptions): FitResult {
  const steps = fitSteps(inputs, options);
  let step = steps.next();
  while (!step.done) step = steps.next();
  return step.value;
}

/** Keys found between one breath and the next. */
const BREATH = 64;

/** The same in pieces: yields the share done every few keys. */
export function* fitSteps(inputs: readonly FitInput[], options: FitOptions): Generator<number, FitResult> {
  const curves = inputs.map((input) => ({
    y: input.samples,
    // A hair inside, so that rounding in later evaluation does not step over the stated tolerance.
    tolerance: input.tolerance * (1 - 1e-9) - 1e-12,
    value: input.samples[0],
    slope: 0,
    nextValue: 0,
    nextSlope: 0,
    startSlope: 0,
  }));
  type State = (typeof curves)[number];
  const count = inputs[0]?.samples.length ?? 0;
  const last = count - 1;
  const result: FitResult = {
    at: [0],
    values: curves.map((c) => [c.value]),
    slopesIn: curves.map(() => []),
    slopesOut: curves.map(() => []),
  };
  const stops = [...(options.protect ?? []), last];
  let stop = 0;
  const stopAfter = (frame: number): number => {
    while (stop > 0 && stops[stop - 1] > frame) stop--;
    while (stop < stops.length - 1 && stops[stop] <= frame) stop++;
    return stops[stop] > frame ? stops[stop] : last;
  };

  /** Does a span fit every curve? Keeps the state at its end (and at b when it is a pair). */
  const all = (test: (c: State) => boolean, keep: (c: State) => void): boolean => {
    for (const c of curves) {
      if (!test(c)) return false;
      keep(c);
    }
    return true;
  };
  const single = (a: number, b: number, freeStart: boolean): boolean =>
    freeStart
      ? all(
          (c) => fitFree(c.y, a, c.value, b, c.tolerance),
          (c) => {
            c.startSlope = found[0];
            c.nextValue = found[1];
            c.nextSlope = found[2];
          },
        )
      : all((c) => fitJoined(c.y, a, c.value, c.slope, b, b, c.tolerance), keepNext);
  const pair = (a: number, b: number, end: number): boolean =>
    all((c) => fitJoined(c.y, a, c.value, c.slope, b, end, c.tolerance), keepNext);

  const push = (b: number, slopesOutAtStart: boolean): void => {
    result.at.push(b);
    curves.forEach((c, i) => {
      result.values[i].push(c.nextValue);
      result.slopesIn[i].push(c.nextSlope);
      result.slopesOut[i].push(slopesOutAtStart ? c.startSlope : c.slope);
      c.value = c.nextValue;
      c.slope = c.nextSlope;
    });
  };

  if (last < 1) {
    for (const i of curves.keys()) {
      result.slopesIn[i].push(0);
      result.slopesOut[i].push(0);
    }
    return result;
  }

  if (options.broken) {
    let a = 0;
    let guess = 8;
    while (a < last) {
      if (result.at.length % BREATH === 0) yield a / last;
      const limit = Math.min(stopAfter(a), a + LONGEST);
      const b = reach((end) => single(a, end, true), a, limit, guess);
      if (b === a) {
        steadySpan(curves, a);
        push(a + 1, true);
        a++;
        continue;
      }
      single(a, b, true);
      push(b, true);
      guess = b - a;
      a = b;
    }
  } else {
    let a = 0;
    let known = 0;
    const opening = reach((end) => single(0, end, true), 0, Math.min(stopAfter(0), LONGEST), 8);
    if (opening > 0) single(0, opening, true);
    for (const c of curves) c.slope = opening > 0 ? c.startSlope : c.y[1] - c.y[0];
    while (a < last) {
      if (result.at.length % BREATH === 0) yield a / last;
      const from = a;
      const limit = Math.min(stopAfter(a), a + LONGEST);
      // The last pair reached `known` from here, so the search can mostly begin there.
      const sure = known > a && known <= limit && single(a, known, false) ? known : a;
      const longest = reach((end) => single(from, end, false), sure, limit, sure > a ? Math.max(2, (sure - a) >> 2) : 4);
      let next = longest;
      known = longest;
      if (longest === a) {
        steadySpan(curves, a);
        next = a + 1;
      } else if (longest === last) single(a, longest, false);
      else {
        const best = bestPair(from, longest);
        next = best.next;
        known = best.end;
      }
      push(next, false);
      a = next;
    }
  }
  for (const [i, c] of curves.entries()) {
    result.slopesOut[i].push(c.slope);
    result.slopesIn[i].unshift(result.slopesOut[i][0]);
    const { values, slopesIn, slopesOut } = result;
    bendLeast({ at: result.at, values: values[i], slopesIn: slopesIn[i], slopesOut: slopesOut[i] }, c.y, c.tolerance);
  }
  return result;

  /** Of a few places for the next key, the one from which two spans reach furthest. */
  function bestPair(a: number, longest: number): { next: number; end: number } {
    let end = -1;
    let next = longest;
    let tried = -1;
    const kept = curves.map(() => [0, 0]);
    for (const share of longest === stopAfter(a) ? [1] : SHARES) {
      const b = Math.max(a + 1, a + Math.round((longest - a) * share));
      if (b === tried) continue;
      tried = b;
      const limit = Math.min(stopAfter(b), b + LONGEST);
      const least = Math.min(limit, Math.max(end, b) + 1);
      if (least <= end || !pair(a, b, least)) continue;
      end = reach((to) => pair(a, b, to), least, limit, Math.max(2, (longest - a) >> 2));
      pair(a, b, end);
      next = b;
      curves.forEach((c, i) => {
        kept[i] = [c.nextValue, c.nextSlope];
      });
    }
    if (end < 0) {
      // No pair fits: take the longest span alone and go on from there.
      single(a, longest, false);
      return { next: longest, end: longest };
    }
    curves.forEach((c, i) => {
      [c.nextValue, c.nextSlope] = kept[i];
    });
    return { next, end };
  }
}

function keepNext(c: { nextValue: number; nextSlope: number }): void {
  c.nextValue = found[0];
  c.nextSlope = found[1];
}

/** A span of one frame that always fits and stays calm: it leaves with the slope it came with. */
function steadySpan(
  curves: { y: Float64Array; slope: number; startSlope: number; nextValue: number; nextSlope: number; value: number }[],
  a: number,
): void {
  for (const c of curves) {
    c.startSlope = c.y[a + 1] - c.value;
    c.nextValue = c.y[a + 1];
    c.nextSlope = c.slope;
  }
}

/**
 * The furthest end in from..limit that passes, when `from` is known to. Doubles the step while it
 * passes, then halves the gap.
 */
function reach(passes: (end: number) => boolean, from: number, limit: number, guess: number): number {
  let low = from;
  let step = guess;
  let high = -1;
  while (high < 0) {
    const end = Math.min(limit, low + step);
    if (end === low) return low;
    if (passes(end)) {
      low = end;
      step *= 2;
    } else high = end;
  }
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (passes(middle)) low = middle;
    else high = middle;
  }
  return low;
}
