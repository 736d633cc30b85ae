/**
 * Savitzky & Golay (1964): each sample becomes the value of the polynomial of `degree` fitted by least
 * squares to it and its `half` neighbours on both sides. At the ends the outermost full window's polynomial
 * is read at the samples it has (SciPy's mode "interp"). Fewer samples than a window are left as they are.
 */
export function savitzkyGolay(samples: Float64Array, half: number, degree: number): Float64Array {
  const width = 2 * half + 1;
  const count = samples.length;
  if (count < width || half < 1) return samples.slice();
  const out = new Float64Array(count);
  const centre = weightsAt(half, degree, 0);
  for (let i = half; i < count - half; i++) {
    let sum = 0;
    for (let k = 0; k < width; k++) sum += centre[k] * samples[i - half + k];
    out[i] = sum;
  }
  for (let i = 0; i < half; i++) {
    const row = weightsAt(half, degree, i - half);
    for (let k = 0; k < width; k++) {
      out[i] += row[k] * samples[k];
      // The other end is the same seen backward.
      out[count - 1 - i] += row[k] * samples[count - 1 - k];
    }
  }
  return out;
}

/** Weights of a window's samples in the fitted polynomial's value at `x`, counted from the window's middle. */
function weightsAt(half: number, degree: number, x: number): Float64Array {
  const width = 2 * half + 1;
  // Polynomials orthogonal over the window (Gram), by their three-term recurrence, at each sample and at x.
  const weights = new Float64Array(width);
  let before = new Float64Array(width);
  let now = new Float64Array(width).fill(1);
  let beforeX = 0;
  let nowX = 1;
  let normBefore = 1;
  for (let d = 0; d <= degree; d++) {
    let norm = 0;
    for (const value of now) norm += value * value;
    for (let k = 0; k < width; k++) weights[k] += (now[k] * nowX) / norm;
    const ratio = d === 0 ? 0 : norm / normBefore;
    const next = now.map((value, k) => (k - half) * value - ratio * before[k]);
    const nextX = x * nowX - ratio * beforeX;
    [before, now, beforeX, nowX, normBefore] = [now, next, nowX, nextX, norm];
  }
  return weights;
}
