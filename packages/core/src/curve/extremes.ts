/**
 * Sample numbers of the peaks and valleys that stand out from their neighbours by more than
 * `least`: a turning point counts once the samples have gone back by that much.
 */
export function extremesOf(samples: Float64Array, least: number): number[] {
  const found: number[] = [];
  let high = 0;
  let low = 0;
  let rising: boolean | null = null;
  for (let i = 1; i < samples.length; i++) {
    if (samples[i] > samples[high]) high = i;
    if (samples[i] < samples[low]) low = i;
    if (rising !== false && samples[high] - samples[i] > least) {
      if (high > 0) found.push(high);
      rising = false;
      low = i;
      high = i;
    } else if (rising !== true && samples[i] - samples[low] > least) {
      if (low > 0) found.push(low);
      rising = true;
      high = i;
      low = i;
    }
  }
  return found.filter((at) => at > 0 && at < samples.length - 1);
}
