import { type Curve, HOLD, type Key, keyBefore, keyOn, keysOf, makeKey, Tangent, type TangentKind } from "./curve.ts";
import { openAllRounds, openRounds } from "./loop.ts";
import { curveFromKeys, curveKeeping, keeping } from "./make.ts";
import { splitAt } from "./split.ts";
import { someKeys } from "./someKeys.ts";
import { settle } from "./tangents.ts";
import { sampleCurve } from "./track.ts";
import { freedKind, turnedCurve } from "./turn.ts";

/** Which side of a key an edit touches. */
export type Side = "in" | "out" | "both";

function rebuild(curve: Curve, keys: readonly Key[]): Curve {
  return curveFromKeys(keys, curve);
}

/**
 * Put a key with this value at this time; a key that is there keeps its tangents' kinds. In a round the rounds up
 * to it become keys first, so that all else plays on as it did.
 */
export function setKey(given: Curve, time: number, value: number, kind: TangentKind = Tangent.auto): Curve {
  const curve = openRounds(given, time);
  const at = keyOn(curve, time);
  if (at >= 0) {
    const values = curve.values.slice();
    values[at] = value;
    return settle({ ...curve, values });
  }
  return rebuild(curve, [...keysOf(curve), makeKey(time, value, kind)]);
}

/**
 * Insert a key that changes nothing: the curve has the same value at every time as before.
 * Neighbours whose slope would follow the new key are made free with the slope they had. In a round the rounds up
 * to it become keys first (see `loop.ts`).
 */
export function insertKeyOn(given: Curve, time: number): Curve {
  const curve = openAllRounds(given, time);
  if (keyOn(curve, time) >= 0) return curve;
  const i = keyBefore(curve.times, time);
  const keys = keysOf(curve);
  const n = keys.length;
  if (n === 0) return rebuild(curve, [makeKey(time, 0)]);
  if (i < 0 || i === n - 1) {
    const edge = i < 0 ? keys[0] : keys[n - 1];
    const slope = i < 0 ? edge.slopeIn : edge.slopeOut;
    const outside = { ...makeKey(time, sampleCurve(curve, time), Tangent.linear), slopeIn: slope, slopeOut: slope };
    const run = i < 0 ? curve.runIn : curve.runOut;
    if (run.kind !== "straight") {
      // Beyond the keys a held curve stays level between the old end and the new key.
      outside.kindIn = outside.kindOut = Tangent.flat;
      outside.slopeIn = outside.slopeOut = 0;
      if (i < 0) flattenSide(edge, "in");
      else flattenSide(edge, "out");
    }
    return curveKeeping([...keys, outside], curve);
  }
  return splitAt(curve, [time]);
}

/** The same with a key at each of some times. */
export function insertKeysOn(curve: Curve, times: Iterable<number>): Curve {
  const rising = [...new Set(times)].sort((a, b) => a - b);
  if (rising.length === 0) return curve;
  const wide = insertKeyOn(insertKeyOn(curve, rising[0]), rising[rising.length - 1]);
  const missing = rising.filter((time) => keyOn(wide, time) < 0);
  // Of two times that are one as keys go, the first has the key.
  const apart = missing.filter((time, i) => i === 0 || time > missing[i - 1] + 1e-6);
  return apart.length === 0 ? wide : splitAt(wide, apart);
}

function flattenSide(key: Key, side: "in" | "out"): void {
  if (side === "in") {
    if (key.kindOut !== Tangent.stepped && key.kindOut !== Tangent.linear) key.kindOut = freedKind(key.kindOut);
    key.kindIn = Tangent.flat;
    key.slopeIn = 0;
  } else {
    if (key.kindIn !== Tangent.linear) key.kindIn = freedKind(key.kindIn);
    key.kindOut = Tangent.flat;
    key.slopeOut = 0;
  }
}

/** The curve without these keys, or null when none would be left. */
export function removeKeys(curve: Curve, indices: Iterable<number>): Curve | null {
  const gone = new Uint8Array(curve.times.length);
  for (const i of indices) gone[i] = 1;
  const left: number[] = [];
  for (let i = 0; i < gone.length; i++) if (gone[i] === 0) left.push(i);
  return left.length > 0 ? settle(someKeys(curve, left)) : null;
}

/** Set the kind of tangent of these keys (all when null) on a side. */
export function setTangents(curve: Curve, indices: Iterable<number> | null, kind: TangentKind, side: Side): Curve {
  const kindIn = curve.kindIn.slice();
  const kindOut = curve.kindOut.slice();
  for (const i of indices ?? curve.times.keys()) {
    // "Stepped" is a matter of the segment after the key; the side before it only ends level.
    if (side !== "out") kindIn[i] = kind === Tangent.stepped && side === "both" ? levelUnlessSet(kindIn[i]) : kind;
    if (side !== "in") kindOut[i] = kind;
  }
  return settle({ ...curve, kindIn, kindOut });
}

function levelUnlessSet(kind: number): number {
  return kind === Tangent.stepped ? Tangent.flat : kind;
}

/** Set a handle: slope in units per frame, weight as a share of its segment (0.01..1). */
export function setHandle(curve: Curve, i: number, side: "in" | "out", slope: number, weight: number, together: boolean): Curve {
  const keys = keysOf(curve);
  const key = keys[i];
  const share = Math.min(1, Math.max(0.01, weight));
  if (side === "in" || together) {
    key.slopeIn = slope;
    key.kindIn = Tangent.free;
  }
  if (side === "out" || together) {
    key.slopeOut = slope;
    key.kindOut = Tangent.free;
  }
  if (side === "in") key.weightIn = share;
  else key.weightOut = share;
  if (!together) {
    if (side === "in") key.kindOut = freedKind(key.kindOut);
    else key.kindIn = freedKind(key.kindIn);
  }
  return rebuild(curve, keys);
}

/** Shift every key at or after `from` by `frames` (the ripple). */
export function shiftFrom(curve: Curve, from: number, frames: number): Curve {
  const { times } = curve;
  if (times.length === 0 || times[times.length - 1] < from - 1e-6) return curve;
  const shifted = times.slice();
  for (let i = 0; i < shifted.length; i++) if (times[i] >= from - 1e-6) shifted[i] = times[i] + frames;
  const next = { ...curve, times: shifted };
  // Shifted as a whole it keeps its slopes.
  return times[0] >= from - 1e-6 ? next : settle(next);
}

/** The part between two frames, with keys at both, the curve unchanged in between. */
export function clipCurve(curve: Curve, start: number, end: number): Curve {
  const cut = insertKeyOn(insertKeyOn(curve, start), end);
  const [first, last] = [keyBefore(cut.times, start - 1e-6) + 1, keyBefore(cut.times, end + 1e-6)];
  const part = someKeys(
    cut,
    Array.from({ length: last - first + 1 }, (_, k) => first + k),
  );
  return settle({ ...part, kindIn: part.kindIn.map(freedKind), kindOut: part.kindOut.map(freedKind), runIn: HOLD, runOut: HOLD });
}

/**
 * Mirror in time what lies between two frames: t becomes start + end − t. Keys are put at both ends
 * first so that the reversed part is the exact mirror image. The next key outside keeps its place and
 * slope, so that nothing changes beyond it.
 */
export function reverseSpan(curve: Curve, start: number, end: number): Curve {
  const cut = insertKeyOn(insertKeyOn(curve, start), end);
  const [from, to] = [keyOn(cut, start), keyOn(cut, end)];
  const turned = turnedCurve(cut, start + end, from, to);
  // The outer sides of both ends stay as they were.
  for (const name of ["slopeIn", "weightIn", "kindIn"] as const) turned[name][from] = cut[name][from];
  for (const name of ["slopeOut", "weightOut", "kindOut"] as const) turned[name][to] = cut[name][to];
  return keeping(turned);
}
