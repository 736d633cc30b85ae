import { SMALL_INDEX } from "./smallIndex.ts";
import { turnOfAngles } from "./turnOfAngles.ts";

/**
 * Rotations as quaternions (x, y, z, w) and Euler angles (radians), written into `out` at an offset
 * so that nothing is allocated. Order names are intrinsic: "XYZ" means R = Rx·Ry·Rz (Shoemake 1985;
 * the convention of three's `Euler`, against which the tests compare all six).
 */
export const rotationOrders = ["XYZ", "XZY", "YXZ", "YZX", "ZXY", "ZYX"] as const;
export type RotationOrder = (typeof rotationOrders)[number];
export type Numbers = Float64Array | number[];

export const DEG = Math.PI / 180;

/** The number by which `turnOfAngles` knows an order. */
export function orderNumber(order: RotationOrder): number {
  return rotationOrders.indexOf(order);
}

const oneTurn = new Float64Array(3);
const oneQuat = new Float64Array(4);

/** Quaternion of Euler angles (radians). */
export function quatFromEuler(out: Numbers, o: number, x: number, y: number, z: number, order: RotationOrder): void {
  oneTurn[0] = x / DEG;
  oneTurn[1] = y / DEG;
  oneTurn[2] = z / DEG;
  turnOfAngles(oneQuat, 0, oneTurn, 0, orderNumber(order));
  for (let k = 0; k < 4; k++) out[o + k] = oneQuat[k];
}

/** Where each order keeps its three axes: the first, second and third turned about. */
const axesOf: Record<RotationOrder, readonly [number, number, number]> = {
  XYZ: [0, 1, 2],
  XZY: [0, 2, 1],
  YXZ: [1, 0, 2],
  YZX: [1, 2, 0],
  ZXY: [2, 0, 1],
  ZYX: [2, 1, 0],
};

/** The first, second and third axis (0 is X) an order turns about. */
export function turnedAxes(order: RotationOrder): readonly [number, number, number] {
  return axesOf[order];
}

const scratchMatrix = new Float64Array(9);

/** Euler angles (radians, as out[o..o+2] = x, y, z) of a unit quaternion. */
export function eulerFromQuat(out: Numbers, o: number, q: Numbers, qo: number, order: RotationOrder): void {
  matrixFromQuat(scratchMatrix, 0, 3, q, qo);
  eulerFromMatrix(out, o, scratchMatrix, 0, 3, order);
}

/**
 * Euler angles of a rotation matrix kept by columns with `stride` numbers a column. For axes i, j, k
 * in turn R = Ri·Rj·Rk; with e = +1 when (i, j, k) is cyclic, R[i][k] = e·sin(j).
 */
export function eulerFromMatrix(out: Numbers, o: number, m: Numbers, mo: number, stride: number, order: RotationOrder): void {
  const [i, j, k] = axesOf[order];
  const e = (j - i + 3) % 3 === 1 ? 1 : -1;
  // Where the columns i, j and k begin; the row is added.
  const ci = mo + i * stride;
  const cj = mo + j * stride;
  const ck = mo + k * stride;
  const cosine = Math.sqrt(m[ci + i] * m[ci + i] + m[cj + i] * m[cj + i]);
  out[o + j] = Math.atan2(e * m[ck + i], cosine);
  if (cosine > 1e-9) {
    out[o + i] = Math.atan2(-e * m[ck + j], m[ck + k]);
    out[o + k] = Math.atan2(-e * m[cj + i], m[ci + i]);
  } else {
    out[o + i] = Math.atan2(e * m[cj + k], m[cj + j]);
    out[o + k] = 0;
  }
}

/** Rotation part of a matrix by columns, `stride` numbers a column. */
export function matrixFromQuat(out: Numbers, o: number, stride: number, q: Numbers, qo: number): void {
  const x = q[qo];
  const y = q[qo + 1];
  const z = q[qo + 2];
  const w = q[qo + 3];
  const b = o + stride;
  const c = b + stride;
  out[o] = 1 - 2 * (y * y + z * z);
  out[o + 1] = 2 * (x * y + w * z);
  out[o + 2] = 2 * (x * z - w * y);
  out[b] = 2 * (x * y - w * z);
  out[b + 1] = 1 - 2 * (x * x + z * z);
  out[b + 2] = 2 * (y * z + w * x);
  out[c] = 2 * (x * z + w * y);
  out[c + 1] = 2 * (y * z - w * x);
  out[c + 2] = 1 - 2 * (x * x + y * y);
}

/** Unit quaternion of an orthonormal rotation kept by columns (Shepperd 1978). */
export function quatFromMatrix(out: Numbers, o: number, m: Numbers, mo: number, stride: number): void {
  const m00 = m[mo];
  const m10 = m[mo + 1];
  const m20 = m[mo + 2];
  const m01 = m[mo + stride];
  const m11 = m[mo + stride + 1];
  const m21 = m[mo + stride + 2];
  const m02 = m[mo + 2 * stride];
  const m12 = m[mo + 2 * stride + 1];
  const m22 = m[mo + 2 * stride + 2];
  const trace = m00 + m11 + m22;
  if (trace > 0) {
    const s = 0.5 / Math.sqrt(trace + 1);
    out[o] = (m21 - m12) * s;
    out[o + 1] = (m02 - m20) * s;
    out[o + 2] = (m10 - m01) * s;
    out[o + 3] = 0.25 / s;
  } else if (m00 > m11 && m00 > m22) {
    const s = 2 * Math.sqrt(1 + m00 - m11 - m22);
    out[o] = 0.25 * s;
    out[o + 1] = (m01 + m10) / s;
    out[o + 2] = (m02 + m20) / s;
    out[o + 3] = (m21 - m12) / s;
  } else if (m11 > m22) {
    const s = 2 * Math.sqrt(1 + m11 - m00 - m22);
    out[o] = (m01 + m10) / s;
    out[o + 1] = 0.25 * s;
    out[o + 2] = (m12 + m21) / s;
    out[o + 3] = (m02 - m20) / s;
  } else {
    const s = 2 * Math.sqrt(1 + m22 - m00 - m11);
    out[o] = (m02 + m20) / s;
    out[o + 1] = (m12 + m21) / s;
    out[o + 2] = 0.25 * s;
    out[o + 3] = (m10 - m01) / s;
  }
}

/** Turns of some controls, four numbers each, are turned on by those in `on`, which stand one after the other. */
export function turnOn(turns: Float64Array, controls: Int32Array, on: Float64Array): void {
  for (let n = 0; n < controls.length; n++) {
    const o = (controls[n] << 2) & SMALL_INDEX;
    const k = (n << 2) & SMALL_INDEX;
    const ax = turns[o];
    const ay = turns[o + 1];
    const az = turns[o + 2];
    const aw = turns[o + 3];
    const bx = on[k];
    const by = on[k + 1];
    const bz = on[k + 2];
    const bw = on[k + 3];
    turns[o] = ax * bw + aw * bx + ay * bz - az * by;
    turns[o + 1] = ay * bw + aw * by + az * bx - ax * bz;
    turns[o + 2] = az * bw + aw * bz + ax * by - ay * bx;
    turns[o + 3] = aw * bw - ax * bx - ay * by - az * bz;
  }
}

const left = new Float64Array(4);
const right = new Float64Array(4);
const first = new Int32Array(1);

/** out = a·b. `out` may be a or b. */
export function quatMultiply(out: Numbers, o: number, a: Numbers, ao: number, b: Numbers, bo: number): void {
  for (let k = 0; k < 4; k++) {
    left[k] = a[ao + k];
    right[k] = b[bo + k];
  }
  turnOn(left, first, right);
  for (let k = 0; k < 4; k++) out[o + k] = left[k];
}

/** The turn q taken `share` times (any real number) along its own axis, the short way round. */
export function quatPower(out: Numbers, o: number, q: Numbers, qo: number, share: number): void {
  const flip = q[qo + 3] < 0 ? -1 : 1;
  const w = Math.min(1, flip * q[qo + 3]);
  if (share === 1) {
    for (let k = 0; k < 4; k++) out[o + k] = flip * q[qo + k];
    return;
  }
  const sine = Math.sqrt(q[qo] * q[qo] + q[qo + 1] * q[qo + 1] + q[qo + 2] * q[qo + 2]);
  const half = Math.atan2(sine, w);
  const scale = sine > 1e-12 ? (flip * Math.sin(half * share)) / sine : flip * share;
  out[o] = q[qo] * scale;
  out[o + 1] = q[qo + 1] * scale;
  out[o + 2] = q[qo + 2] * scale;
  out[o + 3] = Math.cos(half * share);
}

/** Angle in degrees between two unit quaternions: the shortest turn from one to the other. */
export function quatAngle(a: Numbers, ao: number, b: Numbers, bo: number): number {
  const dx = a[ao] * b[bo + 3] - a[ao + 3] * b[bo] - a[ao + 1] * b[bo + 2] + a[ao + 2] * b[bo + 1];
  const dy = a[ao + 1] * b[bo + 3] - a[ao + 3] * b[bo + 1] - a[ao + 2] * b[bo] + a[ao] * b[bo + 2];
  const dz = a[ao + 2] * b[bo + 3] - a[ao + 3] * b[bo + 2] - a[ao] * b[bo + 1] + a[ao + 1] * b[bo];
  const dot = a[ao] * b[bo] + a[ao + 1] * b[bo + 1] + a[ao + 2] * b[bo + 2] + a[ao + 3] * b[bo + 3];
  return (2 * Math.atan2(Math.hypot(dx, dy, dz), Math.abs(dot))) / DEG;
}

/**
 * The Euler triple (degrees) equal to `euler` and nearest to `near`: whole turns are taken out and the
 * other solution (first and third axis turned by 180°, the second mirrored) is tried as well.
 */
export function nearestEuler(euler: Numbers, near: Numbers, order: RotationOrder): [number, number, number] {
  const [i, j, k] = axesOf[order];
  const plain: [number, number, number] = [nearestTurn(euler[0], near[0]), nearestTurn(euler[1], near[1]), nearestTurn(euler[2], near[2])];
  const other: [number, number, number] = [0, 0, 0];
  other[i] = nearestTurn(euler[i] + 180, near[i]);
  other[j] = nearestTurn(180 - euler[j], near[j]);
  other[k] = nearestTurn(euler[k] + 180, near[k]);
  return awayFrom(other, near) < awayFrom(plain, near) - 1e-9 ? other : plain;
}

const nearestTurn = (value: number, to: number) => value + 360 * Math.round((to - value) / 360);
const awayFrom = (a: Numbers, b: Numbers) => Math.abs(a[0] - b[0]) + Math.abs(a[1] - b[1]) + Math.abs(a[2] - b[2]);
