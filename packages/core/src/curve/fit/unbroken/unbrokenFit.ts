import { isCalm } from "../hermiteTable.ts";
import { FitKernel } from "./fitKernel.ts";
import { anySlope, oneState, UNIT } from "./startStates.ts";
import { StatePath } from "./statePath.ts";

/** A curve to be fitted, and what holds at its ends besides the tolerance. Its first value always stays. */
export interface UnbrokenInput {
  readonly samples: Float64Array;
  readonly tolerance: number;
  /** The shares of the tolerance that single samples have, where they do not have all of it. */
  readonly shares?: Float64Array;
  /** The last value stays as well. */
  readonly keepsEnd?: boolean;
  /** The slope at both ends (a frame), where it must be one. */
  readonly endSlope?: number;
}

/** Keys at the same samples for all inputs: by input their values and slopes (a frame). */
export interface UnbrokenFit {
  readonly at: number[];
  readonly values: number[][];
  readonly slopes: number[][];
}

/** Longest span looked at, in frames. */
const LONGEST = 480;
/** Where the next key is tried: short of the furthest frame by these shares of the span. */
const SHORT_OF = [0.05, 0.15, 0.25];
/** Keys of one curve between one breath and the next. */
const BREATH = 32;
/** Numbers that are so many tolerances apart are too coarse to tell. */
const COARSE = 1e8;
/** Slopes that are free are within so many times of what the curve rises by in all, a `UNIT` of frames. */
const STEEP = 64;

/** What a curve has on its way. */
interface Line {
  readonly first: number;
  readonly tolerance: number;
  /** The states at each key found. */
  readonly path: StatePath;
  /** Searches for spans: from the last key on; from the best place for the next, and from another. */
  search: number;
  best: number;
  other: number;
}

/**
 * The fewest keys we know how to find with one slope each, within the tolerance at every sample and calm half-way between
 * (see `isCalm`). From key to key a set of states (value and slope) is carried that a curve may have there, nearly all there
 * are; a key stands where the span after it reaches furthest, and states are chosen going back from the last. In pieces:
 * yields the share done. Answers null where numbers are too coarse for it, the ends cannot be had, or there is no kernel to search with.
 */
export function* unbrokenFit(inputs: readonly UnbrokenInput[], stops: readonly number[]): Generator<number, UnbrokenFit | null> {
  const kernel = FitKernel.take();
  if (!kernel) return null;
  const fit = yield* fitWith(kernel, inputs, stops);
  kernel.giveBack();
  return fit;
}

function* fitWith(kernel: FitKernel, inputs: readonly UnbrokenInput[], stops: readonly number[]): Generator<number, UnbrokenFit | null> {
  const last = inputs[0].samples.length - 1;
  const all = inputs.map((input) => lineOf(input, kernel));
  if (!all.every((line) => line !== null)) return null;
  const lines = [...all];
  const at = [0];
  const stopAfter = nextOf(stops, last);
  const breath = Math.max(1, Math.floor(BREATH / lines.length));
  let here = 0;
  let reached = furthest(kernel, lines, Math.min(stopAfter(0), LONGEST), 1, 8, ({ search }) => search);
  while (here + reached < last) {
    if (reached === 0) return null;
    if (at.length % breath === 0) yield here / last;
    // A key that must be there is the only place.
    const isStop = here + reached === stopAfter(here) && reached < LONGEST;
    const found = bestPlace(kernel, lines, here, reached, isStop ? [0] : SHORT_OF, stopAfter);
    if (!found) return null;
    for (const line of lines) {
      line.path.push(kernel.startOf(line.best));
      [line.search, line.best] = [line.best, line.search];
    }
    here = found.next;
    reached = found.end - here;
    at.push(here);
  }
  for (const line of lines) line.path.push(kernel.statesAt(line.search, last - here));
  at.push(last);
  const fit = { at, ...readBack(all) };
  return inputs.every((input, i) => holds(input, at, fit.values[i], fit.slopes[i])) ? fit : null;
}

/** Of a few places for the next key, the one from which the span after it reaches furthest; what is searched from there is the lines' best. */
function bestPlace(
  kernel: FitKernel,
  lines: Line[],
  here: number,
  reached: number,
  shares: readonly number[],
  stopAfter: (from: number) => number,
) {
  let end = -1;
  let next = -1;
  /** Try a place; answers whether the span after it goes further than from any before, or as far as is wanted. */
  const goesOn = (place: number, least: number): boolean => {
    const limit = Math.min(stopAfter(place) - place, LONGEST);
    if (least > limit) return false;
    const length = furthest(kernel, lines, limit, least, Math.max(least, (reached * 3) >> 2), (line) => {
      kernel.goOn(line.search, place - here, line.other, place);
      return line.other;
    });
    if (length === 0) return false;
    end = place + length;
    next = place;
    for (const line of lines) [line.best, line.other] = [line.other, line.best];
    return true;
  };
  // Where two spans reach a key that must be, they are as alike as can be: none stands right before it.
  const wall = stopAfter(here);
  const middle = Math.ceil((here + wall) / 2);
  const isNear = shares.length > 1 && middle <= here + reached - Math.round(shares[0] * reached);
  if (isNear && goesOn(middle, wall - middle)) return { next, end };
  let tried = -1;
  for (const share of shares) {
    const place = here + Math.max(1, reached - Math.round(share * reached));
    if (place !== tried) goesOn(place, Math.max(1, end + 1 - place));
    tried = place;
  }
  while (end === wall && next - 1 > middle) {
    const step = Math.max(1, Math.floor((next - middle) / 3));
    if (!goesOn(next - step, wall - next + step)) break;
  }
  return next < 0 ? null : { next, end };
}

function lineOf({ samples, tolerance, shares, keepsEnd, endSlope }: UnbrokenInput, kernel: FitKernel): Line | null {
  let low = samples[0];
  let high = low;
  for (let n = 0; n < samples.length; n++) {
    const value = samples[n];
    if (value < low) low = value;
    if (value > high) high = value;
  }
  const first = samples[0] / tolerance;
  const rise = Math.max(1, high / tolerance - first, first - low / tolerance);
  if (!(rise < COARSE)) return null;
  const stateAt = (value: number) =>
    endSlope === undefined ? anySlope(value, STEEP * rise) : oneState(value, (endSlope / tolerance) * UNIT);
  const start = stateAt(first);
  const end = keepsEnd || endSlope !== undefined ? stateAt(samples[samples.length - 1] / tolerance) : null;
  const curve = kernel.addCurve(samples, tolerance, shares, end);
  const [search, best, other] = [kernel.addSearch(curve), kernel.addSearch(curve), kernel.addSearch(curve)];
  kernel.beginAt(search, start);
  const path = new StatePath();
  path.push(start);
  return { first: samples[0], tolerance, path, search, best, other };
}

/** The sample after one that must have a key; asked for one after the other. */
function nextOf(stops: readonly number[], last: number): (from: number) => number {
  const ordered = [...stops.filter((stop) => stop > 0 && stop < last), last];
  let n = 0;
  return (from) => {
    while (n > 0 && ordered[n - 1] > from) n--;
    while (n < ordered.length - 1 && ordered[n] <= from) n++;
    return ordered[n];
  };
}

/**
 * The furthest that all lines can go together; `ready` answers the search of a line, begun. Whoever goes least far is put first
 * in the list: it mostly does so the next time, and the others are then asked for no more, or not at all.
 */
function furthest(kernel: FitKernel, lines: Line[], limit: number, least: number, hoped: number, ready: (line: Line) => number): number {
  let reach = limit;
  let shortest = 0;
  for (let n = 0; n < lines.length && reach > 0; n++) {
    const length = kernel.grow(ready(lines[n]), reach, least, n === 0 ? hoped : reach);
    if (length < reach) shortest = n;
    reach = length;
  }
  if (shortest > 0) lines.unshift(...lines.splice(shortest, 1));
  return reach;
}

/** From the middle of the last set backward: each state leads to the one after it. */
function readBack(lines: readonly Line[]): Pick<UnbrokenFit, "values" | "slopes"> {
  const read = lines.map(({ path, tolerance, first }) => {
    const values = new Array<number>(path.length);
    const slopes = new Array<number>(path.length);
    let [value, slope] = path.middle(path.length - 1);
    for (let k = path.length - 1; k >= 0; k--) {
      values[k] = value * tolerance;
      slopes[k] = (slope * tolerance) / UNIT;
      [value, slope] = path.before(k, value, slope);
    }
    values[0] = first;
    return { values, slopes };
  });
  return { values: read.map(({ values }) => values), slopes: read.map(({ slopes }) => slopes) };
}

/** Is it what it should be? Searched in rounded numbers, it is looked at once more. */
function holds(
  { samples: y, tolerance, shares, keepsEnd, endSlope }: UnbrokenInput,
  at: readonly number[],
  values: number[],
  slopes: number[],
) {
  const last = at.length - 1;
  if (keepsEnd || endSlope !== undefined) values[last] = y[y.length - 1];
  if (endSlope !== undefined) slopes[0] = slopes[last] = endSlope;
  for (let k = 0; k < last; k++) {
    const h = at[k + 1] - at[k];
    const chord = (values[k + 1] - values[k]) / h;
    const c2 = (3 * chord - 2 * slopes[k] - slopes[k + 1]) / h;
    const c3 = (slopes[k] + slopes[k + 1] - 2 * chord) / (h * h);
    for (let x = 1; x <= h; x++) {
      const off = Math.abs(((c3 * x + c2) * x + slopes[k]) * x + values[k] - y[at[k] + x]);
      if (!(off <= tolerance * (shares ? shares[at[k] + x] : 1))) return false;
    }
    if (!isCalm(y, at[k], at[k + 1], values[k], slopes[k], values[k + 1], slopes[k + 1], tolerance)) return false;
  }
  return true;
}
