import type { Curve } from "./curve.ts";
import { sampleTrack, seek, STRIDE, type Track, trackOf } from "./track.ts";

/** Numbers a curve takes up in the window: from, to and four coefficients of the segment it is in. */
const WIDTH = STRIDE - 1;
/** Frames of captured curves that are laid out at once. */
const ROWS = 32;

/**
 * Many curves made ready to be sampled together, frame after frame. What a frame needs lies side by side:
 * walking from object to object for each curve would cost several times the arithmetic.
 */
export interface TrackSet {
  readonly tracks: readonly Track[];
  /** Captured curves (see `Track.even`): which they are, and a few frames of all of them, row by row. */
  readonly even: Int32Array;
  readonly rows: Float64Array;
  /** The frame of the first row; NaN while there is none. */
  firstRow: number;
  /** The other curves: which they are, and for each the segment it is in now. */
  readonly keyed: Int32Array;
  readonly window: Float64Array;
}

export function makeTrackSet(curves: readonly Curve[]): TrackSet {
  const tracks = curves.map(trackOf);
  const numbers = tracks.map((_, n) => n);
  const even = Int32Array.from(numbers.filter((n) => tracks[n].even));
  const keyed = Int32Array.from(numbers.filter((n) => !tracks[n].even));
  const window = new Float64Array(keyed.length * WIDTH);
  // An interval that holds no time: every segment is fetched at its first use.
  for (let o = 0; o < window.length; o += WIDTH) window[o] = Number.POSITIVE_INFINITY;
  return { tracks, even, rows: new Float64Array(even.length * (ROWS + 1)), firstRow: Number.NaN, keyed, window };
}

/** Values of all curves at one time (frames): curve n's into out[n]. */
export function sampleSet(set: TrackSet, time: number, out: Float64Array): void {
  const { even, keyed, window } = set;
  if (even.length > 0) sampleRows(set, time, out);
  for (let k = 0, o = 0; k < keyed.length; k++, o += WIDTH) {
    const from = window[o];
    if (time < from || time >= window[o + 1]) refetch(set.tracks[keyed[k]], window, o, time, out, keyed[k]);
    else {
      const x = time - from;
      out[keyed[k]] = ((window[o + 5] * x + window[o + 4]) * x + window[o + 3]) * x + window[o + 2];
    }
  }
}

function sampleRows(set: TrackSet, time: number, out: Float64Array): void {
  const { even, rows } = set;
  const frame = Math.floor(time);
  if (!(frame >= set.firstRow && frame < set.firstRow + ROWS)) layOut(set, Math.floor(frame / ROWS) * ROWS);
  const count = even.length;
  const here = ((frame - set.firstRow) | 0) * count;
  const x = time - frame;
  for (let e = 0; e < count; e++) {
    const value = rows[here + e];
    out[even[e]] = value + (rows[here + count + e] - value) * x;
  }
}

/** Copy the captured curves' values of some frames side by side; before and after its keys a curve holds. */
function layOut(set: TrackSet, first: number): void {
  const { even, rows, tracks } = set;
  const count = even.length;
  set.firstRow = first;
  for (let e = 0; e < count; e++) {
    const { times, values } = tracks[even[e]].curve;
    const last = values.length - 1;
    const start = (first - times[0]) | 0;
    if (start >= 0 && start + ROWS <= last) for (let r = 0, at = e; r <= ROWS; r++, at += count) rows[at] = values[start + r];
    else for (let r = 0, at = e; r <= ROWS; r++, at += count) rows[at] = values[Math.min(last, Math.max(0, start + r))];
  }
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
