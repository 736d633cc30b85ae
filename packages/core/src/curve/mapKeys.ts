import { type Curve, Tangent } from "./curve.ts";
import { settle } from "./tangents.ts";

/** Where keys go: times and values are scaled about zero, then shifted. */
export interface KeyMap {
  /** Above 0: what comes first stays first. */
  readonly timeScale: number;
  /** Frames. */
  readonly timeShift: number;
  readonly valueScale: number;
  readonly valueShift: number;
  /** Land on whole frames only. */
  readonly wholeFrames: boolean;
}

export const NO_MAP: KeyMap = { timeScale: 1, timeShift: 0, valueScale: 1, valueShift: 0, wholeFrames: false };

/** The frame to which a map takes a frame. */
export function mapTime(time: number, { timeScale, timeShift, wholeFrames }: KeyMap): number {
  const mapped = time * timeScale + timeShift;
  return wholeFrames ? Math.round(mapped) : mapped;
}

/**
 * Move and scale keys; free tangents turn with them. A moved key replaces a still one on which it lands;
 * of moved keys that fall on one frame the last one stays.
 */
export function mapKeys(curve: Curve, indices: Iterable<number>, map: KeyMap): Curve {
  const { timeScale, valueScale, valueShift } = map;
  const times = curve.times.slice();
  const values = curve.values.slice();
  const slopeIn = curve.slopeIn.slice();
  const slopeOut = curve.slopeOut.slice();
  const moves = new Uint8Array(times.length);
  for (const i of indices) {
    if (moves[i] === 1) continue;
    moves[i] = 1;
    times[i] = mapTime(times[i], map);
    values[i] = values[i] * valueScale + valueShift;
    if (curve.kindIn[i] === Tangent.free) slopeIn[i] *= valueScale / timeScale;
    if (curve.kindOut[i] === Tangent.free) slopeOut[i] *= valueScale / timeScale;
  }
  const mapped = { ...curve, times, values, slopeIn, slopeOut };
  if (isRising(times)) return settle(mapped);
  const order = mergedOrder(times, moves);
  return settle({
    ...mapped,
    times: inOrder(times, order),
    values: inOrder(values, order),
    slopeIn: inOrder(slopeIn, order),
    slopeOut: inOrder(slopeOut, order),
    weightIn: inOrder(curve.weightIn, order),
    weightOut: inOrder(curve.weightOut, order),
    kindIn: Uint8Array.from(order, (i) => curve.kindIn[i]),
    kindOut: Uint8Array.from(order, (i) => curve.kindOut[i]),
  });
}

/** Move keys by frames and by value. */
export function moveKeys(curve: Curve, indices: Iterable<number>, frames: number, amount: number): Curve {
  return mapKeys(curve, indices, { ...NO_MAP, timeShift: frames, valueShift: amount });
}

function isRising(times: Float64Array): boolean {
  for (let i = 1; i < times.length; i++) if (times[i] <= times[i - 1]) return false;
  return true;
}

/** Still and moved keys are each in order: merge the two, a moved one in place of a still one at its time. */
function mergedOrder(times: Float64Array, moves: Uint8Array): Int32Array {
  const n = times.length;
  const order = new Int32Array(n);
  let count = 0;
  const next = (from: number, moved: 0 | 1): number => {
    let i = from;
    while (i < n && moves[i] !== moved) i++;
    return i;
  };
  let still = next(0, 0);
  for (let m = next(0, 1); m < n; m = next(m + 1, 1)) {
    for (; still < n && times[still] < times[m]; still = next(still + 1, 0)) order[count++] = still;
    if (still < n && times[still] === times[m]) still = next(still + 1, 0);
    if (count > 0 && times[order[count - 1]] === times[m]) count--;
    order[count++] = m;
  }
  for (; still < n; still = next(still + 1, 0)) order[count++] = still;
  return order.subarray(0, count);
}

function inOrder(from: Float64Array, order: Int32Array): Float64Array {
  const column = new Float64Array(order.length);
  for (let i = 0; i < order.length; i++) column[i] = from[order[i]];
  return column;
}
