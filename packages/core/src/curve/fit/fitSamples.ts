import { atOnce } from "../../inPieces.ts";
import { bendLeast } from "./leastBending.ts";
import { bringClosest } from "./closest.ts";
import { found } from "./fitSums.ts";
import { fitFree, fitJoined } from "./minimax.ts";
import { unbrokenFit, type UnbrokenInput } from "./unbroken/unbrokenFit.ts";

/** Samples at neighbouring whole frames, how far the fit may be from any of them, and what stays at the ends. */
export type FitInput = UnbrokenInput;

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
  return atOnce(fitSteps(inputs, options));
}

/** Keys found between one breath and the next. */
const BREATH = 64;

/** A curve on its way: what it has at the last key found, and what it would have at the next. */
interface CurveState {
  readonly y: Float64Array;
  readonly tolerance: number;
  readonly keepsEnd: boolean;
  value: number;
  slope: number;
  nextValue: number;
  nextSlope: number;
  startSlope: number;
}

/** The same in pieces: yields the share done every few keys. */
export function* fitSteps(inputs: readonly FitInput[], options: FitOptions): Generator<number, FitResult> {
  const spans = new Spans(inputs, options.protect ?? []);
  if (spans.last < 1) return spans.single();
  if (!options.broken) {
    const fit = yield* exactFit(inputs, options.protect ?? []);
    if (fit) return fit;
  }
  yield* options.broken ? brokenSpans(spans) : joinedSpans(spans);
  return spans.finish();
}

/**
 * The keys of exact sets of states, with what the samples leave open bent least; null where that cannot be done. Ends that
 * cannot have one slope have their own.
 */
function* exactFit(inputs: readonly FitInput[], protect: readonly number[]): Generator<number, FitResult | null> {
  let fit = yield* unbrokenFit(inputs, protect);
  const isCycle = inputs.some(({ endSlope }) => endSlope !== undefined);
  if (!fit && isCycle)
    fit = yield* unbrokenFit(
      inputs.map(({ endSlope: _, ...input }) => input),
      protect,
    );
  if (!fit) return null;
  const { at, values, slopes } = fit;
  for (const [i, { samples: y, tolerance, shares, keepsEnd = false, endSlope }] of inputs.entries()) {
    const endsStay = endSlope !== undefined;
    bringClosest({ at, values: values[i], slopes: slopes[i], keepsEnd, endsStay }, { y, tolerance, shares });
    bendLeast({ at, values: values[i], slopesIn: slopes[i], slopesOut: slopes[i], endsStay }, y, tolerance, shares);
  }
  return { at, values, slopesIn: slopes, slopesOut: slopes.map((own) => [...own]) };
}

/** Spans grown one by one, each as far as it will go; the slope may break between them. */
function* brokenSpans(spans: Spans): Generator<number, void> {
  let a = 0;
  let guess = 8;
  while (a < spans.last) {
    if (spans.result.at.length % BREATH === 0) yield a / spans.last;
    const b = reach((end) => spans.fits(a, end, true), a, spans.limitFrom(a), guess);
    if (b === a) {
      steadySpan(spans.curves, a);
      spans.push(a + 1, true);
      a++;
      continue;
    }
    spans.fits(a, b, true);
    spans.push(b, true);
    guess = b - a;
    a = b;
  }
}

/** Spans with one slope between them, each chosen together with the next one. */
function* joinedSpans(spans: Spans): Generator<number, void> {
  const { curves, last } = spans;
  let a = 0;
  let known = 0;
  const opening = reach((end) => spans.fits(0, end, true), 0, spans.limitFrom(0), 8);
  if (opening > 0) spans.fits(0, opening, true);
  for (const c of curves) c.slope = opening > 0 ? c.startSlope : c.y[1] - c.y[0];
  while (a < last) {
    if (spans.result.at.length % BREATH === 0) yield a / last;
    const from = a;
    const limit = spans.limitFrom(a);
    // The last pair reached `known` from here, so the search can mostly begin there.
    const sure = known > a && known <= limit && spans.fits(a, known, false) ? known : a;
    const longest = reach((end) => spans.fits(from, end, false), sure, limit, sure > a ? Math.max(2, (sure - a) >> 2) : 4);
    let next = longest;
    known = longest;
    if (longest === a) {
      steadySpan(curves, a);
      next = a + 1;
    } else if (longest === last) spans.fits(a, longest, false);
    else {
      const best = bestPair(spans, from, longest);
      next = best.next;
      known = best.end;
    }
    spans.push(next, false);
    a = next;
  }
}

/** Of a few places for the next key, the one from which two spans reach furthest. */
function bestPair(spans: Spans, a: number, longest: number): { next: number; end: number } {
  const { curves } = spans;
  let end = -1;
  let next = longest;
  let tried = -1;
  const kept = curves.map(() => [0, 0]);
  for (const share of longest === spans.stopAfter(a) ? [1] : SHARES) {
    const b = Math.max(a + 1, a + Math.round((longest - a) * share));
    if (b === tried) continue;
    tried = b;
    const limit = spans.limitFrom(b);
    const least = Math.min(limit, Math.max(end, b) + 1);
    if (least <= end || !spans.pairFits(a, b, least)) continue;
    end = reach((to) => spans.pairFits(a, b, to), least, limit, Math.max(2, (longest - a) >> 2));
    spans.pairFits(a, b, end);
    next = b;
    curves.forEach((c, i) => {
      kept[i] = [c.nextValue, c.nextSlope];
    });
  }
  if (end < 0) {
    // No pair fits: take the longest span alone and go on from there.
    spans.fits(a, longest, false);
    return { next: longest, end: longest };
  }
  curves.forEach((c, i) => {
    [c.nextValue, c.nextSlope] = kept[i];
  });
  return { next, end };
}

/** Curves that get keys at the same samples, and what has been found so far. */
class Spans {
  readonly curves: readonly CurveState[];
  /** The last sample. */
  readonly last: number;
  readonly result: FitResult;
  private readonly stops: readonly number[];
  private stop = 0;

  constructor(inputs: readonly FitInput[], protect: readonly number[]) {
    this.curves = inputs.map((input) => ({
      y: input.samples,
      // A hair inside, so that rounding in later evaluation does not step over the stated tolerance. An end that is put
      // back where it was takes half of it: no sample is moved by more than the end is (its share in a cubic is 0 to 1).
      tolerance: input.tolerance * leastShare(input) * (input.keepsEnd ? 0.5 : 1) * (1 - 1e-9) - 1e-12,
      keepsEnd: input.keepsEnd ?? false,
      value: input.samples[0],
      slope: 0,
      nextValue: 0,
      nextSlope: 0,
      startSlope: 0,
    }));
    this.last = (inputs[0]?.samples.length ?? 0) - 1;
    this.stops = [...protect, this.last];
    const { curves } = this;
    this.result = { at: [0], values: curves.map((c) => [c.value]), slopesIn: curves.map(() => []), slopesOut: curves.map(() => []) };
  }

  /** The next sample that must have a key. */
  stopAfter(frame: number): number {
    const { stops } = this;
    while (this.stop > 0 && stops[this.stop - 1] > frame) this.stop--;
    while (this.stop < stops.length - 1 && stops[this.stop] <= frame) this.stop++;
    return stops[this.stop] > frame ? stops[this.stop] : this.last;
  }

  /** How far a span from a sample may go. */
  limitFrom(frame: number): number {
    return Math.min(this.stopAfter(frame), frame + LONGEST);
  }

  /** Does a span fit every curve? Keeps what they have at its end. */
  fits(a: number, b: number, freeStart: boolean): boolean {
    for (const c of this.curves) {
      if (freeStart) {
        if (!fitFree(c.y, a, c.value, b, c.tolerance)) return false;
        c.startSlope = found[0];
        c.nextValue = found[1];
        c.nextSlope = found[2];
      } else {
        if (!fitJoined(c.y, a, c.value, c.slope, b, b, c.tolerance)) return false;
        keepNext(c);
      }
    }
    return true;
  }

  /** Do two spans that meet at b? Keeps what they have there. */
  pairFits(a: number, b: number, end: number): boolean {
    for (const c of this.curves) {
      if (!fitJoined(c.y, a, c.value, c.slope, b, end, c.tolerance)) return false;
      keepNext(c);
    }
    return true;
  }

  /** A key at what was kept last. */
  push(b: number, slopesOutAtStart: boolean): void {
    const { result } = this;
    result.at.push(b);
    this.curves.forEach((c, i) => {
      result.values[i].push(c.nextValue);
      result.slopesIn[i].push(c.nextSlope);
      result.slopesOut[i].push(slopesOutAtStart ? c.startSlope : c.slope);
      c.value = c.nextValue;
      c.slope = c.nextSlope;
    });
  }

  /** The result of curves of one sample. */
  single(): FitResult {
    for (const i of this.curves.keys()) {
      this.result.slopesIn[i].push(0);
      this.result.slopesOut[i].push(0);
    }
    return this.result;
  }

  /** All keys are there: the last slopes, and of what the samples leave open what bends least. */
  finish(): FitResult {
    const { at, values, slopesIn, slopesOut } = this.result;
    for (const [i, c] of this.curves.entries()) {
      slopesOut[i].push(c.slope);
      slopesIn[i].unshift(slopesOut[i][0]);
      if (c.keepsEnd) values[i][at.length - 1] = c.y[this.last];
      bendLeast({ at, values: values[i], slopesIn: slopesIn[i], slopesOut: slopesOut[i] }, c.y, c.tolerance * (c.keepsEnd ? 2 : 1));
    }
    return this.result;
  }
}

/** Spans that are grown one by one have one tolerance throughout. */
export const leastShare = ({ shares }: Pick<FitInput, "shares">): number => (shares ? shares.reduce((a, b) => Math.min(a, b), 1) : 1);

function keepNext(c: CurveState): void {
  c.nextValue = found[0];
  c.nextSlope = found[1];
}

/** A span of one frame that always fits and stays calm: it leaves with the slope it came with. */
function steadySpan(curves: readonly CurveState[], a: number): void {
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
