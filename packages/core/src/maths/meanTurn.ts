import type { Numbers } from "./rotation.ts";

/** Squarings of the matrix at the most: each takes the other shares to the square of what they were. */
const SQUARINGS = 40;
/** So near to one share alone nothing is left to gain. */
const ALONE = 1e-15;

const m = new Float64Array(16);
const next = new Float64Array(16);

/**
 * The weighted mean of turns: the unit quaternion with the least weighted sum of squared distances to them as rotations,
 * which is the eigenvector of Σ w q qᵀ with the largest eigenvalue (Markley, Cheng, Crassidis & Oshman, "Averaging
 * quaternions", Journal of Guidance, Control and Dynamics 30, 2007). Found by squaring the matrix again and again. `turns`
 * has four numbers each (x, y, z, w), which of ±q is the same; weights are not negative. Written into `out` at `o`.
 */
export function meanTurn(out: Numbers, o: number, turns: ArrayLike<number>, weights: ArrayLike<number>, count: number): void {
  m.fill(0);
  for (let n = 0; n < count; n++)
    for (let r = 0; r < 4; r++) for (let c = 0; c < 4; c++) m[4 * r + c] += weights[n] * turns[4 * n + r] * turns[4 * n + c];
  for (let round = 0; round < SQUARINGS; round++) {
    const trace = m[0] + m[5] + m[10] + m[15];
    for (let r = 0; r < 4; r++)
      for (let c = r; c < 4; c++) {
        let sum = 0;
        for (let k = 0; k < 4; k++) sum += m[4 * r + k] * m[4 * k + c];
        next[4 * r + c] = next[4 * c + r] = sum / (trace * trace);
      }
    m.set(next);
    if (1 - (m[0] + m[5] + m[10] + m[15]) < ALONE) break;
  }
  // Every row now points along the eigenvector; the longest one does so best.
  let row = 0;
  for (let r = 1; r < 4; r++) if (m[5 * r] > m[5 * row]) row = r;
  const length = Math.hypot(m[4 * row], m[4 * row + 1], m[4 * row + 2], m[4 * row + 3]) || 1;
  for (let k = 0; k < 4; k++) out[o + k] = m[4 * row + k] / length;
}
