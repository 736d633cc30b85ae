/** How far from a sample: a hair inside the tolerance, which is 1. */
const REACH = 1 - 1e-6;

/**
 * Between which values a curve may run, in tolerances, written as the kernel has them: for each sample k but the first
 * low(k − ½), low(k), high(k − ½) and high(k). `shares` are those of the tolerance that each sample has; all of it where they
 * are left out.
 */
export function writeWalls(walls: Float64Array, samples: Float64Array, tolerance: number, shares?: Float64Array): void {
  let y0 = samples[0] / tolerance;
  let high0 = y0 + (shares ? REACH * shares[0] : REACH);
  for (let k = 1, o = 0; k < samples.length; k++, o += 4) {
    const y = samples[k] / tolerance;
    const reach = shares ? REACH * shares[k] : REACH;
    const high = y + reach;
    // Calm: within the range of both samples, widened as each of them is at the least.
    const room = Math.min(high0 - y0, reach);
    walls[o] = Math.min(y0, y) - room;
    walls[o + 1] = y - reach;
    walls[o + 2] = Math.max(y0, y) + room;
    walls[o + 3] = high;
    y0 = y;
    high0 = high;
  }
}
