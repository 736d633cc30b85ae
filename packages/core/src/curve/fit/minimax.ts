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
  const limit = tolerance * tolerance;
  freshWeights(count);
  for (let round = 0; round < JOINED_ROUNDS; round++) {
    // A hair on the diagonal keeps spans of one frame solvable, where a slope has no sample to meet.
    let n00 = 1e-9;
    let n10 = 0;
    let n11 = 1e-9;
    let n20 = 0;
    let n21 = 0;
    let n22 = 1e-9;
    let n30 = 0;
    let n31 = 0;
    let n32 = 0;
    let n33 = 1e-9;
    let g0 = 0;
    let g1 = 0;
    let g2 = 0;
    let g3 = 0;
    let total = 0;
    if (round === 0) {
      // All weights are one, so the sums of products are known by the lengths alone.
      const ends = hermiteProducts(first);
      n00 += ends[5];
      n10 += ends[8];
      n11 += ends[9];
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
        n20 += both[3];
        n21 += both[4];
        n22 += both[5];
        n30 += both[6];
        n31 += both[7];
        n32 += both[8];
        n33 += both[9];
        for (let k = 1, q = 4; k <= second; k++, q += 4) {
          const r = y[b + k];
          g0 += t2[q] * r;
          g1 += t2[q + 1] * r;
          g2 += t2[q + 2] * r;
          g3 += t2[q + 3] * r;
        }
      }
      total = frames;
    } else {
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
        total += w;
      }
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
    }
    for (let k = 0, q = 0; k < held; k++, q += 4) {
      const w = weights[frames + k] * looseness(y, a + k, tolerance);
      const c0 = th[q + 2];
      const c1 = th[q + 3];
      const r = (y[a + k] + y[a + k + 1]) / 2 - th[q] * v0 - th[q + 1] * s0;
      n00 += w * c0 * c0;
      n10 += w * c0 * c1;
      n11 += w * c1 * c1;
      g0 += w * c0 * r;
      g1 += w * c1 * r;
      total += weights[frames + k];
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
    if (!solve(second > 0 ? 4 : 2)) return false;
    const p0 = found[0];
    const p1 = found[1];
    const p2 = found[2];
    const p3 = found[3];
    const last = round === JOINED_ROUNDS - 1;
    let worst = 0;
    let mean = 0;
    let next = 0;
    for (let k = 1, q = 4; k <= first; k++, q += 4) {
      const e = Math.abs(y[a + k] - t1[q] * v0 - t1[q + 1] * s0 - t1[q + 2] * p0 - t1[q + 3] * p1);
      if (e > worst) {
        if (e > tolerance && last) return false;
        worst = e;
      }
      const we = weights[k - 1] * e;
      mean += we * e;
      next += we;
      weights[k - 1] = we;
    }
    for (let k = 1, q = 4; k <= second; k++, q += 4) {
      const e = Math.abs(y[b + k] - t2[q] * p0 - t2[q + 1] * p1 - t2[q + 2] * p2 - t2[q + 3] * p3);
      if (e > worst) {
        if (e > tolerance && last) return false;
        worst = e;
      }
      const we = weights[first + k - 1] * e;
      mean += we * e;
      next += we;
      weights[first + k - 1] = we;
    }
    for (let k = 0, q = 0; k < held; k++, q += 4) {
      const off = (y[a + k] + y[a + k + 1]) / 2 - th[q] * v0 - th[q + 1] * s0 - th[q + 2] * p0 - th[q + 3] * p1;
      const e = Math.abs(off) * Math.sqrt(looseness(y, a + k, tolerance));
      if (e > worst) {
        if (e > tolerance && last) return false;
        worst = e;
      }
      const we = weights[frames + k] * e;
      mean += we * e;
      next += we;
      weights[frames + k] = we;
    }
    if (worst <= tolerance) return isCalm(y, a, b, v0, s0, p0, p1, tolerance);
    if (mean > limit * total) return false;
    const scale = count / next;
    for (let k = 0; k < count; k++) weights[k] = weights[k] * scale + 1e-12;
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
    const last = round === ROUNDS - 1;
    let worst = 0;
    let mean = 0;
    let next = 0;
    for (let k = 1, q = 4; k <= count; k++, q += 4) {
      const e = Math.abs(y[a + k] - t[q] * v0 - t[q + 1] * p0 - t[q + 2] * p1 - t[q + 3] * p2);
      if (e > worst) {
        if (e > tolerance && last) return false;
        worst = e;
      }
      const we = weights[k - 1] * e;
      mean += we * e;
      next += we;
      weights[k - 1] = we;
    }
    if (worst <= tolerance) return isCalm(y, a, b, v0, p0, p1, p2, tolerance);
    if (mean > limit * total) return false;
    const scale = count / next;
    for (let k = 0; k < count; k++) weights[k] = weights[k] * scale + 1e-12;
  }
  return false;
}
