import { type Curve, HOLD, type Key, type RunOn, Tangent, type TangentKind, THIRD } from "./curve.ts";
import { linearSlopes, settle } from "./tangents.ts";

export interface Runs {
  runIn?: RunOn;
  runOut?: RunOn;
}

/** Keys in order of time. Of two at one time the later in the list wins. */
function inOrder(keys: readonly Key[]): readonly Key[] {
  let isRising = true;
  for (let i = 1; i < keys.length && isRising; i++) isRising = keys[i].time > keys[i - 1].time;
  if (isRising) return keys;
  const byTime = new Map<number, Key>();
  for (const key of keys) byTime.set(key.time, key);
  return [...byTime.values()].sort((a, b) => a.time - b.time);
}

/** Keys in order as columns, whatever their kinds make of their slopes. */
function columnsOf(sorted: readonly Key[], runs: Runs): Curve {
  const n = sorted.length;
  const numbers = Array.from({ length: 6 }, () => new Float64Array(n));
  const [times, values, slopeIn, slopeOut, weightIn, weightOut] = numbers;
  const kindIn = new Uint8Array(n);
  const kindOut = new Uint8Array(n);
  for (let i = 0; i < n; i++) {
    const key = sorted[i];
    times[i] = key.time;
    values[i] = key.value;
    slopeIn[i] = key.slopeIn;
    slopeOut[i] = key.slopeOut;
    weightIn[i] = key.weightIn;
    weightOut[i] = key.weightOut;
    kindIn[i] = key.kindIn;
    kindOut[i] = key.kindOut;
  }
  return { times, values, slopeIn, slopeOut, weightIn, weightOut, kindIn, kindOut, runIn: runs.runIn ?? HOLD, runOut: runs.runOut ?? HOLD };
}

/** A curve from keys in any order. Of two keys at one time the later in the list wins. */
export function curveFromKeys(keys: readonly Key[], runs: Runs = {}): Curve {
  return settle(columnsOf(inOrder(keys), runs));
}

/**
 * A curve from keys whose tangents point just where the keys say: a kind that would turn a tangent elsewhere, or
 * change its length, becomes free. Each segment is then what it was, whatever came to stand beside it.
 */
export function curveKeeping(keys: readonly Key[], runs: Runs = {}): Curve {
  return keeping(columnsOf(inOrder(keys), runs));
}

/** The same for columns; only the keys from `first` to `last` are looked at, where others cannot have turned. */
export function keeping(wanted: Curve, first = 0, last = wanted.times.length - 1): Curve {
  const settled = settle(wanted);
  const end = wanted.times.length - 1;
  const kindIn = wanted.kindIn.slice();
  const kindOut = wanted.kindOut.slice();
  let differs = false;
  for (let i = Math.max(0, first); i <= Math.min(end, last); i++) {
    const turnedIn = isTurned(settled.slopeIn[i], settled.weightIn[i], wanted.slopeIn[i], wanted.weightIn[i], wanted.kindIn[i]);
    const turnedOut = isTurned(settled.slopeOut[i], settled.weightOut[i], wanted.slopeOut[i], wanted.weightOut[i], wanted.kindOut[i]);
    // Where nothing is beside a key its tangent matters only to a straight run.
    const before = turnedIn && (i > 0 || wanted.runIn.kind === "straight");
    const after = turnedOut && (i < end || wanted.runOut.kind === "straight");
    if (!before && !after) continue;
    differs = true;
    const alike = wanted.kindIn[i] === wanted.kindOut[i];
    if ((before || alike) && kindIn[i] !== Tangent.stepped) kindIn[i] = Tangent.free;
    if ((after || alike) && kindOut[i] !== Tangent.stepped) kindOut[i] = Tangent.free;
  }
  return differs ? settle({ ...wanted, kindIn, kindOut }) : settled;
}

function isTurned(slope: number, weight: number, wantedSlope: number, wantedWeight: number, kind: number): boolean {
  if (kind === Tangent.stepped) return false;
  // The chords of a line that was cut differ by rounding alone.
  const same = kind === Tangent.linear ? Math.abs(slope - wantedSlope) <= 1e-9 * (1 + Math.abs(wantedSlope)) : slope === wantedSlope;
  return !same || weight !== wantedWeight;
}

/** A curve that has one value at all times: a single flat key. */
export function constantCurve(value: number, time = 0): Curve {
  return curveFrom([[time, value]], Tangent.flat);
}

/** A curve from `[frame, value]` pairs, all keys of one kind. */
export function curveFrom(pairs: readonly (readonly [number, number])[], kind: TangentKind = Tangent.auto): Curve {
  return curveFromKeys(
    pairs.map(([time, value]) => ({
      time,
      value,
      slopeIn: 0,
      slopeOut: 0,
      weightIn: THIRD,
      weightOut: THIRD,
      kindIn: kind === Tangent.stepped ? Tangent.flat : kind,
      kindOut: kind,
    })),
  );
}

/** Columns that many curves can share: linear keys with plain handles. */
export interface LinearFrame {
  readonly times: Float64Array;
  readonly thirds: Float64Array;
  readonly kinds: Uint8Array;
}

export function linearFrame(times: Float64Array): LinearFrame {
  return {
    times,
    thirds: new Float64Array(times.length).fill(THIRD),
    kinds: new Uint8Array(times.length).fill(Tangent.linear),
  };
}

/** Captured samples as a curve with a linear key at each time. Curves of one file share a frame. */
export function linearCurve(frame: LinearFrame, values: Float64Array): Curve {
  const { times, thirds, kinds } = frame;
  return {
    times,
    values,
    ...linearSlopes(times, values),
    weightIn: thirds,
    weightOut: thirds,
    kindIn: kinds,
    kindOut: kinds,
    runIn: HOLD,
    runOut: HOLD,
  };
}
