import type { Curve } from "./curve.ts";
import { sampleTrack, seek, type Track, trackOf } from "./track.ts";
import { makeWindow, type Window, windowKernel } from "./windowKernel.ts";

/** Frames of captured curves that are laid out at once. */
const BLOCK = 32;
/** So many numbers of blocks that are played again a set keeps; then it begins anew. */
const KEPT = 524_288;

/** Rows of values of captured curves, a frame each, one more than a block has, so that there is always a next one. */
interface Block {
  /** The first frame; NaN while there is none. */
  first: number;
  readonly numbers: Float64Array;
  readonly rows: readonly Float64Array[];
}

/** A captured curve mixed over another: what is below times `keep`, and its own value times `take`. */
export interface Over {
  readonly keep: number;
  readonly take: number;
  readonly curve: Curve;
}

/** Curves mixed over another at once; where there are fewer, the rest takes nothing. */
const AT_ONCE = 3;

/** The values of a captured curve and how they join what is below; of one kind for all curves, so that it is read quickly. */
interface Column {
  readonly values: Float64Array;
  /** Of the first value; NaN: wherever a block begins. */
  firstFrame: number;
  readonly keep: number;
  readonly take: number;
}

/** A block of each curve of one value: it is laid out for every player, and most curves of a figure have one value. */
const levels = new WeakMap<Float64Array, Float64Array>();

function levelBlock(values: Float64Array): Float64Array {
  let block = levels.get(values);
  if (!block) {
    block = new Float64Array(BLOCK + 1).fill(values[0]);
    levels.set(values, block);
  }
  return block;
}

function columnOf({ times, values }: Curve, keep: number, take: number): Column {
  if (values.length === 1) return { values: levelBlock(values), firstFrame: Number.NaN, keep, take };
  return { values, firstFrame: times[0], keep, take };
}

/** A captured curve with others over it, a few frames of which are mixed into a column of its own. */
interface Mixture {
  readonly base: Column;
  readonly threes: readonly Column[];
  readonly into: Column;
}

/** What is mixed over a curve, from the bottom up in threes. */
function threesOf(overs: readonly Over[]): Column[] {
  const columns = overs.map(({ curve, keep, take }) => columnOf(curve, keep, take));
  while (columns.length % AT_ONCE > 0) columns.push({ ...columns[0], keep: 1, take: 0 });
  return columns;
}

/**
 * Many curves made ready to be sampled together, frame after frame. What a frame needs lies side by side:
 * walking from object to object for each curve would cost several times the arithmetic.
 */
export interface TrackSet {
  readonly tracks: readonly Track[];
  /** Captured curves and such of one value (see `Track.byFrame`): which they are, and where their values go. */
  readonly even: Int32Array;
  readonly evenTo: Int32Array;
  /** Numbers of a row. */
  readonly width: number;
  /** Where in a row each of them stands: where it goes, if a row is the whole output, else one after the other. */
  readonly inRow: Int32Array;
  readonly isWhole: boolean;
  /** What is laid out: captured curves, or what they are mixed into. */
  readonly columns: readonly Column[];
  readonly mixtures: readonly Mixture[];
  /**
   * By its first frame each block that was looked at: null where once, else kept. Those looked at once take turns in one;
   * the one looked at last, and that one.
   */
  readonly blocks: Map<number, Block | null>;
  block: Block;
  readonly passing: Block;
  /** The other curves: which they are, where their values go, and for each the segment it is in now. */
  readonly keyed: Int32Array;
  readonly keyedTo: Int32Array;
  /** Where the first goes, if the others follow it one by one; else −1. */
  readonly keyedRun: number;
  readonly window: Window;
}

/**
 * `to` says where in the output the value of each curve goes (left out: one after the other), `over` what is mixed
 * over it, in order; only captured curves may have, and be, such. An output of which the size is told is the set's own:
 * where no curve goes it is 0.
 */
export function makeTrackSet(
  curves: readonly Curve[],
  to?: readonly number[],
  over: readonly (readonly Over[])[] = [],
  size?: number,
): TrackSet {
  const tracks = curves.map(trackOf);
  const numbers = tracks.map((_, n) => n);
  const even = Int32Array.from(numbers.filter((n) => tracks[n].byFrame));
  const keyed = Int32Array.from(numbers.filter((n) => !tracks[n].byFrame));
  const mixtures: Mixture[] = [];
  const columns = Array.from(even, (n) => {
    const base = columnOf(curves[n], 0, 1);
    const threes = threesOf(over[n] ?? []);
    if (threes.length === 0) return base;
    const into = { ...base, values: new Float64Array(BLOCK + 1) };
    mixtures.push({ base, threes, into });
    return into;
  });
  const goal = (n: number) => to?.[n] ?? n;
  const evenTo = even.map(goal);
  const keyedTo = keyed.map(goal);
  const isWhole = size !== undefined && even.length > 0;
  const width = isWhole ? size : even.length;
  const passing = emptyBlock(even.length > 0 ? width : 0);
  return {
    tracks,
    even,
    evenTo,
    width,
    inRow: isWhole ? evenTo : even.map((_, e) => e),
    isWhole,
    columns,
    mixtures,
    blocks: new Map(),
    block: passing,
    passing,
    keyed,
    keyedTo,
    keyedRun: keyedTo.every((place, k) => place === keyedTo[0] + k) ? (keyedTo[0] ?? -1) : -1,
    window: makeWindow(keyed.length),
  };
}

/** Values of all curves at one time (frames): curve n's into out[to[n]]. */
export function sampleSet(set: TrackSet, time: number, out: Float64Array): void {
  if (set.even.length > 0) sampleBlock(set, time, out);
  if (set.keyed.length > 0) sampleKeyed(set, time, out);
}

/** So many keyed curves are worked out in WebAssembly. */
const MANY = 8;

function sampleKeyed(set: TrackSet, time: number, out: Float64Array): void {
  const { keyedTo, keyedRun, window } = set;
  const count = keyedTo.length;
  const kernel = count >= MANY ? windowKernel() : null;
  if (kernel?.hold(window, count)) {
    const missing = kernel.sample(window, time);
    for (let m = 0; m < missing; m++) refetch(set, kernel.missing(window, m), time);
  } else sampleWindow(set, time);
  const { values } = window;
  if (keyedRun >= 0) out.set(values, keyedRun);
  else for (let k = 0; k < count; k++) out[keyedTo[k]] = values[k];
}

/** The same without WebAssembly. */
function sampleWindow(set: TrackSet, time: number): void {
  const { numbers, width } = set.window;
  for (let k = 0; k < set.keyed.length; k++) {
    const x = time - numbers[k];
    if (!(x >= 0 && time < numbers[width + k])) refetch(set, k, time);
    else {
      const c2 = numbers[5 * width + k] * x + numbers[4 * width + k];
      numbers[6 * width + k] = (c2 * x + numbers[3 * width + k]) * x + numbers[2 * width + k];
    }
  }
}

/** A set's captured curves at the whole frames before and after a time: the row of `blockAt` of that number, and the next one. */
export const rowAt = (block: Block, time: number): number => Math.floor(time) - block.first;

/** The block of rows in which a time is. */
export function blockAt(set: TrackSet, time: number): Block {
  const { block } = set;
  const frame = Math.floor(time);
  if (frame >= block.first && frame < block.first + BLOCK) return block;
  const first = Math.floor(frame / BLOCK) * BLOCK;
  const found = set.blocks.get(first) ?? laidOut(set, first);
  set.block = found;
  return found;
}

function sampleBlock(set: TrackSet, time: number, out: Float64Array): void {
  const { evenTo, isWhole } = set;
  const block = blockAt(set, time);
  const row = rowAt(block, time);
  const x = time - Math.floor(time);
  const here = block.rows[row];
  const next = block.rows[row + 1];
  if (isWhole) between(here, next, x, out);
  else
    for (let e = 0; e < here.length; e++) {
      const value = here[e];
      out[evenTo[e]] = value + (next[e] - value) * x;
    }
}

/** Part of the way from row to row, four at a time. */
function between(here: Float64Array, next: Float64Array, x: number, out: Float64Array): void {
  const fours = here.length - 3;
  let e = 0;
  for (; e < fours; e += 4) {
    const a = here[e];
    const b = here[e + 1];
    const c = here[e + 2];
    const d = here[e + 3];
    out[e] = a + (next[e] - a) * x;
    out[e + 1] = b + (next[e + 1] - b) * x;
    out[e + 2] = c + (next[e + 2] - c) * x;
    out[e + 3] = d + (next[e + 3] - d) * x;
  }
  for (; e < here.length; e++) out[e] = here[e] + (next[e] - here[e]) * x;
}

function emptyBlock(width: number): Block {
  const numbers = new Float64Array(width * (BLOCK + 1));
  const rows = Array.from({ length: BLOCK + 1 }, (_, r) => numbers.subarray(r * width, (r + 1) * width));
  return { first: Number.NaN, numbers, rows };
}

/** A block that is not kept: what is gone through once is laid out in the same one, what is played again is kept from then on. */
function laidOut(set: TrackSet, first: number): Block {
  const { blocks, passing, width, columns } = set;
  const isLevel = columns.every(({ firstFrame }) => Number.isNaN(firstFrame));
  if ((blocks.size + 1) * passing.numbers.length > KEPT) blocks.clear();
  const block = blocks.has(first) && !isLevel ? emptyBlock(width) : passing;
  blocks.set(first, block === passing ? null : block);
  layOut(set, block, first);
  return block;
}

/** Lay out the captured curves' values of some frames; before and after its keys a curve holds. */
function layOut(set: TrackSet, block: Block, first: number): void {
  const { columns, mixtures, width } = set;
  block.first = first;
  for (let m = 0; m < mixtures.length; m++) mix(mixtures[m], first);
  for (let e = 0; e < columns.length; ) {
    if (e + 3 < columns.length && layFour(set, block.numbers, first, e)) e += 4;
    else layColumn(block.numbers, width, set.inRow[e], first, columns[e++]);
  }
}

/** The frames of a mixture. */
function mix({ base, threes, into }: Mixture, first: number): void {
  into.firstFrame = first;
  const { values } = into;
  const start = startIn(base, first);
  if (start < 0) for (let r = 0; r <= BLOCK; r++) values[r] = held(base, first + r);
  else for (let r = 0; r <= BLOCK; r++) values[r] = base.values[start + r];
  for (let n = 0; n < threes.length; n += AT_ONCE)
    if (!mixThree(values, threes, n, first)) for (let k = 0; k < AT_ONCE; k++) mixOne(values, threes[n + k], first);
}

/** A curve's value at a whole frame; before and after its keys it holds. */
function held({ values, firstFrame }: Column, frame: number): number {
  const away = frame - firstFrame;
  return values[away > 0 ? Math.min(values.length - 1, away) : 0];
}

/** Where in a curve's values a block begins, if all of it is among them; else −1. */
function startIn({ values, firstFrame }: Column, first: number): number {
  const start = (first - firstFrame) | 0;
  return start >= 0 && start + BLOCK < values.length ? start : -1;
}

/** Four curves from number `e` on: their values mostly stand side by side, and so are written together. False where one of them ends. */
function layFour({ columns, inRow, width }: TrackSet, block: Float64Array, first: number, e: number): boolean {
  const i = startIn(columns[e], first);
  const j = startIn(columns[e + 1], first);
  const k = startIn(columns[e + 2], first);
  const l = startIn(columns[e + 3], first);
  if (i < 0 || j < 0 || k < 0 || l < 0) return false;
  const a = columns[e].values;
  const b = columns[e + 1].values;
  const c = columns[e + 2].values;
  const d = columns[e + 3].values;
  const ao = inRow[e];
  const bo = inRow[e + 1];
  const co = inRow[e + 2];
  const to = inRow[e + 3];
  for (let r = 0, o = 0; r <= BLOCK; r++, o += width) {
    block[o + ao] = a[i + r];
    block[o + bo] = b[j + r];
    block[o + co] = c[k + r];
    block[o + to] = d[l + r];
  }
  return true;
}

function layColumn(block: Float64Array, width: number, place: number, first: number, column: Column): void {
  for (let o = place, frame = first; o < block.length; o += width, frame++) block[o] = held(column, frame);
}

/** Three curves from number `n` on over values of a block. False where one of them ends. */
function mixThree(values: Float64Array, threes: readonly Column[], n: number, first: number): boolean {
  const i = startIn(threes[n], first);
  const j = startIn(threes[n + 1], first);
  const k = startIn(threes[n + 2], first);
  if (i < 0 || j < 0 || k < 0) return false;
  const { values: a, keep: keepA, take: takeA } = threes[n];
  const { values: b, keep: keepB, take: takeB } = threes[n + 1];
  const { values: c, keep: keepC, take: takeC } = threes[n + 2];
  for (let r = 0; r <= BLOCK; r++)
    values[r] = ((values[r] * keepA + a[i + r] * takeA) * keepB + b[j + r] * takeB) * keepC + c[k + r] * takeC;
  return true;
}

function mixOne(values: Float64Array, column: Column, first: number): void {
  const { keep, take } = column;
  for (let r = 0; r <= BLOCK; r++) values[r] = values[r] * keep + held(column, first + r) * take;
}

/**
 * The value of a curve at a time outside the window's segment; the segment that covers it is put in the window for the next
 * frames. (Numbers are written and not returned: returned ones are allocated.)
 */
function refetch({ tracks, keyed, window }: TrackSet, w: number, time: number): void {
  const track = tracks[keyed[w]];
  const { segments } = track;
  const { numbers, width } = window;
  let at = window.at + w;
  let k = track.cursor;
  if (!(time >= segments[k] && time < segments[k + 1])) k = seek(track, time);
  // Loops outside the keys and weighted handles cannot be sampled from the window.
  if (k < 0 || segments[k + 6] >= 0) {
    numbers[at] = Number.POSITIVE_INFINITY;
    numbers[at + 6 * width] = sampleTrack(track, time);
    return;
  }
  const x = time - segments[k];
  const value = ((segments[k + 5] * x + segments[k + 4]) * x + segments[k + 3]) * x + segments[k + 2];
  for (let c = 0; c < 6; c++, at += width) numbers[at] = segments[k + c];
  numbers[at] = value;
}
