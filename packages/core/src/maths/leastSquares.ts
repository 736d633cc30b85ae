import { solveLinear } from "./solve.ts";

/**
 * Solve the normal equations of up to four unknowns by Cholesky: `a` holds the lower half of a positive definite
 * matrix, its rows four apart, and is overwritten; `right` has the right hand side. Answers false when the matrix is
 * too near to having no solution of its own.
 */
export function solveNormal(out: Float64Array, a: Float64Array, right: Float64Array, m: number): boolean {
  for (let j = 0; j < m; j++) {
    let d = a[j * 4 + j];
    for (let k = 0; k < j; k++) d -= a[j * 4 + k] * a[j * 4 + k];
    if (!(d > 1e-14)) return false;
    d = Math.sqrt(d);
    a[j * 4 + j] = d;
    for (let i = j + 1; i < m; i++) {
      let s = a[i * 4 + j];
      for (let k = 0; k < j; k++) s -= a[i * 4 + k] * a[j * 4 + k];
      a[i * 4 + j] = s / d;
    }
  }
  for (let i = 0; i < m; i++) {
    let s = right[i];
    for (let k = 0; k < i; k++) s -= a[i * 4 + k] * out[k];
    out[i] = s / a[i * 4 + i];
  }
  for (let i = m - 1; i >= 0; i--) {
    let s = out[i];
    for (let k = i + 1; k < m; k++) s -= a[k * 4 + i] * out[k];
    out[i] = s / a[i * 4 + i];
  }
  return true;
}

/** Something that depends on several numbers, and should come as near to a goal as it can. */
export interface Approach {
  readonly goal: readonly number[];
  /** What comes out for these numbers: as many as the goal has. */
  at(values: Float64Array): readonly number[];
  /** How that changes with one of them, by its place in the values. */
  slope(values: Float64Array, i: number): readonly number[];
  /** Which of the values may change. */
  readonly free: readonly number[];
  /** The share of a step that may be gone; beyond it the straight line of the search means nothing. */
  share(steps: readonly number[]): number;
  /** At this distance the goal counts as reached, and by less than this a round has brought nothing. */
  readonly near: number;
  readonly rounds: number;
}

/**
 * Change the free values, as little as may be, until what comes of them is at the goal, or no nearer can be had: damped
 * least squares (Levenberg 1944, Marquardt 1963), in the form that solves for as many numbers as the goal has.
 */
export function approach(values: Float64Array, { goal, at, slope, free, share, near, rounds }: Approach): void {
  const size = goal.map((_, k) => k);
  const dot = (a: readonly number[], b: readonly number[]) => size.reduce((sum, k) => (k === 0 ? a[0] * b[0] : sum + a[k] * b[k]), 0);
  const away = (place: readonly number[]) => Math.hypot(...place.map((value, k) => value - goal[k]));
  let place = at(values);
  let distance = away(place);
  let damping = 1e-3;
  for (let round = 0; round < rounds && distance > near; round++) {
    const slopes = free.map((i) => slope(values, i));
    const scale = slopes.reduce((sum, one) => sum + dot(one, one), 0) / goal.length;
    const rows = size.map((r) => size.map((c) => slopes.reduce((sum, one) => sum + one[r] * one[c], r === c ? damping * scale : 0)));
    const pull = solveLinear(
      rows,
      size.map((k) => goal[k] - place[k]),
    );
    if (!pull) return;
    const steps = slopes.map((one) => dot(one, pull));
    const gone = share(steps);
    const tried = values.slice();
    for (let n = 0; n < free.length; n++) tried[free[n]] += steps[n] * gone;
    const there = at(tried);
    const left = away(there);
    if (left < distance) {
      const gained = distance - left;
      values.set(tried);
      [place, distance] = [there, left];
      damping = Math.max(1e-9, damping * 0.2);
      if (gained < near) return;
    } else if (damping > 1e6) return;
    else damping *= 5;
  }
}
