import { type Curve, HOLD, type Key, type RunOn, Tangent, type TangentKind, THIRD } from "./curve.ts";
import { linearSlopes, settle } from "./tangents.ts";

export interface Runs {
  runIn?: RunOn;
  runOut?: RunOn;
}

/** A curve from keys in any order. Of two keys at one time the later in the list wins. */
export function curveFromKeys(keys: readonly Key[], runs: Runs = {}): Curve {
  const byTime = new Map<number, Key>();
  for (const key of keys) byTime.set(key.time, key);
  const sorted = [...byTime.values()].sort((a, b) => a.time - b.time);
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
