import {
  addFree,
  clearSums,
  found,
  freshWeights,
  residuals,
  reweigh,
  reweighHeld,
  roomFor,
  solve,
  spreadWeights,
  sumEvenly,
  sumWeighed,
  weighFirst,
} from "./fitSums.ts";
import { hermiteHalves, hermiteTable, isCalm } from "./hermiteTable.ts";

/**
 * Can one or two joined cubic segments run within a tolerance of the samples at every frame? Answered
 * by least squares whose weights follow the residuals (Lawson 1961): they lean toward the smallest
 * worst error, any solution within the tolerance ends the search with yes, and the weighted mean
 * error, which can never exceed the smallest worst error, ends it with no.
 */

const ROUNDS = 4;
/** Spans up to this many frames are also held at their half frames: so few samples leave them loose. */
const SHORT = 4;

/**
 * Two segments a–b–c with one slope at b, from a fixed value and slope at a. With c = b only the first.
 * Found: value and slope at b, value and slope at c.
 */
export function fitJoined(y: Float64Array, a: number, v0: number, s0: number, b: number, c: number, tolerance: number): boolean {
  const first = b - a;
  const second = c - b;
  const t1 = hermiteTable(first);
  const t2 = second > 0 ? hermiteTable(second) : t1;
  const held = first <= SHORT ? first : 0;
  const th = held > 0 ? hermiteHalves(first) : t1;
  const frames = first + second;
  const count = frames + held;
  roomFor(count);
  const unknowns = second > 0 ? 4 : 2;
  sumEvenly(y, a, v0, s0, first, second, t1, t2, held, th, tolerance);
  if (!solve(unknowns)) return false;
  weighFirst(y, a, v0, s0, first, second, t1, t2, held, th, tolerance);
  if (residuals.worst <= tolerance) return isCalm(y, a, b, v0, s0, found[0], found[1], tolerance);
  if (residuals.mean > tolerance * tolerance * count) return false;
  // A second look with these weights, and no more: a solution that uses up the whole tolerance leaves the next span no room.
  spreadWeights(count);
  sumWeighed(y, a, v0, s0, first, second, t1, t2, held, th, tolerance);
  if (!solve(unknowns)) return false;
  const p0 = found[0];
  const p1 = found[1];
  residuals.worst = residuals.mean = residuals.next = 0;
  if (!reweigh(y, a, first, t1, v0, s0, p0, p1, 0, tolerance)) return false;
  if (second > 0 && !reweigh(y, b, second, t2, p0, p1, found[2], found[3], first, tolerance)) return false;
  if (held > 0 && !reweighHeld(y, a, held, th, v0, s0, p0, p1, frames, tolerance, tolerance)) return false;
  return isCalm(y, a, b, v0, s0, p0, p1, tolerance);
}

/**
 * One segment a–b from a fixed value at a, its slope there free.
 * Found: slope at a, value and slope at b.
 */
export function fitFree(y: Float64Array, a: number, v0: number, b: number, tolerance: number): boolean {
  const count = b - a;
  const t = hermiteTable(count);
  const limit = tolerance * tolerance;
  freshWeights(count);
  for (let round = 0; round < ROUNDS; round++) {
    clearSums();
    const total = addFree(y, a, v0, count, t);
    if (!solve(3)) return false;
    const p0 = found[0];
    const p1 = found[1];
    const p2 = found[2];
    residuals.worst = residuals.mean = residuals.next = 0;
    if (!reweigh(y, a, count, t, v0, p0, p1, p2, 0, round === ROUNDS - 1 ? tolerance : Number.POSITIVE_INFINITY)) return false;
    if (residuals.worst <= tolerance) return isCalm(y, a, b, v0, p0, p1, p2, tolerance);
    if (residuals.mean > limit * total) return false;
    spreadWeights(count);
  }
  return false;
}
