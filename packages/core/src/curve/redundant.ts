import { type Curve, keyAt, Tangent, THIRD } from "./curve.ts";
import { removeKeys } from "./edit.ts";
import { curveFromKeys } from "./make.ts";
import { sampleCurve, sampleTrack, type Track, trackOf } from "./track.ts";
import { freedKey, freedKind } from "./turn.ts";

/** Places within each segment at which a curve with and without a key are compared. */
const PLACES = 8;

/**
 * Take out keys that change nothing: those without which the curve stays within `tolerance` of what it was.
 * The first and the last key stay unless all keys are equal. `among` limits which keys may go.
 */
export function withoutRedundant(curve: Curve, among: readonly number[], tolerance: number): Curve {
  const all = curve.values.every((value) => Math.abs(value - curve.values[0]) <= tolerance);
  const least = curve.runIn.kind === "straight" || curve.runOut.kind === "straight" ? 0 : tolerance;
  const flat = all && curve.slopeIn.every((slope) => Math.abs(slope) <= least) && curve.slopeOut.every((slope) => Math.abs(slope) <= least);
  if (flat && curve.times.length > 1 && among.length === curve.times.length && !travels(curve))
    return removeKeys(curve, among.slice(1)) ?? curve;
  const ends = furthestEnds(curve.times.length, among);
  const track = trackOf(curve);
  const gone: number[] = [];
  for (let before = 0; before + 2 < curve.times.length; ) {
    const after = furthestSame(track, before, ends[before], tolerance);
    for (let i = before + 1; i < after; i++) gone.push(i);
    before = after;
  }
  return gone.length > 0 ? (removeKeys(holdAround(curve, gone), gone) ?? curve) : curve;
}

/** For each key the next one that must stay, or the last one. */
function furthestEnds(count: number, among: readonly number[]): Int32Array {
  const mayGo = new Uint8Array(count);
  for (const i of among) mayGo[i] = 1;
  const ends = new Int32Array(count).fill(count - 1);
  for (let i = count - 3; i >= 0; i--) ends[i] = mayGo[i + 1] === 1 ? ends[i + 1] : i + 1;
  return ends;
}

/**
 * The furthest key to which the curve from key `a` is within `tolerance` of one segment: reached for in strides twice as long
 * each time, then between the last that did and the first that did not. Key by key a hold of thousands of frames takes minutes.
 */
function furthestSame(track: Track, a: number, end: number, tolerance: number): number {
  let same = a + 1;
  let stride = 1;
  while (same + stride <= end && isSame(track, a, same + stride, tolerance)) {
    same += stride;
    stride *= 2;
  }
  for (let other = Math.min(same + stride, end + 1); other - same > 1; ) {
    const middle = (same + other) >> 1;
    if (isSame(track, a, middle, tolerance)) same = middle;
    else other = middle;
  }
  return same;
}

/** Would what is left of a difference between the ends add up from round to round? */
function travels({ values, runIn, runOut }: Curve): boolean {
  return (runIn.kind === "travel" || runOut.kind === "travel") && values[0] !== values[values.length - 1];
}

/** Is the curve from key `a` to key `b` within `tolerance` of one segment between the two? */
function isSame(track: Track, a: number, b: number, tolerance: number): boolean {
  const { curve } = track;
  const { times, values, kindOut, kindIn } = curve;
  const h = times[b] - times[a];
  const rise = values[b] - values[a];
  // A line that went to a key in between goes on to the other end.
  const m0 = kindOut[a] === Tangent.linear ? rise / h : curve.slopeOut[a];
  const m1 = kindIn[b] === Tangent.linear ? rise / h : curve.slopeIn[b];
  const isPlain =
    kindOut[a] !== Tangent.stepped && kindIn[b] !== Tangent.stepped && curve.weightOut[a] === THIRD && curve.weightIn[b] === THIRD;
  // Mostly it is the keys themselves that are off.
  if (isPlain) for (let i = a + 1; i < b; i++) if (Math.abs(values[i] - onSpan(curve, a, b, m0, m1, times[i])) > tolerance) return false;
  const span = isPlain ? null : segmentOf(curve, a, b, m0, m1);
  for (let i = a; i < b; i++)
    for (let k = 0; k < PLACES; k++) {
      const time = times[i] + ((times[i + 1] - times[i]) * k) / PLACES;
      const value = span ? sampleCurve(span, time) : onSpan(curve, a, b, m0, m1, time);
      if (Math.abs(sampleTrack(track, time) - value) > tolerance) return false;
    }
  return true;
}

/** The cubic from key `a` to key `b` with these slopes: Hermite's (glTF 2.0, appendix C). */
function onSpan({ times, values }: Curve, a: number, b: number, m0: number, m1: number, time: number): number {
  const h = times[b] - times[a];
  const x = (time - times[a]) / h;
  const y = 1 - x;
  return values[a] * y * y * (1 + 2 * x) + values[b] * x * x * (3 - 2 * x) + h * x * y * (m0 * y - m1 * x);
}

/** Two keys of a curve and nothing between them. */
function segmentOf(curve: Curve, a: number, b: number, slopeOut: number, slopeIn: number): Curve {
  return curveFromKeys([
    { ...freedKey(keyAt(curve, a)), slopeOut },
    { ...freedKey(keyAt(curve, b)), slopeIn },
  ]);
}

/** Tangents that would lean toward another neighbour once keys are gone are held as they are. */
function holdAround(curve: Curve, gone: readonly number[]): Curve {
  const beside = new Uint8Array(curve.times.length);
  for (const i of gone) for (let k = Math.max(0, i - 2); k <= i + 2 && k < beside.length; k++) beside[k] = 1;
  const held = (kinds: Uint8Array) => kinds.map((kind, i) => (beside[i] === 1 ? freedKind(kind) : kind));
  return { ...curve, kindIn: held(curve.kindIn), kindOut: held(curve.kindOut) };
}
