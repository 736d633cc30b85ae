/**
 * A second-order Butterworth low pass run forward and backward, so that nothing is shifted in time. `cutoff`
 * is in cycles per sample, below ½. As SciPy's butter(2, …) with filtfilt: bilinear transform, odd extension
 * by nine samples at both ends, started in its steady state.
 */
export function butterworth(samples: Float64Array, cutoff: number): Float64Array {
  const pad = Math.min(9, samples.length - 1);
  if (pad < 1 || !(cutoff > 0) || cutoff >= 0.5) return samples.slice();
  const k = Math.tan(Math.PI * cutoff);
  const scale = 1 / (1 + Math.SQRT2 * k + k * k);
  const b0 = k * k * scale;
  const a1 = 2 * (k * k - 1) * scale;
  const a2 = (1 - Math.SQRT2 * k + k * k) * scale;
  const run = (input: Float64Array): Float64Array => {
    // Steady state of both delays for a constant input of 1.
    const steady1 = (2 * b0 - a1 * b0 + b0 - a2 * b0) / (1 + a1 + a2);
    const steady2 = (1 + a1) * steady1 - (2 * b0 - a1 * b0);
    let z1 = steady1 * input[0];
    let z2 = steady2 * input[0];
    const out = new Float64Array(input.length);
    for (let i = 0; i < input.length; i++) {
      const x = input[i];
      const y = b0 * x + z1;
      z1 = 2 * b0 * x - a1 * y + z2;
      z2 = b0 * x - a2 * y;
      out[i] = y;
    }
    return out;
  };
  const count = samples.length;
  const long = new Float64Array(count + 2 * pad);
  long.set(samples, pad);
  for (let i = 1; i <= pad; i++) {
    long[pad - i] = 2 * samples[0] - samples[i];
    long[pad + count - 1 + i] = 2 * samples[count - 1] - samples[count - 1 - i];
  }
  return run(run(long).reverse())
    .reverse()
    .slice(pad, pad + count);
}
