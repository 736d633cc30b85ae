import type { Curve } from "./curve.ts";
import { settle } from "./tangents.ts";

/** Move keys by frames and by value. A moved key replaces a still one on which it lands. */
export function moveKeys(curve: Curve, indices: Iterable<number>, frames: number, amount: number): Curve {
  const times = curve.times.slice();
  const values = curve.values.slice();
  const moves = new Uint8Array(times.length);
  for (const i of indices) {
    if (moves[i] === 1) continue;
    moves[i] = 1;
    times[i] += frames;
    values[i] += amount;
  }
  if (isRising(times)) return settle({ ...curve, times, values });
  const order = mergedOrder(times, moves);
  return settle({
    ...curve,
    times: inOrder(times, order),
    values: inOrder(values, order),
    slopeIn: inOrder(curve.slopeIn, order),
    slopeOut: inOrder(curve.slopeOut, order),
    weightIn: inOrder(curve.weightIn, order),
    weightOut: inOrder(curve.weightOut, order),
    kindIn: Uint8Array.from(order, (i) => curve.kindIn[i]),
    kindOut: Uint8Array.from(order, (i) => curve.kindOut[i]),
  });
}

function isRising(times: Float64Array): boolean {
  for (let i = 1; i < times.length; i++) if (times[i] <= times[i - 1]) return false;
  return true;
}

/** Still and moved keys are each in order: merge the two, a moved one before a still one at its time, which it replaces. */
function mergedOrder(times: Float64Array, moves: Uint8Array): number[] {
  const indices = Array.from(moves.keys());
  const still = indices.filter((i) => moves[i] === 0);
  const moved = indices.filter((i) => moves[i] === 1);
  const order: number[] = [];
  let s = 0;
  for (const m of moved) {
    while (s < still.length && times[still[s]] < times[m]) order.push(still[s++]);
    if (s < still.length && times[still[s]] === times[m]) s++;
    order.push(m);
  }
  return [...order, ...still.slice(s)];
}

function inOrder(from: Float64Array, order: readonly number[]): Float64Array {
  const column = new Float64Array(order.length);
  for (let i = 0; i < order.length; i++) column[i] = from[order[i]];
  return column;
}
