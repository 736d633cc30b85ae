import { type Curve, keyBefore, Tangent, THIRD } from "./curve.ts";
import { INVERSE_SIZE, solvePrepared, writeInverse } from "./bezier.ts";
import { handlesKernel } from "./handlesKernel.ts";
import { mapRun } from "./runOn.ts";

/**
 * Numbers a segment takes up in `segments`: from, to, four coefficients (constant first), and where in
 * `inverses` its time is prepared to be inverted, or −1 for plain handles.
 */
const STRIDE = 7;
/** Further than any frame, and yet times zero it is zero. */
const FAR = 1e300;
/** So many values at once of a curve with weighted handles are worked out in WebAssembly. */
const MANY = 48;

/**
 * A curve made ready for sampling: one cubic per segment in Horner form, in the time since the
 * segment's start; in u where handles are weighted. Made once per curve and kept as long as it lives.
 *
 * Segment 0 is what lies before the first key and the last one what lies after the last key; where a
 * curve does more there than hold, that segment covers no time and is worked out apart.
 *
 * A captured curve (a linear key on each frame) is read from its own columns and has no segments: seven
 * times less to walk through in memory, which is what playing captured motion waits for.
 */
export interface Track {
  readonly curve: Curve;
  /** Is there a linear key on each whole frame from the first to the last, and a hold outside? */
  readonly even: boolean;
  /** Do its values at whole frames say all, straight between them: is it even, or one value throughout? */
  readonly byFrame: boolean;
  readonly segments: Float64Array;
  /** For each weighted segment one over its length, then its prepared inverse. */
  readonly inverses: Float64Array;
  /** Where in `segments` the last sample was found; the next one is probably near. */
  cursor: number;
}

const tracks = new WeakMap<Curve, Track>();

export function trackOf(curve: Curve): Track {
  let track = tracks.get(curve);
  if (!track) {
    track = makeTrack(curve);
    tracks.set(curve, track);
  }
  return track;
}

function makeTrack(curve: Curve): Track {
  const { times, values, slopeIn, slopeOut, weightIn, weightOut, kindIn, kindOut, runIn, runOut } = curve;
  const n = times.length;
  if (isEven(curve)) return { curve, even: true, byFrame: true, segments: NOTHING, inverses: NOTHING, cursor: 0 };
  const segments = new Float64Array((n + 1) * STRIDE);
  const weighted: number[] = [];
  for (let i = 0, k = STRIDE; i + 1 < n; i++, k += STRIDE) {
    const v0 = values[i];
    const v1 = values[i + 1];
    const h = times[i + 1] - times[i];
    segments[k] = times[i];
    segments[k + 1] = times[i + 1];
    segments[k + 2] = v0;
    segments[k + 6] = -1;
    if (kindOut[i] === Tangent.stepped) continue;
    if (kindIn[i + 1] === Tangent.stepped) {
      // A hold seen backward in time: the segment already has the value of the key that ends it, but not at
      // its first instant, which is the key's before it (see `outside`).
      segments[k] = justAfter(times[i]);
      segments[k + 2] = v1;
      continue;
    }
    if (kindOut[i] === Tangent.linear && kindIn[i + 1] === Tangent.linear) {
      // Straight whatever its handles' lengths, and to the bit what an even track answers.
      segments[k + 3] = (v1 - v0) / h;
      continue;
    }
    const a = weightOut[i];
    const b = weightIn[i + 1];
    if (a === THIRD && b === THIRD) {
      // Cubic Hermite (glTF 2.0, appendix C) rewritten in powers of the time since the first key.
      const m0 = slopeOut[i];
      const m1 = slopeIn[i + 1];
      const chord = (v1 - v0) / h;
      segments[k + 3] = m0;
      segments[k + 4] = (3 * chord - 2 * m0 - m1) / h;
      segments[k + 5] = (m0 + m1 - 2 * chord) / (h * h);
    } else {
      const p1 = v0 + a * h * slopeOut[i];
      const p2 = v1 - b * h * slopeIn[i + 1];
      segments[k + 3] = 3 * (p1 - v0);
      segments[k + 4] = 3 * (v0 - 2 * p1 + p2);
      segments[k + 5] = v1 - v0 + 3 * (p1 - p2);
      segments[k + 6] = weighted.length * (INVERSE_SIZE + 1);
      weighted.push(i);
    }
  }
  const inverses = new Float64Array(weighted.length * (INVERSE_SIZE + 1));
  weighted.forEach((i, w) => {
    const o = w * (INVERSE_SIZE + 1);
    inverses[o] = 1 / (times[i + 1] - times[i]);
    writeInverse(inverses, o + 1, weightOut[i], 1 - weightIn[i + 1]);
  });
  const covers = (k: number, from: number, to: number, value: number) => {
    segments[k] = from;
    segments[k + 1] = to;
    segments[k + 2] = value;
    segments[k + 6] = -1;
  };
  if (n > 0 && runIn.kind === "hold") covers(0, -FAR, times[0], values[0]);
  else covers(0, FAR, -FAR, 0);
  if (n > 0 && runOut.kind === "hold") covers(n * STRIDE, times[n - 1], FAR, values[n - 1]);
  else covers(n * STRIDE, FAR, -FAR, 0);
  const isOne = n === 1 && runIn.kind === "hold" && runOut.kind === "hold";
  return { curve, even: false, byFrame: isOne, segments, inverses, cursor: 0 };
}

const NOTHING = new Float64Array(0);

/** A time later than `time` by as little as can be told. */
function justAfter(time: number): number {
  return time + Math.max(1, Math.abs(time)) * Number.EPSILON;
}

function isEven({ times, kindIn, kindOut, runIn, runOut }: Curve): boolean {
  if (times.length < 2 || !Number.isInteger(times[0]) || runIn.kind !== "hold" || runOut.kind !== "hold") return false;
  for (let i = 0; i < times.length; i++)
    if (times[i] !== times[0] + i || kindIn[i] !== Tangent.linear || kindOut[i] !== Tangent.linear) return false;
  return true;
}

/** Value between two keys of an even track: number `i` and the next, `x` of the way. */
function evenValue(values: Float64Array, i: number, x: number): number {
  return values[i] + (values[i + 1] - values[i]) * x;
}

/** Move the cursor to the segment that covers `time` and answer it, or −1 when none does. */
export function seek(track: Track, time: number): number {
  const { segments } = track;
  let k = track.cursor + STRIDE;
  if (!(time >= segments[k] && time < segments[k + 1])) {
    k = (keyBefore(track.curve.times, time) + 1) * STRIDE;
    if (!(time >= segments[k] && time < segments[k + 1])) return -1;
  }
  track.cursor = k;
  return k;
}

/** Value of the segment at `k`, which covers `time`. */
function segmentValue({ segments, inverses }: Track, k: number, time: number): number {
  const o = segments[k + 6] | 0;
  const x = o < 0 ? time - segments[k] : solvePrepared(inverses, o + 1, (time - segments[k]) * inverses[o]);
  return ((segments[k + 5] * x + segments[k + 4]) * x + segments[k + 3]) * x + segments[k + 2];
}

/** Value at `time` (frames). Quickest when times come in order. An empty curve is 0. */
export function sampleTrack(track: Track, time: number): number {
  if (track.even) {
    const { times, values } = track.curve;
    const away = time - times[0];
    const i = Math.floor(away);
    return i >= 0 && i < times.length - 1 ? evenValue(values, i, away - i) : outside(track, time);
  }
  const { segments } = track;
  let k = track.cursor;
  if (!(time >= segments[k] && time < segments[k + 1])) {
    k = seek(track, time);
    if (k < 0) return outside(track, time);
  }
  return segmentValue(track, k, time);
}

/** What no segment covers: the rounds, and the instant of a key after which a hold begins that is seen backward. */
function outside(track: Track, time: number): number {
  const { curve } = track;
  const { times, values } = curve;
  const last = times.length - 1;
  if (last < 0) return 0;
  if (time >= times[0] && time <= times[last]) return values[keyBefore(times, time)];
  const run = mapRun(curve, time);
  if (run.time >= times[last]) return values[last] + run.offset;
  if (run.time <= times[0]) return values[0] + run.offset;
  return sampleTrack(track, run.time) + run.offset;
}

/** Value of a curve at one time. */
export function sampleCurve(curve: Curve, time: number): number {
  return sampleTrack(trackOf(curve), time);
}

/** Values at start, start + step, … into `out` (its length says how many). */
export function sampleInto(curve: Curve, start: number, step: number, out: Float64Array): Float64Array {
  const track = trackOf(curve);
  const { segments, inverses } = track;
  const count = out.length;
  if (track.even) {
    for (let n = 0; n < count; n++) out[n] = sampleTrack(track, start + n * step);
    return out;
  }
  let kernel = inverses.length > 0 && count >= MANY ? handlesKernel() : null;
  let n = 0;
  while (n < count) {
    let k = seek(track, start + n * step);
    if (k < 0) {
      out[n] = outside(track, start + n * step);
      n++;
      continue;
    }
    if (kernel !== null) {
      const end = (keyBefore(curve.times, start + (count - 1) * step) + 2) * STRIDE;
      n = kernel.fill(track, k, Math.min(end, segments.length), start, step, n, out);
      // Where it stops, what is left goes on here.
      kernel = null;
      continue;
    }
    for (; k < segments.length && n < count; k += STRIDE) {
      const from = segments[k];
      const to = segments[k + 1];
      if (!(start + n * step >= from)) break;
      const c0 = segments[k + 2];
      const c1 = segments[k + 3];
      const c2 = segments[k + 4];
      const c3 = segments[k + 5];
      const o = segments[k + 6] | 0;
      if (o >= 0) {
        const share = inverses[o];
        for (let t = start + n * step; t < to && n < count; t = start + ++n * step) {
          const u = solvePrepared(inverses, o + 1, (t - from) * share);
          out[n] = ((c3 * u + c2) * u + c1) * u + c0;
        }
        continue;
      }
      for (let t = start + n * step; t < to && n < count; t = start + ++n * step) {
        const x = t - from;
        out[n] = ((c3 * x + c2) * x + c1) * x + c0;
      }
    }
  }
  return out;
}
