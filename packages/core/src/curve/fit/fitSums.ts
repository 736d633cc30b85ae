import { solveNormal } from "../../maths/leastSquares.ts";
import { hermiteProducts } from "./hermiteTable.ts";

// The sums of the weighted least squares of `minimax.ts`, and weights that follow the residuals. One fit is at work at a
// time, so all of it stands in arrays of this file: this is where simplifying spends its time.

/** The solution of the last question answered with yes: see each question for what it holds. */
export const found = new Float64Array(4);

const normal = new Float64Array(16);
const right = new Float64Array(4);
let weights = new Float64Array(1024);

/** Room for so many weights, whatever they are. */
export const roomFor = (count: number): void => {
  if (weights.length < count) weights = new Float64Array(count * 2);
};

/** So many weights of one. */
export function freshWeights(count: number): void {
  roomFor(count);
  weights.fill(1, 0, count);
}

/** How much less an error counts half-way between two samples, squared: there the curve may be anywhere in their range, widened by the tolerance. */
function looseness(y: Float64Array, k: number, tolerance: number): number {
  const share = tolerance / (tolerance + Math.abs(y[k + 1] - y[k]) / 2);
  return share * share;
}

/** Solve the normal equations into `found`. */
export const solve = (m: number): boolean => solveNormal(found, normal, right, m);

/** What the residuals of a solution were: the worst, the sum of their weighted squares, and of the new weights. */
export const residuals = { worst: 0, mean: 0, next: 0 };

/** No sample yet. A hair on the diagonal keeps spans of one frame solvable, where a slope has no sample to meet. */
export function clearSums(): void {
  normal[0] = normal[5] = normal[10] = normal[15] = 1e-9;
  normal[4] = normal[8] = normal[9] = normal[12] = normal[13] = normal[14] = 0;
  right[0] = right[1] = right[2] = right[3] = 0;
}

/** Add the half frames of a segment that starts at a: their weights from `from` on, or all one where it is below 0. */
function addHeld(y: Float64Array, a: number, v0: number, s0: number, held: number, th: Float64Array, tolerance: number, from: number) {
  for (let k = 0, q = 0; k < held; k++, q += 4) {
    const w = looseness(y, a + k, tolerance) * (from < 0 ? 1 : weights[from + k]);
    const c0 = th[q + 2];
    const c1 = th[q + 3];
    const r = (y[a + k] + y[a + k + 1]) / 2 - th[q] * v0 - th[q + 1] * s0;
    normal[0] += w * c0 * c0;
    normal[4] += w * c0 * c1;
    normal[5] += w * c1 * c1;
    right[0] += w * c0 * r;
    right[1] += w * c1 * r;
  }
}

/**
 * The sums of two joined segments, all samples of weight one: those of products are known by the lengths alone. `held`
 * half frames of the first are added.
 */
export function sumEvenly(
  y: Float64Array,
  a: number,
  v0: number,
  s0: number,
  first: number,
  second: number,
  t1: Float64Array,
  t2: Float64Array,
  held: number,
  th: Float64Array,
  tolerance: number,
): void {
  const ends = hermiteProducts(first);
  let n00 = 1e-9 + ends[5];
  let n10 = ends[8];
  let n11 = 1e-9 + ends[9];
  let g0 = 0;
  let g1 = 0;
  let g2 = 0;
  let g3 = 0;
  for (let k = 1, q = 4; k <= first; k++, q += 4) {
    const r = y[a + k] - t1[q] * v0 - t1[q + 1] * s0;
    g0 += t1[q + 2] * r;
    g1 += t1[q + 3] * r;
  }
  if (second > 0) {
    const both = hermiteProducts(second);
    n00 += both[0];
    n10 += both[1];
    n11 += both[2];
    normal[8] = both[3];
    normal[9] = both[4];
    normal[10] = 1e-9 + both[5];
    normal[12] = both[6];
    normal[13] = both[7];
    normal[14] = both[8];
    normal[15] = 1e-9 + both[9];
    const b = a + first;
    for (let k = 1, q = 4; k <= second; k++, q += 4) {
      const r = y[b + k];
      g0 += t2[q] * r;
      g1 += t2[q + 1] * r;
      g2 += t2[q + 2] * r;
      g3 += t2[q + 3] * r;
    }
  }
  normal[0] = n00;
  normal[4] = n10;
  normal[5] = n11;
  right[0] = g0;
  right[1] = g1;
  right[2] = g2;
  right[3] = g3;
  if (held > 0) addHeld(y, a, v0, s0, held, th, tolerance, -1);
}

/** Let weights that are all one follow the residuals of the solution found for two joined segments. */
export function weighFirst(
  y: Float64Array,
  a: number,
  v0: number,
  s0: number,
  first: number,
  second: number,
  t1: Float64Array,
  t2: Float64Array,
  held: number,
  th: Float64Array,
  tolerance: number,
): void {
  const p0 = found[0];
  const p1 = found[1];
  const p2 = found[2];
  const p3 = found[3];
  const frames = first + second;
  const b = a + first;
  let worst = 0;
  let mean = 0;
  let next = 0;
  for (let k = 1, q = 4; k <= first; k++, q += 4) {
    const e = Math.abs(y[a + k] - t1[q] * v0 - t1[q + 1] * s0 - t1[q + 2] * p0 - t1[q + 3] * p1);
    if (e > worst) worst = e;
    mean += e * e;
    next += e;
    weights[k - 1] = e;
  }
  for (let k = 1, q = 4; k <= second; k++, q += 4) {
    const e = Math.abs(y[b + k] - t2[q] * p0 - t2[q + 1] * p1 - t2[q + 2] * p2 - t2[q + 3] * p3);
    if (e > worst) worst = e;
    mean += e * e;
    next += e;
    weights[first + k - 1] = e;
  }
  for (let k = 0, q = 0; k < held; k++, q += 4) {
    const off = (y[a + k] + y[a + k + 1]) / 2 - th[q] * v0 - th[q + 1] * s0 - th[q + 2] * p0 - th[q + 3] * p1;
    const e = Math.abs(off) * Math.sqrt(looseness(y, a + k, tolerance));
    if (e > worst) worst = e;
    mean += e * e;
    next += e;
    weights[frames + k] = e;
  }
  residuals.worst = worst;
  residuals.mean = mean;
  residuals.next = next;
}

/** The same sums by the weights there are. */
export function sumWeighed(
  y: Float64Array,
  a: number,
  v0: number,
  s0: number,
  first: number,
  second: number,
  t1: Float64Array,
  t2: Float64Array,
  held: number,
  th: Float64Array,
  tolerance: number,
): void {
  clearSums();
  let n00 = normal[0];
  let n10 = 0;
  let n11 = normal[5];
  let g0 = 0;
  let g1 = 0;
  for (let k = 1, q = 4; k <= first; k++, q += 4) {
    const w = weights[k - 1];
    const c0 = t1[q + 2];
    const c1 = t1[q + 3];
    const r = y[a + k] - t1[q] * v0 - t1[q + 1] * s0;
    n00 += w * c0 * c0;
    n10 += w * c0 * c1;
    n11 += w * c1 * c1;
    g0 += w * c0 * r;
    g1 += w * c1 * r;
  }
  const b = a + first;
  for (let k = 1, q = 4; k <= second; k++, q += 4) {
    const w = weights[first + k - 1];
    const c0 = t2[q];
    const c1 = t2[q + 1];
    const c2 = t2[q + 2];
    const c3 = t2[q + 3];
    const r = w * y[b + k];
    const w0 = w * c0;
    const w1 = w * c1;
    const w2 = w * c2;
    n00 += w0 * c0;
    n10 += w0 * c1;
    n11 += w1 * c1;
    normal[8] += w0 * c2;
    normal[9] += w1 * c2;
    normal[10] += w2 * c2;
    normal[12] += w0 * c3;
    normal[13] += w1 * c3;
    normal[14] += w2 * c3;
    normal[15] += w * c3 * c3;
    g0 += c0 * r;
    g1 += c1 * r;
    right[2] += c2 * r;
    right[3] += c3 * r;
  }
  normal[0] = n00;
  normal[4] = n10;
  normal[5] = n11;
  right[0] = g0;
  right[1] = g1;
  if (held > 0) addHeld(y, a, v0, s0, held, th, tolerance, first + second);
}

/** Add the samples of one segment whose slope at a, and value and slope at b, are free. Answers the sum of the weights. */
export function addFree(y: Float64Array, a: number, v0: number, count: number, t: Float64Array): number {
  let n00 = normal[0];
  let n10 = 0;
  let n11 = normal[5];
  let n20 = 0;
  let n21 = 0;
  let n22 = normal[10];
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
  return total;
}

/** Let weights follow the residuals of a segment; answers false as soon as one is beyond the limit. */
export function reweigh(
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
  let worst = residuals.worst;
  let mean = residuals.mean;
  let next = residuals.next;
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
export function spreadWeights(count: number): void {
  const scale = count / residuals.next;
  for (let k = 0; k < count; k++) weights[k] = weights[k] * scale + 1e-12;
}

/** The same as `reweigh` for the half frames of a short segment. */
export function reweighHeld(
  y: Float64Array,
  a: number,
  held: number,
  t: Float64Array,
  p0: number,
  p1: number,
  p2: number,
  p3: number,
  from: number,
  tolerance: number,
  limit: number,
): boolean {
  for (let k = 0, q = 0; k < held; k++, q += 4) {
    const off = (y[a + k] + y[a + k + 1]) / 2 - t[q] * p0 - t[q + 1] * p1 - t[q + 2] * p2 - t[q + 3] * p3;
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
