/**
 * The natural cubic smoothing spline at its knots: of all functions f the one with the least
 * Σ wᵢ (yᵢ − f(tᵢ))² + λ ∫ f″² (Reinsch, "Smoothing by spline functions", Numerische Mathematik 10, 1967). Times rise
 * strictly; weights are 1 when left out; with times in frames λ is in frames³. With λ = 0 the values stay; with a large one they come to lie on a straight line.
 */
export function smoothingSpline(
  times: ArrayLike<number>,
  values: ArrayLike<number>,
  lambda: number,
  weights?: ArrayLike<number>,
): Float64Array {
  const n = times.length;
  const smooth = Float64Array.from(values);
  if (n < 3 || lambda === 0) return smooth;
  const w = (i: number) => weights?.[i] ?? 1;
  const h = Float64Array.from({ length: n - 1 }, (_, i) => times[i + 1] - times[i]);
  const m = n - 2;
  // Qᵀ has three numbers a row: the second difference at an inner knot.
  const q = Array.from({ length: m }, (_, i) => [1 / h[i], -1 / h[i] - 1 / h[i + 1], 1 / h[i + 1]] as const);
  // (R + λ Qᵀ W⁻¹ Q) γ = Qᵀ y, with five diagonals of which three are kept as they are symmetric.
  const diagonal = new Float64Array(m);
  const next = new Float64Array(m);
  const second = new Float64Array(m);
  const gamma = new Float64Array(m);
  for (let i = 0; i < m; i++) {
    const [a, b, c] = q[i];
    diagonal[i] = (h[i] + h[i + 1]) / 3 + lambda * ((a * a) / w(i) + (b * b) / w(i + 1) + (c * c) / w(i + 2));
    if (i + 1 < m) next[i] = h[i + 1] / 6 + lambda * ((b * q[i + 1][0]) / w(i + 1) + (c * q[i + 1][1]) / w(i + 2));
    if (i + 2 < m) second[i] = (lambda * c * q[i + 2][0]) / w(i + 2);
    gamma[i] = a * values[i] + b * values[i + 1] + c * values[i + 2];
  }
  solveFiveDiagonals(diagonal, next, second, gamma);
  // f = y − λ W⁻¹ Q γ
  for (let i = 0; i < m; i++) for (let k = 0; k < 3; k++) smooth[i + k] -= (lambda * q[i][k] * gamma[i]) / w(i + k);
  return smooth;
}

/** Solves a symmetric positive definite system with two diagonals beside the middle one, in place: L·D·Lᵀ. */
function solveFiveDiagonals(diagonal: Float64Array, next: Float64Array, second: Float64Array, right: Float64Array): void {
  const m = right.length;
  for (let i = 0; i < m; i++) {
    const [d, e, f] = [diagonal[i], next[i], second[i]];
    const [le, lf] = [e / d, f / d];
    if (i + 1 < m) {
      diagonal[i + 1] -= le * e;
      if (i + 2 < m) {
        next[i + 1] -= le * f;
        diagonal[i + 2] -= lf * f;
      }
    }
    next[i] = le;
    second[i] = lf;
  }
  for (let i = 0; i < m; i++) {
    if (i + 1 < m) right[i + 1] -= next[i] * right[i];
    if (i + 2 < m) right[i + 2] -= second[i] * right[i];
  }
  for (let i = 0; i < m; i++) right[i] /= diagonal[i];
  for (let i = m - 1; i >= 0; i--) {
    if (i + 1 < m) right[i] -= next[i] * right[i + 1];
    if (i + 2 < m) right[i] -= second[i] * right[i + 2];
  }
}
