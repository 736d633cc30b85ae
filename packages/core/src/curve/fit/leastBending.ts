/** The keys of a fitted curve: sample numbers, values and the slope on each side of each. */
export interface FittedKeys {
  readonly at: readonly number[];
  readonly values: readonly number[];
  readonly slopesIn: number[];
  readonly slopesOut: number[];
  /** The slopes of the first and the last key stay. */
  readonly endsStay?: boolean;
}

/** How far toward the calmest slope a key is turned: as far as the samples let it. */
const SHARES = [1, 0.6, 0.3];
/** The share of the tolerance that every span may use for it. */
const SPARE = 0.25;

/**
 * Turn the slopes of a fit (in place) toward those of the curve through its keys that bends least, as far as
 * every sample stays within the tolerance and no span becomes much worse. A fit leaves slopes loose where few samples lie between keys;
 * left at that, a straight way would waver between frames. Keys whose two sides differ stay as they are, as do ends that must.
 */
export function bendLeast(keys: FittedKeys, samples: Float64Array, tolerance: number, shares?: Float64Array): void {
  const { at, values, slopesIn, slopesOut, endsStay = false } = keys;
  const n = at.length;
  if (n < 2) return;
  const calm = splineSlopes(at, values);
  /**
   * The largest error at a sample with these slopes, by the share of the tolerance it has; infinite where the curve leaves the
   * samples' range between them, or where it is more than `most`.
   */
  const error = (k: number, out: number, into: number, most: number): number => {
    const h = at[k + 1] - at[k];
    const rise = values[k + 1] - values[k];
    const c2 = (3 * rise) / (h * h) - (2 * out + into) / h;
    const c3 = (out + into) / (h * h) - (2 * rise) / (h * h * h);
    let worst = 0;
    for (let x = 1; x < h; x++) {
      const off = Math.abs(values[k] + x * (out + x * (c2 + x * c3)) - samples[at[k] + x]);
      const one = shares ? off / shares[at[k] + x] : off;
      if (one > worst) worst = one;
      if (one > most) return Number.POSITIVE_INFINITY;
    }
    for (let n = 0; n < h; n++) {
      const x = n + 0.5;
      const value = values[k] + x * (out + x * (c2 + x * c3));
      const one = samples[at[k] + n];
      const other = samples[at[k] + n + 1];
      if (value > Math.max(one, other) + tolerance || value < Math.min(one, other) - tolerance) return Number.POSITIVE_INFINITY;
    }
    return worst;
  };
  // No span becomes much worse than it was, or the calm would be paid for with the motion.
  const limits = at
    .slice(1)
    .map((_, k) => Math.min(tolerance, Math.max(tolerance * SPARE, error(k, slopesOut[k], slopesIn[k + 1], tolerance))));
  const fits = (k: number, out: number, into: number) => error(k, out, into, limits[k]) <= limits[k];
  const broken = (k: number) => (k > 0 && k < n - 1 ? slopesIn[k] !== slopesOut[k] : endsStay);
  const turned = Uint8Array.from(at, (_, k) => (broken(k) ? 0 : 1));
  const outOf = (k: number) => (turned[k] === 1 ? calm[k] : slopesOut[k]);
  const into = (k: number) => (turned[k] === 1 ? calm[k] : slopesIn[k]);
  // All at once; where a span does not fit its ends go back, which may unfit a neighbour in turn.
  for (let k = 0; k < n - 1; ) {
    if ((turned[k] === 0 && turned[k + 1] === 0) || fits(k, outOf(k), into(k + 1))) k++;
    else {
      turned[k] = turned[k + 1] = 0;
      k = Math.max(0, k - 1);
    }
  }
  for (let k = 0; k < n; k++) if (turned[k] === 1) slopesIn[k] = slopesOut[k] = calm[k];
  // The others one by one, as far as each can go.
  for (let k = 0; k < n; k++) {
    if (turned[k] === 1 || broken(k)) continue;
    const now = slopesOut[k];
    for (const share of SHARES) {
      const to = now + (calm[k] - now) * share;
      if ((k > 0 && !fits(k - 1, slopesOut[k - 1], to)) || (k < n - 1 && !fits(k, to, slopesIn[k + 1]))) continue;
      slopesIn[k] = slopesOut[k] = to;
      break;
    }
  }
}

/**
 * Slopes of the natural cubic spline, the interpolant with the least integral of the squared second
 * derivative (Holladay 1957), by the usual tridiagonal system.
 */
function splineSlopes(at: readonly number[], values: readonly number[]): Float64Array {
  const n = at.length;
  const upper = new Float64Array(n);
  const slopes = new Float64Array(n);
  for (let k = 0; k < n; k++) {
    const before = k > 0 ? 1 / (at[k] - at[k - 1]) : 0;
    const after = k < n - 1 ? 1 / (at[k + 1] - at[k]) : 0;
    const pull =
      3 * ((k > 0 ? (values[k] - values[k - 1]) * before * before : 0) + (k < n - 1 ? (values[k + 1] - values[k]) * after * after : 0));
    const diagonal = 2 * (before + after) - (k > 0 ? before * upper[k - 1] : 0);
    upper[k] = after / diagonal;
    slopes[k] = (pull - (k > 0 ? before * slopes[k - 1] : 0)) / diagonal;
  }
  for (let k = n - 2; k >= 0; k--) slopes[k] -= upper[k] * slopes[k + 1];
  return slopes;
}
