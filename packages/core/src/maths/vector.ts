import type { Numbers } from "./rotation.ts";

/*
 * Vectors of three numbers in arrays, each at an offset: `f(out, o, a, ao, b, bo)`. `out` may be any of the others.
 */

export function cross(out: Numbers, o: number, a: Numbers, ao: number, b: Numbers, bo: number): void {
  const x = a[ao + 1] * b[bo + 2] - a[ao + 2] * b[bo + 1];
  const y = a[ao + 2] * b[bo] - a[ao] * b[bo + 2];
  const z = a[ao] * b[bo + 1] - a[ao + 1] * b[bo];
  out[o] = x;
  out[o + 1] = y;
  out[o + 2] = z;
}

export function dot(a: Numbers, ao: number, b: Numbers, bo: number): number {
  return a[ao] * b[bo] + a[ao + 1] * b[bo + 1] + a[ao + 2] * b[bo + 2];
}

export function lengthOf(a: Numbers, ao: number): number {
  return Math.sqrt(dot(a, ao, a, ao));
}

/** Make a vector one long; one that is (nearly) nothing is left, and 0 answered: else its length before. */
export function normalise(a: Numbers, ao: number): number {
  const length = lengthOf(a, ao);
  if (!(length > 1e-12)) return 0;
  for (let k = 0; k < 3; k++) a[ao + k] /= length;
  return length;
}

/** Take out of a vector what lies along a unit vector. */
export function flatten(a: Numbers, ao: number, unit: Numbers, uo: number): void {
  const along = dot(a, ao, unit, uo);
  for (let k = 0; k < 3; k++) a[ao + k] -= along * unit[uo + k];
}

/** A unit vector square to a unit vector: some, but the same each time. */
export function anySquare(out: Numbers, o: number, unit: Numbers, uo: number): void {
  let least = 0;
  for (let k = 1; k < 3; k++) if (Math.abs(unit[uo + k]) < Math.abs(unit[uo + least])) least = k;
  for (let k = 0; k < 3; k++) out[o + k] = k === least ? 1 : 0;
  flatten(out, o, unit, uo);
  normalise(out, o);
}

/** A vector turned by a unit quaternion. `out` may be v. */
export function turnVector(out: Numbers, o: number, q: Numbers, qo: number, v: Numbers, vo: number): void {
  const x = v[vo];
  const y = v[vo + 1];
  const z = v[vo + 2];
  const qx = q[qo];
  const qy = q[qo + 1];
  const qz = q[qo + 2];
  const qw = q[qo + 3];
  const tx = 2 * (qy * z - qz * y);
  const ty = 2 * (qz * x - qx * z);
  const tz = 2 * (qx * y - qy * x);
  out[o] = x + qw * tx + qy * tz - qz * ty;
  out[o + 1] = y + qw * ty + qz * tx - qx * tz;
  out[o + 2] = z + qw * tz + qx * ty - qy * tx;
}

/** The shortest turn that takes one unit vector to another; where they are opposite, half a turn about `about`, which is square to them. */
export function turnBetween(out: Numbers, o: number, a: Numbers, ao: number, b: Numbers, bo: number, about?: Numbers): void {
  const w = 1 + dot(a, ao, b, bo);
  if (w < 1e-12) {
    const axis = about ?? [0, 0, 0];
    if (!about) anySquare(axis, 0, a, ao);
    for (let k = 0; k < 3; k++) out[o + k] = axis[k];
    out[o + 3] = 0;
    return;
  }
  cross(out, o, a, ao, b, bo);
  out[o + 3] = w;
  const by = 1 / Math.sqrt(out[o] ** 2 + out[o + 1] ** 2 + out[o + 2] ** 2 + w * w);
  for (let k = 0; k < 4; k++) out[o + k] *= by;
}
