/*
 * The language leaves the last bits of these functions to the engine. For marks that are the same in every engine they
 * are worked out here from sums, products, quotients and roots, which IEEE 754 settles to the bit. Series from any
 * handbook (Abramowitz & Stegun 1964, chapter 4); good to a few parts in 10¹⁵, which is all that marks need.
 */

const HALF_PI_HIGH = 1.5707963267341256;
const HALF_PI_LOW = 6.077100506506192e-11;
const { LN2 } = Math;

function sinTurned(x: number, quarters: number): number {
  if (!Number.isFinite(x)) return Number.NaN;
  const n = Math.round(x / (HALF_PI_HIGH + HALF_PI_LOW));
  const r = x - n * HALF_PI_HIGH - n * HALF_PI_LOW;
  const quarter = (((n + quarters) % 4) + 4) % 4;
  let term = quarter % 2 === 0 ? r : 1;
  let sum = term;
  for (let k = quarter % 2 === 0 ? 2 : 1; k < 24; k += 2) {
    term *= (-r * r) / (k * (k + 1));
    sum += term;
  }
  return quarter < 2 ? sum : -sum;
}

function exp(x: number): number {
  if (x > 709.7) return Number.POSITIVE_INFINITY;
  if (x < -745) return 0;
  if (Number.isNaN(x)) return x;
  const n = Math.round(x / LN2);
  const r = x - n * LN2;
  let term = 1;
  let sum = 1;
  for (let k = 1; k < 20; k++) {
    term *= r / k;
    sum += term;
  }
  for (let k = 0; k < Math.abs(n); k++) sum *= n > 0 ? 2 : 0.5;
  return sum;
}

function log(x: number): number {
  if (!(x > 0)) return x === 0 ? Number.NEGATIVE_INFINITY : Number.NaN;
  if (x === Number.POSITIVE_INFINITY) return x;
  let twos = 0;
  let m = x;
  for (; m > 1.5; m /= 2) twos++;
  for (; m < 0.75; m *= 2) twos--;
  const t = (m - 1) / (m + 1);
  let power = t;
  let sum = t;
  for (let k = 3; k < 50; k += 2) {
    power *= t * t;
    sum += power / k;
  }
  return 2 * sum + twos * LN2;
}

function atan(x: number): number {
  if (Math.abs(x) === Number.POSITIVE_INFINITY) return Math.sign(x) * (Math.PI / 2);
  let t = x;
  for (let halved = 0; halved < 3; halved++) t = t / (1 + Math.sqrt(1 + t * t));
  let power = t;
  let sum = t;
  for (let k = 3; k < 40; k += 2) {
    power *= -t * t;
    sum += power / k;
  }
  return 8 * sum;
}

function atan2(y: number, x: number): number {
  if (x > 0) return atan(y / x);
  if (x < 0) return atan(y / x) + (y < 0 || Object.is(y, -0) ? -Math.PI : Math.PI);
  if (y !== 0) return Math.sign(y) * (Math.PI / 2);
  return Object.is(x, -0) ? (Object.is(y, -0) ? -Math.PI : Math.PI) : y;
}

function pow(base: number, exponent: number): number {
  if (Number.isInteger(exponent) && Math.abs(exponent) <= 64) {
    let product = 1;
    for (let k = 0; k < Math.abs(exponent); k++) product *= base;
    return exponent < 0 ? 1 / product : product;
  }
  if (base === 0) return exponent > 0 ? 0 : Number.POSITIVE_INFINITY;
  return exp(exponent * log(base));
}

function hypot(...sides: number[]): number {
  const longest = Math.max(0, ...sides.map(Math.abs));
  if (longest === 0 || !Number.isFinite(longest)) return longest;
  let sum = 0;
  for (const side of sides) sum += (side / longest) * (side / longest);
  return longest * Math.sqrt(sum);
}

/** From here on the functions of `Math` answer the same in every engine. */
export function steadyMath(): void {
  const sin = (x: number) => sinTurned(x, 0);
  const cos = (x: number) => sinTurned(x, 1);
  const asin = (x: number) => atan2(x, Math.sqrt((1 - x) * (1 + x)));
  const acos = (x: number) => atan2(Math.sqrt((1 - x) * (1 + x)), x);
  const tan = (x: number) => sin(x) / cos(x);
  const cbrt = (x: number) => Math.sign(x) * pow(Math.abs(x), 1 / 3);
  const sinh = (x: number) => (exp(x) - exp(-x)) / 2;
  const cosh = (x: number) => (exp(x) + exp(-x)) / 2;
  const log2 = (x: number) => log(x) / LN2;
  const log10 = (x: number) => log(x) / log(10);
  Object.assign(Math, { sin, cos, tan, asin, acos, atan, atan2, exp, sinh, cosh, log, log2, log10, pow, hypot, cbrt });
}
