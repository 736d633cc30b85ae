import { solveNormal } from "../../maths/leastSquares.ts";
import { hermiteHalves, hermiteProducts, hermiteTable, isCalm } from "./hermiteTable.ts";

/**
 * Can one or two joined cubic segments run within a tolerance of the samples at every frame? Answered
 * by least squares whose weights follow the residuals (Lawson 1961): they lean toward the smallest
 * worst error, any solution within the tolerance ends the search with yes, and the weighted mean
 * error, which can never exceed the smallest worst error, ends it with no.
 */

/** The solution of the last question answered with yes: see each question for what it holds. */
export const found = new Float64Array(4);

const ROUNDS = 4;
/** Joined spans stop sooner: a solution that uses up the whole tolerance leaves the next span no room. */
const JOINED_ROUNDS = 2;
/** Spans up to this many frames are also held at their half frames: so few samples leave them loose. */
const SHORT = 4;
const normal = new Float64Array(16);
const right = new Float64Array(4);
let weights = new Float64Array(1024);

function freshWeights(count: number): void {
  if (weights.length < count) weights = new Float64Array(count * 2);
  weights.fill(1, 0, count);
}

/**
 * How much less an error counts half-way between two samples, squared: there the curve may be anywhere
 * in their range, widened by the tolerance.
 */
function looseness(y: Float64Array, k: number, tolerance: number): number {
  const share = tolerance / (tolerance + Math.abs(y[k + 1] - y[k]) / 2);
  return share * share;
}

/** Solve the normal equations into `found`. */
const solve = (m: number): boolean => solveNormal(found, normal, right, m);

/** No sample yet. A hair on the diagonal keeps spans of one frame solvable, where a slope has no sample to meet. */
function clearSums(): void {
  normal.fill(0);
  for (let i = 0; i < 16; i += 5) normal[i] = 1e-9;
  right.fill(0);
}

/** Add the samples of both segments, all of weight one: then the sums of products are known by the lengths alone. */
function addEven(y: Float64Array, a: number, v0: number, s0: number, first: number, second: number): void {
  const t1 = hermiteTable(first);
  const ends = hermiteProducts(first);
  normal[0] += ends[5];
  normal[4] += ends[8];
  normal[5] += ends[9];
  let [g0, g1, g2, g3] = [0, 0, 0, 0];
  for (let k = 1, q = 4; k <= first; k++, q += 4) {
    const r = y[a + k] - t1[q] * v0 - t1[q + 1] * s0;
    g0 += t1[q + 2] * r;
    g1 += t1[q + 3] * r;
  }
  if (second > 0) {
    const t2 = hermiteTable(second);
    const both = hermiteProducts(second);
    for (let i = 0, n = 0; i < 4; i++) for (let j = 0; j <= i; j++, n++) normal[i * 4 + j] += both[n];
    const b = a + first;
    for (let k = 1, q = 4; k <= second; k++, q += 4) {
      const r = y[b + k];
      g0 += t2[q] * r;
      g1 += t2[q + 1] * r;
      g2 += t2[q + 2] * r;
      g3 += t2[q + 3] * r;
    }
  }
  right[0] = g0;
  right[1] = g1;
  right[2] = g2;
  right[3] = g3;
}

/** Add the samples of the segment a–b, from a fixed value and slope, by their weights. Answers the sum of the weights. */
function addFirst(y: Float64Array, a: number, v0: number, s0: number, first: number, t: Float64Array): number {
  let [n00, n10, n11, g0, g1, total] = [normal[0], normal[4], normal[5], right[0], right[1], 0];
  for (let k = 1, q = 4; k <= first; k++, q += 4) {
    const w = weights[k - 1];
    const c0 = t[q + 2];
    const c1 = t[q + 3];
    const r = y[a + k] - t[q] * v0 - t[q + 1] * s0;
    n00 += w * c0 * c0;
    n10 += w * c0 * c1;
    n11 += w * c1 * c1;
    g0 += w * c0 * r;
    g1 += w * c1 * r;
    total += w;
  }
  [normal[0], normal[4], normal[5], right[0], right[1]] = [n00, n10, n11, g0, g1];
  return total;
}

/** Add the samples of the segment b–c, both ends free, by their weights from `from` on. Answers `sum` with the sum of the weights. */
function addSecond(y: Float64Array, b: number, second: number, t: Float64Array, from: number, sum: number): number {
  let [n00, n10, n11, n20, n21] = [normal[0], normal[4], normal[5], normal[8], normal[9]];
  let [n22, n30, n31, n32, n33] = [normal[10], normal[12], normal[13], normal[14], normal[15]];
  let [g0, g1, g2, g3] = [right[0], right[1], right[2], right[3]];
  let total = sum;
  for (let k = 1, q = 4; k <= second; k++, q += 4) {
    const w = weights[from + k - 1];
    const c0 = t[q];
    const c1 = t[q + 1];
    const c2 = t[q + 2];
    const c3 = t[q + 3];
    const r = w * y[b + k];
    const w0 = w * c0;
    const w1 = w * c1;
    const w2 = w * c2;
    n00 += w0 * c0;
    n10 += w0 * c1;
    n11 += w1 * c1;
    n20 += w0 * c2;
    n21 += w1 * c2;
    n22 += w2 * c2;
    n30 += w0 * c3;
    n31 += w1 * c3;
    n32 += w2 * c3;
    n33 += w * c3 * c3;
    g0 += c0 * r;
    g1 += c1 * r;
    g2 += c2 * r;
    g3 += c3 * r;
    total += w;
  }
  normal[0] = n00;
  normal[4] = n10;
  normal[5] = n11;
  normal[8] = n20;
  normal[9] = n21;
  normal[10] = n22;
  normal[12] = n30;
  normal[13] = n31;
  normal[14] = n32;
  normal[15] = n33;
  right[0] = g0;
  right[1] = g1;
  right[2] = g2;
  right[3] = g3;
  return total;
}

/** Add the half frames of a short segment a–b. Answers `sum` with the sum of their weights. */
function addHeld(
  y: Float64Array,
  a: number,
  v0: number,
  s0: number,
  held: number,
  t: Float64Array,
  from: number,
  tolerance: number,
  sum: number,
): number {
  let total = sum;
  for (let k = 0, q = 0; k < held; k++, q += 4) {
    const w = weights[from + k] * looseness(y, a + k, tolerance);
    const c0 = t[q + 2];
    const c1 = t[q + 3];
    const r = (y[a + k] + y[a + k + 1]) / 2 - t[q] * v0 - t[q + 1] * s0;
    normal[0] += w * c0 * c0;
    normal[4] += w * c0 * c1;
    normal[5] += w * c1 * c1;
    right[0] += w * c0 * r;
    right[1] += w * c1 * r;
    total += weights[from + k];
  }
  return total;
}

/** What the residuals of a solution were: the worst, the sum of their weighted squares, and of the new weights. */
const residuals = { worst: 0, mean: 0, next: 0 };

/** Let weights follow the residuals of a segment; answers false as soon as one is beyond the limit. */
function reweigh(
  y: Float64Array,
  at: number,
  length: number,
  t: Float64Array,
  p0: number,
  p1: number,
  p2: number,
  p3: number,
  from: number,
  limit: number,
): boolean {
  let { worst, mean, next } = residuals;
  for (let k = 1, q = 4; k <= length; k++, q += 4) {
    const e = Math.abs(y[at + k] - t[q] * p0 - t[q + 1] * p1 - t[q + 2] * p2 - t[q + 3] * p3);
    if (e > worst) {
      if (e > limit) return false;
      worst = e;
    }
    const we = weights[from + k - 1] * e;
    mean += we * e;
    next += we;
    weights[from + k - 1] = we;
  }
  residuals.worst = worst;
  residuals.mean = mean;
  residuals.next = next;
  return true;
}

/** Weights of one on average again, none of them nothing. */
function spreadWeights(count: number): void {
  const scale = count / residuals.next;
  for (let k = 0; k < count; k++) weights[k] = weights[k] * scale + 1e-12;
}

/** The same as `reweigh` for the half frames of a short segment. */
function reweighHeld(
  y: Float64Array,
  a: number,
  held: number,
  t: Float64Array,
  p: readonly [number, number, number, number],
  from: number,
  tolerance: number,
  limit: number,
): boolean {
  for (let k = 0, q = 0; k < held; k++, q += 4) {
    const off = (y[a + k] + y[a + k + 1]) / 2 - t[q] * p[0] - t[q + 1] * p[1] - t[q + 2] * p[2] - t[q + 3] * p[3];
    const e = Math.abs(off) * Math.sqrt(looseness(y, a + k, tolerance));
    if (e > residuals.worst) {
      if (e > limit) return false;
      residuals.worst = e;
    }
    const we = weights[from + k] * e;
    residuals.mean += we * e;
    residuals.next += we;
    weights[from + k] = we;
  }
  return true;
}

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
  freshWeights(count);
  for (let round = 0; round < JOINED_ROUNDS; round++) {
    clearSums();
    let total = frames;
    if (round === 0) addEven(y, a, v0, s0, first, second);
    else {
      total = addFirst(y, a, v0, s0, first, t1);
      total = addSecond(y, b, second, t2, first, total);
    }
    if (held > 0) total = addHeld(y, a, v0, s0, held, th, frames, tolerance, total);
    if (!solve(second > 0 ? 4 : 2)) return false;
    const p0 = found[0];
    const p1 = found[1];
    const limit = round === JOINED_ROUNDS - 1 ? tolerance : Number.POSITIVE_INFINITY;
    residuals.worst = residuals.mean = residuals.next = 0;
    if (!reweigh(y, a, first, t1, v0, s0, p0, p1, 0, limit)) return false;
    if (second > 0 && !reweigh(y, b, second, t2, p0, p1, found[2], found[3], first, limit)) return false;
    if (held > 0 && !reweighHeld(y, a, held, th, [v0, s0, p0, p1], frames, tolerance, limit)) return false;
    if (residuals.worst <= tolerance) return isCalm(y, a, b, v0, s0, p0, p1, tolerance);
    if (residuals.mean > tolerance * tolerance * total) return false;
    spreadWeights(count);
  }
  return false;
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
    let n00 = 1e-9;
    let n10 = 0;
    let n11 = 1e-9;
    let n20 = 0;
    let n21 = 0;
    let n22 = 1e-9;
    let g0 = 0;
    let g1 = 0;
    let g2 = 0;
    let total = 0;
    for (let k = 1, q = 4; k <= count; k++, q += 4) {
      const w = weights[k - 1];
      const c0 = t[q + 1];
      const c1 = t[q + 2];
      const c2 = t[q + 3];
      const r = w * (y[a + k] - t[q] * v0);
      const w0 = w * c0;
      const w1 = w * c1;
      n00 += w0 * c0;
      n10 += w0 * c1;
      n11 += w1 * c1;
      n20 += w0 * c2;
      n21 += w1 * c2;
      n22 += w * c2 * c2;
      g0 += c0 * r;
      g1 += c1 * r;
      g2 += c2 * r;
      total += w;
    }
    normal[0] = n00;
    normal[4] = n10;
    normal[5] = n11;
    normal[8] = n20;
    normal[9] = n21;
    normal[10] = n22;
    right[0] = g0;
    right[1] = g1;
    right[2] = g2;
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
