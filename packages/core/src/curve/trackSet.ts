import type { Curve } from "./curve.ts";
import { sampleTrack, seek, STRIDE, type Track, trackOf } from "./track.ts";

/** Numbers a curve takes up in the window: from, to and four coefficients of the segment it is in. */
const WIDTH = STRIDE - 1;
/** Frames of captured curves that are laid out at once. */
const BLOCK = 32;

/** A captured curve mixed over another: what is below times `keep`, and its own value times `take`. */
export interface Over {
  readonly keep: number;
  readonly take: number;
  readonly curve: Curve;
}

/** The values of a captured curve and how they join what is below; of one kind for all curves, so that it is read quickly. */
interface Column {
  readonly values: Float64Array;
  readonly firstFrame: number;
  readonly keep: number;
  readonly take: number;
}

function columnOf({ times, values }: Curve, keep: number, take: number): Column {
  return { values, firstFrame: times[0], keep, take };
}

/**
 * Many curves made ready to be sampled together, frame after frame. What a frame needs lies side by side:
 * walking from object to object for each curve would cost several times the arithmetic.
 */
export interface TrackSet {
  readonly tracks: readonly Track[];
  /** Captured curves (see `Track.even`): which they are, where their values go, and a few frames of each, curve after curve. */
  readonly even: Int32Array;
  readonly evenTo: Int32Array;
  readonly blocks: Float64Array;
  /** Each captured curve, and what is mixed over it from the bottom up. */
  readonly columns: readonly (readonly Column[])[];
  /** The first frame that is laid out; NaN while there is none. */
  firstFrame: number;
  /** The other curves: which they are, where their values go, and for each the segment it is in now. */
  readonly keyed: Int32Array;
  readonly keyedTo: Int32Array;
  readonly window: Float64Array;
}

/**
 * `to` says where in the output the value of each curve goes (left out: one after the other), `over` what is mixed
 * over it, in order; only captured curves may have, and be, such.
 */
export function makeTrackSet(curves: readonly Curve[], to?: readonly number[], over: readonly (readonly Over[])[] = []): TrackSet {
  const tracks = curves.map(trackOf);
  const numbers = tracks.map((_, n) => n);
  const even = Int32Array.from(numbers.filter((n) => tracks[n].even));
  const keyed = Int32Array.from(numbers.filter((n) => !tracks[n].even));
  const window = new Float64Array(keyed.length * WIDTH);
  // An interval that holds no time: every segment is fetched at its first use.
  for (let o = 0; o < window.length; o += WIDTH) window[o] = Number.POSITIVE_INFINITY;
  const columns = Array.from(even, (n) => [
    columnOf(curves[n], 0, 1),
    ...(over[n] ?? []).map(({ curve, keep, take }) => columnOf(curve, keep, take)),
  ]);
  const goal = (n: number) => to?.[n] ?? n;
  const blocks = new Float64Array(even.length * (BLOCK + 1));
  return { tracks, even, evenTo: even.map(goal), blocks, columns, firstFrame: Number.NaN, keyed, keyedTo: keyed.map(goal), window };
}

/** Values of all curves at one time (frames): curve n's into out[to[n]]. */
export function sampleSet(set: TrackSet, time: number, out: Float64Array): void {
  const { even, keyed, keyedTo, window } = set;
  if (even.length > 0) sampleBlocks(set, time, out);
  for (let k = 0, o = 0; k < keyed.length; k++, o += WIDTH) {
    const from = window[o];
    if (time < from || time >= window[o + 1]) refetch(set.tracks[keyed[k]], window, o, time, out, keyedTo[k]);
    else {
      const x = time - from;
      out[keyedTo[k]] = ((window[o + 5] * x + window[o + 4]) * x + window[o + 3]) * x + window[o + 2];
    }
  }
}

function sampleBlocks(set: TrackSet, time: number, out: Float64Array): void {
  const { evenTo, blocks } = set;
  const frame = Math.floor(time);
  if (!(frame >= set.firstFrame && frame < set.firstFrame + BLOCK)) layOut(set, Math.floor(frame / BLOCK) * BLOCK);
  const x = time - frame;
  for (let e = 0, at = (frame - set.firstFrame) | 0; e < evenTo.length; e++, at += BLOCK + 1) {
    const value = blocks[at];
    out[evenTo[e]] = value + (blocks[at + 1] - value) * x;
  }
}

/** Lay out the captured curves' values of some frames; before and after its keys a curve holds. */
function layOut(set: TrackSet, first: number): void {
  const { blocks, columns } = set;
  set.firstFrame = first;
  for (let e = 0, o = 0; e < columns.length; e++, o += BLOCK + 1) {
    const stack = columns[e];
    layColumn(blocks, o, stack[0], first);
    for (let n = 1; n < stack.length; n++) mixColumn(blocks, o, stack[n], first);
  }
}

function layColumn(blocks: Float64Array, o: number, { values, firstFrame }: Column, first: number): void {
  const last = values.length - 1;
  const start = (first - firstFrame) | 0;
  if (start >= 0 && start + BLOCK <= last) for (let r = 0; r <= BLOCK; r++) blocks[o + r] = values[start + r];
  else for (let r = 0; r <= BLOCK; r++) blocks[o + r] = values[Math.min(last, Math.max(0, start + r))];
}

function mixColumn(blocks: Float64Array, o: number, { values, firstFrame, keep, take }: Column, first: number): void {
  const last = values.length - 1;
  const start = (first - firstFrame) | 0;
  if (start >= 0 && start + BLOCK <= last) for (let r = 0; r <= BLOCK; r++) blocks[o + r] = blocks[o + r] * keep + values[start + r] * take;
  else for (let r = 0; r <= BLOCK; r++) blocks[o + r] = blocks[o + r] * keep + values[Math.min(last, Math.max(0, start + r))] * take;
}

/**
 * Write the value at a time outside the window's segment to out[n]; the segment that covers it is put in
 * the window for the next frames. (Numbers are written and not returned: returned ones are allocated.)
 */
function refetch(track: Track, window: Float64Array, o: number, time: number, out: Float64Array, n: number): void {
  const { segments } = track;
  let k = track.cursor;
  if (!(time >= segments[k] && time < segments[k + 1])) k = seek(track, time);
  // Loops outside the keys and weighted handles cannot be sampled from the window.
  if (k < 0 || segments[k + 6] >= 0) {
    window[o] = Number.POSITIVE_INFINITY;
    out[n] = sampleTrack(track, time);
    return;
  }
  for (let j = 0; j < WIDTH; j++) window[o + j] = segments[k + j];
  const x = time - segments[k];
  out[n] = ((segments[k + 5] * x + segments[k + 4]) * x + segments[k + 3]) * x + segments[k + 2];
}
