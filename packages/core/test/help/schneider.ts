/**
 * The classic way to fit cubics to samples, for comparison: Schneider, "An Algorithm for Automatically
 * Fitting Digitized Curves", Graphics Gems (1990), for samples that are a function of time: both ends on
 * samples, slopes by least squares, split at the worst error. Answers the number of keys it leaves.
 */
export function schneiderKeys(samples: Float64Array, tolerance: number): number {
  const spans = (a: number, b: number): number => {
    if (b - a < 2) return 1;
    const h = b - a;
    let [n00, n01, n11, g0, g1] = [0, 0, 0, 0, 0];
    const basis = (k: number) => {
      const x = k / h;
      return [2 * x ** 3 - 3 * x ** 2 + 1, (x ** 3 - 2 * x ** 2 + x) * h, 3 * x ** 2 - 2 * x ** 3, (x ** 3 - x ** 2) * h];
    };
    for (let k = 1; k < h; k++) {
      const [b0, b1, b2, b3] = basis(k);
      const r = samples[a + k] - b0 * samples[a] - b2 * samples[b];
      n00 += b1 * b1;
      n01 += b1 * b3;
      n11 += b3 * b3;
      g0 += b1 * r;
      g1 += b3 * r;
    }
    const det = n00 * n11 - n01 * n01;
    const m0 = Math.abs(det) > 1e-12 ? (g0 * n11 - g1 * n01) / det : g0 / n00;
    const m1 = Math.abs(det) > 1e-12 ? (n00 * g1 - n01 * g0) / det : 0;
    let [worst, at] = [0, a + (h >> 1)];
    for (let k = 1; k < h; k++) {
      const [b0, b1, b2, b3] = basis(k);
      const off = Math.abs(samples[a + k] - b0 * samples[a] - b1 * m0 - b2 * samples[b] - b3 * m1);
      if (off > worst) [worst, at] = [off, a + k];
    }
    return worst <= tolerance ? 1 : spans(a, at) + spans(at, b);
  };
  return spans(0, samples.length - 1) + 1;
}
