import { quatPower } from "./rotation.ts";
import { SMALL_INDEX } from "./smallIndex.ts";

/** Terms of the two series; the first few are enough for a small turn. */
const TERMS = 12;
const FEW = 6;
/** What a series may leave out. */
const LEFT_OUT = 1e-17;

/**
 * A share of a turn, ready to be taken of many: with θ half of the turn's angle and p the share, cos pθ and sin pθ / sin θ are
 * series in sin² θ whose terms hang on p alone (Gauss's hypergeometric ₂F₁(p/2, −p/2; ½) and p·₂F₁((1+p)/2, (1−p)/2; 3/2);
 * Abramowitz & Stegun 15.1.15 to 15.1.18, from memory).
 */
export interface TurnPower {
  /** Any real number; NaN while there is none. */
  share: number;
  /** Up to which sin² θ few terms, and all of them, are enough. */
  fewTo: number;
  allTo: number;
  readonly cosines: Float64Array;
  readonly sines: Float64Array;
  /** All of it, one after the other. */
  readonly numbers: Float64Array;
}

export function makeTurnPower(): TurnPower {
  const numbers = new Float64Array(3 + 2 * TERMS);
  const terms = (from: number) => numbers.subarray(from, from + TERMS);
  return { share: Number.NaN, fewTo: 0, allTo: 0, cosines: terms(3), sines: terms(3 + TERMS), numbers };
}

/** Make the power ready for a share; nothing is done where it is. */
export function setShare(power: TurnPower, share: number): void {
  if (power.share === share) return;
  power.share = share;
  const quarter = (share * share) / 4;
  let cosine = 1;
  let sine = share;
  for (let k = 0; k < TERMS; k++) {
    if (k === FEW) power.fewTo = reach(Math.max(Math.abs(cosine), Math.abs(sine)), FEW);
    power.cosines[k] = cosine;
    power.sines[k] = sine;
    cosine *= (k * k - quarter) / ((k + 0.5) * (k + 1));
    sine *= ((k + 0.5) * (k + 0.5) - quarter) / ((k + 1.5) * (k + 1));
  }
  power.allTo = reach(Math.max(Math.abs(cosine), Math.abs(sine)), TERMS);
  power.numbers[0] = share;
  power.numbers[1] = power.fewTo;
  power.numbers[2] = power.allTo;
}

/** Up to where the first term left out, and with it all that follow, is too small to matter. */
function reach(size: number, terms: number): number {
  return Math.min(0.1, Math.exp(Math.log(LEFT_OUT / Math.max(size, LEFT_OUT)) / terms));
}

/** Shares of the unit quaternions q, one after the other, into out (which may be q); as `quatPower` to the last places. */
export function powersOf(out: Float64Array, q: Float64Array, power: TurnPower): void {
  const { cosines, sines, allTo, fewTo } = power;
  for (let n = 0; n < q.length >> 2; n++) {
    const o = (n << 2) & SMALL_INDEX;
    const x = q[o];
    const y = q[o + 1];
    const z = q[o + 2];
    const square = x * x + y * y + z * z;
    if (!(square < allTo && q[o + 3] > 0)) {
      quatPower(out, o, q, o, power.share);
      continue;
    }
    // Two terms at once, so that the processor need not wait for one after the other.
    const twice = square * square;
    let cosine = 0;
    let scale = 0;
    for (let k = square < fewTo ? FEW - 2 : TERMS - 2; k >= 0; k -= 2) {
      cosine = cosine * twice + (cosines[k + 1] * square + cosines[k]);
      scale = scale * twice + (sines[k + 1] * square + sines[k]);
    }
    out[o] = x * scale;
    out[o + 1] = y * scale;
    out[o + 2] = z * scale;
    out[o + 3] = cosine;
  }
}
