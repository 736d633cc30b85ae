/**
 * Each sample becomes the mean of its neighbourhood under a bell of `sigma` samples, cut off at four sigma;
 * beyond the ends the end samples go on (SciPy's gaussian_filter1d, mode "nearest").
 */
export function gaussian(samples: Float64Array, sigma: number): Float64Array {
  if (!(sigma > 0)) return samples.slice();
  const reach = Math.floor(4 * sigma + 0.5);
  const bell = Float64Array.from({ length: reach + 1 }, (_, k) => Math.exp((-0.5 * k * k) / (sigma * sigma)));
  const total = bell.reduce((sum, value, k) => sum + (k === 0 ? value : 2 * value), 0);
  const last = samples.length - 1;
  const at = (i: number) => samples[Math.min(last, Math.max(0, i))];
  return samples.map((value, i) => {
    let sum = bell[0] * value;
    for (let k = 1; k <= reach; k++) sum += bell[k] * (at(i - k) + at(i + k));
    return sum / total;
  });
}
