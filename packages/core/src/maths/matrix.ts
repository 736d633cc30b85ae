import type { Numbers } from "./rotation.ts";

/**
 * Affine 4×4 matrices by columns (the layout of WebGL and three), sixteen numbers each, written into
 * `out` at an offset. The bottom row is taken to be 0 0 0 1.
 */
export function multiplyAffine(out: Numbers, o: number, a: Numbers, ao: number, b: Numbers, bo: number): void {
  const a0 = a[ao];
  const a1 = a[ao + 1];
  const a2 = a[ao + 2];
  const a4 = a[ao + 4];
  const a5 = a[ao + 5];
  const a6 = a[ao + 6];
  const a8 = a[ao + 8];
  const a9 = a[ao + 9];
  const a10 = a[ao + 10];
  const a12 = a[ao + 12];
  const a13 = a[ao + 13];
  const a14 = a[ao + 14];
  for (let column = 0; column < 16; column += 4) {
    const x = b[bo + column];
    const y = b[bo + column + 1];
    const z = b[bo + column + 2];
    out[o + column] = a0 * x + a4 * y + a8 * z;
    out[o + column + 1] = a1 * x + a5 * y + a9 * z;
    out[o + column + 2] = a2 * x + a6 * y + a10 * z;
    out[o + column + 3] = 0;
  }
  out[o + 12] += a12;
  out[o + 13] += a13;
  out[o + 14] += a14;
  out[o + 15] = 1;
}

/** Inverse of an affine matrix with any non-singular 3×3 part. `out` may be m. */
export function invertAffine(out: Numbers, o: number, m: Numbers, mo: number): void {
  const a = m[mo];
  const b = m[mo + 4];
  const c = m[mo + 8];
  const d = m[mo + 1];
  const e = m[mo + 5];
  const f = m[mo + 9];
  const g = m[mo + 2];
  const h = m[mo + 6];
  const i = m[mo + 10];
  const x = m[mo + 12];
  const y = m[mo + 13];
  const z = m[mo + 14];
  const p = e * i - f * h;
  const q = f * g - d * i;
  const r = d * h - e * g;
  const s = 1 / (a * p + b * q + c * r);
  out[o] = p * s;
  out[o + 1] = q * s;
  out[o + 2] = r * s;
  out[o + 4] = (c * h - b * i) * s;
  out[o + 5] = (a * i - c * g) * s;
  out[o + 6] = (b * g - a * h) * s;
  out[o + 8] = (b * f - c * e) * s;
  out[o + 9] = (c * d - a * f) * s;
  out[o + 10] = (a * e - b * d) * s;
  for (let row = 0; row < 3; row++) out[o + 12 + row] = -(out[o + row] * x + out[o + 4 + row] * y + out[o + 8 + row] * z);
  out[o + 3] = out[o + 7] = out[o + 11] = 0;
  out[o + 15] = 1;
}
