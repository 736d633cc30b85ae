import { type Curve, HOLD, type Key, type RunOn, Tangent, type TangentKind, THIRD } from "./curve.ts";
import { linearSlopes, settle } from "./tangents.ts";

export interface Runs {
  runIn?: RunOn;
  runOut?: RunOn;
}

/** Keys in order of time. Of two at one time the later in the list wins. */
function inOrder(keys: readonly Key[]): Key[] {
  const byTime = new Map<number, Key>();
  for (const key of keys) byTime.set(key.time, key);
  return [...byTime.values()].sort((a, b) => a.time - b.time);
}

/** A curve from keys in any order. Of two keys at one time the later in the list wins. */
export function curveFromKeys(keys: readonly Key[], runs: Runs = {}): Curve {
  const sorted = inOrder(keys);
  const column = (pick: (key: Key) => number) => Float64Array.from(sorted, pick);
  return settle({
    times: column((k) => k.time),
    values: column((k) => k.value),
    slopeIn: column((k) => k.slopeIn),
    slopeOut: column((k) => k.slopeOut),
    weightIn: column((k) => k.weightIn),
    weightOut: column((k) => k.weightOut),
    kindIn: Uint8Array.from(sorted, (k) => k.kindIn),
    kindOut: Uint8Array.from(sorted, (k) => k.kindOut),
    runIn: runs.runIn ?? HOLD,
    runOut: runs.runOut ?? HOLD,
  });
}

/**
 * A curve from keys whose tangents point just where the keys say: a kind that would turn a tangent elsewhere, or
 * change its length, becomes free. Each segment is then what it was, whatever came to stand beside it.
 */
export function curveKeeping(keys: readonly Key[], runs: Runs = {}): Curve {
  const sorted = inOrder(keys);
  const curve = curveFromKeys(sorted, runs);
  const kindIn = curve.kindIn.slice();
  const kindOut = curve.kindOut.slice();
  const last = sorted.length - 1;
  let differs = false;
  sorted.forEach((key, i) => {
    const turnedIn = isTurned(curve.slopeIn[i], curve.weightIn[i], key.slopeIn, key.weightIn, key.kindIn);
    const turnedOut = isTurned(curve.slopeOut[i], curve.weightOut[i], key.slopeOut, key.weightOut, key.kindOut);
    // Where nothing is beside a key its tangent matters only to a straight run.
    const before = turnedIn && (i > 0 || curve.runIn.kind === "straight");
    const after = turnedOut && (i < last || curve.runOut.kind === "straight");
    if (!before && !after) return;
    differs = true;
    if (before || key.kindIn === key.kindOut) kindIn[i] = key.kindIn === Tangent.stepped ? key.kindIn : Tangent.free;
    if (after || key.kindIn === key.kindOut) kindOut[i] = key.kindOut === Tangent.stepped ? key.kindOut : Tangent.free;
  });
  if (!differs) return curve;
  const column = (pick: (key: Key) => number) => Float64Array.from(sorted, pick);
  return settle({
    ...curve,
    kindIn,
    kindOut,
    slopeIn: column((key) => key.slopeIn),
    slopeOut: column((key) => key.slopeOut),
    weightIn: column((key) => key.weightIn),
    weightOut: column((key) => key.weightOut),
  });
}

function isTurned(slope: number, weight: number, wantedSlope: number, wantedWeight: number, kind: TangentKind): boolean {
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
