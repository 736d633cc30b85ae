/**
 * A function curve as columns. Times are in frames, values in the channel's unit, slopes in units
 * per frame. Curves are never changed in place: every edit returns a new curve, and everything that
 * caches (drawing, saving, syncing, undo) rests on that identity.
 */
export const Tangent = { auto: 0, smooth: 1, flat: 2, linear: 3, stepped: 4, free: 5 } as const;
export type TangentKind = (typeof Tangent)[keyof typeof Tangent];
export type TangentName = keyof typeof Tangent;
export const tangentNames = Object.keys(Tangent) as TangentName[];

/** What a curve does before its first key (run-in) or after its last one (run-out). */
export type RunKind = "hold" | "straight" | "repeat" | "travel" | "pingpong";
export interface RunOn {
  readonly kind: RunKind;
  /** How many extra rounds; 0 means for ever. Hold and straight ignore it. */
  readonly rounds: number;
}
export const HOLD: RunOn = { kind: "hold", rounds: 0 };

/** The handle length, as a share of the segment, at which a segment is a plain cubic Hermite. */
export const THIRD = 1 / 3;

export interface Curve {
  /** Frames, strictly increasing. */
  readonly times: Float64Array;
  readonly values: Float64Array;
  /** The slope in force on each side, units per frame, whatever its kind. */
  readonly slopeIn: Float64Array;
  readonly slopeOut: Float64Array;
  /** Handle length as a share (0..1) of the segment on that side. */
  readonly weightIn: Float64Array;
  readonly weightOut: Float64Array;
  readonly kindIn: Uint8Array;
  readonly kindOut: Uint8Array;
  readonly runIn: RunOn;
  readonly runOut: RunOn;
}

/** One key taken out of the columns, for edits of a few keys. */
export interface Key {
  time: number;
  value: number;
  slopeIn: number;
  slopeOut: number;
  weightIn: number;
  weightOut: number;
  kindIn: TangentKind;
  kindOut: TangentKind;
}

export function keyCount(curve: Curve): number {
  return curve.times.length;
}

export function keyAt(curve: Curve, i: number): Key {
  return {
    time: curve.times[i],
    value: curve.values[i],
    slopeIn: curve.slopeIn[i],
    slopeOut: curve.slopeOut[i],
    weightIn: curve.weightIn[i],
    weightOut: curve.weightOut[i],
    kindIn: curve.kindIn[i] as TangentKind,
    kindOut: curve.kindOut[i] as TangentKind,
  };
}

export function keysOf(curve: Curve): Key[] {
  const keys: Key[] = new Array(keyCount(curve));
  for (let i = 0; i < keys.length; i++) keys[i] = keyAt(curve, i);
  return keys;
}

export function makeKey(time: number, value: number, kind: TangentKind = Tangent.auto): Key {
  return {
    time,
    value,
    slopeIn: 0,
    slopeOut: 0,
    weightIn: THIRD,
    weightOut: THIRD,
    kindIn: kind === Tangent.stepped ? Tangent.flat : kind,
    kindOut: kind,
  };
}

/** Unbroken: both sides have one kind that keeps them in line, or are free with one slope. */
export function isBroken(key: Key): boolean {
  if (key.kindIn !== key.kindOut) return true;
  if (key.kindIn === Tangent.linear || key.kindIn === Tangent.stepped) return true;
  return key.kindIn === Tangent.free && key.slopeIn !== key.slopeOut;
}

/** Index of the last key at or before `time`; −1 when `time` is before the first. */
export function keyBefore(times: Float64Array, time: number): number {
  let low = 0;
  let high = times.length;
  while (low < high) {
    const middle = (low + high) >>> 1;
    if (times[middle] <= time) low = middle + 1;
    else high = middle;
  }
  return low - 1;
}

/** Index of the key exactly at `time` (within a millionth of a frame), or −1. */
export function keyOn(curve: Curve, time: number): number {
  const i = keyBefore(curve.times, time + 1e-6);
  return i >= 0 && Math.abs(curve.times[i] - time) <= 1e-6 ? i : -1;
}

/** Indices of the keys at these times; times without a key are passed over. Rising times are found in one walk. */
export function keysOn(curve: Curve, times: readonly number[]): number[] {
  const indices: number[] = [];
  let i = 0;
  for (const time of times) {
    if (i > 0 && curve.times[i - 1] >= time - 1e-6) i = 0;
    if (i === 0) i = Math.max(0, keyBefore(curve.times, time - 1e-6));
    while (i < curve.times.length && curve.times[i] < time - 1e-6) i++;
    if (i < curve.times.length && curve.times[i] <= time + 1e-6) indices.push(i++);
  }
  return indices;
}
