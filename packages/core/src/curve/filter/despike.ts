/** Turns a median absolute deviation into the standard deviation of a normal distribution. */
const NORMAL = 1.4826;

/**
 * Single samples that jump out of line, found by Hampel's rule (1974) on how far each sample is from the
 * middle of its two neighbours: further than `threshold` robust standard deviations of its surroundings
 * (`half` samples on both sides, the jump itself left out) and further than `least`. Seen this way a slope
 * is no jump. Such a sample is put in the middle of its neighbours. Answers the samples and how many moved.
 */
export function despike(samples: Float64Array, half: number, threshold: number, least: number): { samples: Float64Array; mended: number } {
  const last = samples.length - 1;
  const off = samples.map((value, i) => (i === 0 || i === last ? 0 : value - (samples[i - 1] + samples[i + 1]) / 2));
  const out = samples.slice();
  let mended = 0;
  for (let i = 1; i < last; i++) {
    const size = Math.abs(off[i]);
    // The neighbours of a jump are off by half of it, the other way.
    if (size <= least || size < Math.abs(off[i - 1]) || size < Math.abs(off[i + 1])) continue;
    const around: number[] = [];
    for (let k = Math.max(1, i - half - 1); k <= Math.min(last - 1, i + half + 1); k++)
      if (Math.abs(k - i) > 1) around.push(Math.abs(off[k]));
    if (around.length === 0 || size <= threshold * NORMAL * median(around)) continue;
    out[i] = (samples[i - 1] + samples[i + 1]) / 2;
    mended++;
  }
  return { samples: out, mended };
}

function median(values: number[]): number {
  values.sort((a, b) => a - b);
  const half = values.length >> 1;
  return values.length % 2 === 1 ? values[half] : (values[half - 1] + values[half]) / 2;
}
