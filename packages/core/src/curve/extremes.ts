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

/** How far from a peak (frames) a key may stand and still be on it. */
const NEAR = 6;

/**
 * Sample numbers, rising, at which keys serve the peaks and valleys of several curves at once: a peak beside
 * which another curve has a key already, its value within twice the tolerance of the peak's, needs none of
 * its own. Only peaks that stand out by more than `prominent` tolerances count.
 */
export function sharedExtremes(curves: readonly { samples: Float64Array; tolerance: number }[], prominent: number): number[] {
  const chosen = new Set<number>();
  for (const { samples, tolerance } of curves) {
    const isServed = (key: number, at: number) => chosen.has(key) && Math.abs(samples[key] - samples[at]) <= 2 * tolerance;
    const own = extremesOf(samples, prominent * tolerance).filter((at) => {
      for (let off = 0; off <= NEAR; off++) if (isServed(at - off, at) || isServed(at + off, at)) return false;
      return true;
    });
    for (const at of own) chosen.add(at);
  }
  return [...chosen].sort((a, b) => a - b);
}
