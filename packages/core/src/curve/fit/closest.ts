import { hermiteProducts, hermiteTable, isCalm } from "./hermiteTable.ts";

/** Keys of a fit with one slope each, and what of them stays. */
interface JoinedKeys {
  readonly at: readonly number[];
  readonly values: number[];
  readonly slopes: number[];
  readonly keepsEnd: boolean;
  /** The slopes of the first and the last key stay. */
  readonly endsStay: boolean;
}

const ROUNDS = 2;
/** A span of so few frames leaves its keys loose. */
const SHORT = 8;
/** Of the way to the closest a key is taken so much, or as much as the samples let it. */
const SHARES = [1, 0.5, 0.25];

/** A curve, and how far from each of its samples. */
interface Aim {
  readonly y: Float64Array;
  readonly tolerance: number;
  readonly shares: Float64Array | undefined;
}

/**
 * Move keys of a fit (in place) to where least squares has them, each in its turn, as far as every sample stays within the
 * tolerance and the curve calm: those at the ends, and those with few samples beside them, which the tolerance leaves loose.
 * The first value stays.
 */
export function bringClosest({ at, values, slopes, keepsEnd, endsStay }: JoinedKeys, aim: Aim): void {
  const last = at.length - 1;
  for (let round = 0; round < ROUNDS; round++)
    for (let k = 0; k <= last; k++) {
      const isEnd = k === 0 || k === last;
      if (!isEnd && at[k] - at[k - 1] > SHORT && at[k + 1] - at[k] > SHORT) continue;
      const valueStays = k === 0 || (k === last && keepsEnd);
      const slopeStays = endsStay && isEnd;
      if (valueStays && slopeStays) continue;
      closest(k, at, values, slopes, aim.y);
      const dv = valueStays ? 0 : best.value - values[k];
      const ds = slopeStays ? 0 : (valueStays ? best.slopeAlone : best.slope) - slopes[k];
      for (const share of SHARES) {
        const value = values[k] + share * dv;
        const slope = slopes[k] + share * ds;
        if (k > 0 && !holds(aim, at[k - 1], at[k], values[k - 1], slopes[k - 1], value, slope)) continue;
        if (k < last && !holds(aim, at[k], at[k + 1], value, slope, values[k + 1], slopes[k + 1])) continue;
        values[k] = value;
        slopes[k] = slope;
        break;
      }
    }
}

/** Is a span within the tolerance, and calm? */
function holds({ y, tolerance, shares }: Aim, from: number, to: number, v0: number, s0: number, v1: number, s1: number): boolean {
  const reach = tolerance * (1 - 1e-9);
  const table = hermiteTable(to - from);
  for (let k = from + 1, q = 4; k <= to; k++, q += 4) {
    const off = Math.abs(table[q] * v0 + table[q + 1] * s0 + table[q + 2] * v1 + table[q + 3] * s1 - y[k]);
    if (!(off <= (shares ? reach * shares[k] : reach))) return false;
  }
  return isCalm(y, from, to, v0, s0, v1, s1, reach);
}

/** What suits the samples on both sides of a key best: value and slope together, and the slope where the value stays. */
const best = { value: 0, slope: 0, slopeAlone: 0 };

function closest(k: number, at: readonly number[], values: readonly number[], slopes: readonly number[], y: Float64Array): void {
  // A hair on the diagonal: a span of one frame says nothing of slopes.
  let vv = 1e-9;
  let vs = 0;
  let ss = 1e-9;
  let v = 1e-9 * values[k];
  let s = 1e-9 * slopes[k];
  if (k > 0) {
    const from = at[k - 1];
    const length = at[k] - from;
    const sums = hermiteProducts(length);
    const table = hermiteTable(length);
    vv += sums[5];
    vs += sums[8];
    ss += sums[9];
    for (let f = 1, q = 4; f <= length; f++, q += 4) {
      const rest = y[from + f] - table[q] * values[k - 1] - table[q + 1] * slopes[k - 1];
      v += table[q + 2] * rest;
      s += table[q + 3] * rest;
    }
  }
  if (k + 1 < at.length) {
    const from = at[k];
    const length = at[k + 1] - from;
    const sums = hermiteProducts(length);
    const table = hermiteTable(length);
    vv += sums[0];
    vs += sums[1];
    ss += sums[2];
    for (let f = 1, q = 4; f <= length; f++, q += 4) {
      const rest = y[from + f] - table[q + 2] * values[k + 1] - table[q + 3] * slopes[k + 1];
      v += table[q] * rest;
      s += table[q + 1] * rest;
    }
  }
  const whole = vv * ss - vs * vs;
  best.value = (v * ss - s * vs) / whole;
  best.slope = (s * vv - v * vs) / whole;
  best.slopeAlone = (s - vs * values[k]) / ss;
}
