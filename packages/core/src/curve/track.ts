import { type Curve, keyBefore, Tangent, THIRD } from "./curve.ts";
import { solveBezier } from "./bezier.ts";
import { mapRun } from "./runOn.ts";

/**
 * A curve made ready for sampling: one cubic per segment in Horner form, in the time since the
 * segment's first key. Made once per curve and kept for as long as the curve lives.
 */
export interface Track {
  readonly curve: Curve;
  /** Keys' times; segment i lies between times[i] and times[i + 1]. */
  readonly times: Float64Array;
  /** Four coefficients a segment, constant first. For weighted segments the cubic is in u. */
  readonly cubics: Float64Array;
  /** 1 where the segment has weighted handles; null when none has. */
  readonly weighted: Uint8Array | null;
  /** Where the last sample was found; the next one is probably near. */
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
  const { times, values, slopeIn, slopeOut, weightIn, weightOut, kindIn, kindOut } = curve;
  const segments = Math.max(0, times.length - 1);
  const cubics = new Float64Array(segments * 4);
  let weighted: Uint8Array | null = null;
  for (let i = 0, k = 0; i < segments; i++, k += 4) {
    const v0 = values[i];
    const v1 = values[i + 1];
    cubics[k] = v0;
    if (kindOut[i] === Tangent.stepped) continue;
    if (kindIn[i + 1] === Tangent.stepped) {
      // A hold seen backward in time: the segment already has the value of the key that ends it.
      cubics[k] = v1;
      continue;
    }
    const h = times[i + 1] - times[i];
    const a = weightOut[i];
    const b = weightIn[i + 1];
    if (a === THIRD && b === THIRD) {
      // Cubic Hermite (glTF 2.0, appendix C) rewritten in powers of the time since the first key.
      const m0 = slopeOut[i];
      const m1 = slopeIn[i + 1];
      const chord = (v1 - v0) / h;
      cubics[k + 1] = m0;
      cubics[k + 2] = (3 * chord - 2 * m0 - m1) / h;
      cubics[k + 3] = (m0 + m1 - 2 * chord) / (h * h);
    } else {
      weighted ??= new Uint8Array(segments);
      weighted[i] = 1;
      const p1 = v0 + a * h * slopeOut[i];
      const p2 = v1 - b * h * slopeIn[i + 1];
      cubics[k + 1] = 3 * (p1 - v0);
      cubics[k + 2] = 3 * (v0 - 2 * p1 + p2);
      cubics[k + 3] = v1 - v0 + 3 * (p1 - p2);
    }
  }
  return { curve, times, cubics, weighted, cursor: 0 };
}

/** Value of segment `i` at `time`, which lies in that segment. */
function segmentValue(track: Track, i: number, time: number): number {
  const { times, cubics, weighted } = track;
  const k = i * 4;
  let x = time - times[i];
  if (weighted !== null && weighted[i] === 1) {
    const { weightOut, weightIn } = track.curve;
    x = solveBezier(weightOut[i], 1 - weightIn[i + 1], x / (times[i + 1] - times[i]));
  }
  return ((cubics[k + 3] * x + cubics[k + 2]) * x + cubics[k + 1]) * x + cubics[k];
}

/** Value at `time` (frames). Quickest when times come in order. An empty curve is 0. */
export function sampleTrack(track: Track, time: number): number {
  const { times } = track;
  const last = times.length - 1;
  let i = track.cursor;
  if (time >= times[i] && time < times[i + 1]) return segmentValue(track, i, time);
  i++;
  if (time >= times[i] && time < times[i + 1]) {
    track.cursor = i;
    return segmentValue(track, i, time);
  }
  if (last < 0) return 0;
  if (time >= times[0] && time < times[last]) {
    i = keyBefore(times, time);
    track.cursor = i;
    return segmentValue(track, i, time);
  }
  return outside(track, time);
}

function outside(track: Track, time: number): number {
  const { curve, times } = track;
  const last = times.length - 1;
  if (time === times[last]) return curve.values[last];
  const run = mapRun(curve, time);
  if (run.time >= times[last]) return curve.values[last] + run.offset;
  if (run.time <= times[0]) return curve.values[0] + run.offset;
  return segmentValue(track, keyBefore(times, run.time), run.time) + run.offset;
}

/** Value of a curve at one time. */
export function sampleCurve(curve: Curve, time: number): number {
  return sampleTrack(trackOf(curve), time);
}

/** Values at start, start + step, … into `out` (its length says how many). */
export function sampleInto(curve: Curve, start: number, step: number, out: Float64Array): Float64Array {
  const track = trackOf(curve);
  const { times, cubics, weighted } = track;
  const count = out.length;
  const last = times.length - 1;
  let n = 0;
  while (n < count && !(start + n * step >= times[0])) out[n] = sampleTrack(track, start + n++ * step);
  for (let i = Math.max(0, keyBefore(times, start + n * step)); i < last && n < count; i++) {
    const t0 = times[i];
    const t1 = times[i + 1];
    if (weighted !== null && weighted[i] === 1) {
      for (let t = start + n * step; t < t1 && n < count; t = start + ++n * step) out[n] = segmentValue(track, i, t);
      continue;
    }
    const k = i * 4;
    const c0 = cubics[k];
    const c1 = cubics[k + 1];
    const c2 = cubics[k + 2];
    const c3 = cubics[k + 3];
    for (let t = start + n * step; t < t1 && n < count; t = start + ++n * step) {
      const x = t - t0;
      out[n] = ((c3 * x + c2) * x + c1) * x + c0;
    }
  }
  while (n < count) out[n] = sampleTrack(track, start + n++ * step);
  return out;
}

/** Slope (units per frame) just after `time`. */
export function slopeAfter(curve: Curve, time: number): number {
  const e = 1e-5;
  return (sampleCurve(curve, time + e) - sampleCurve(curve, time)) / e;
}
