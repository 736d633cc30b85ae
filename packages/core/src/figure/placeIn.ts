import { turnFromAffine } from "../maths/decompose.ts";
import { invertAffine, multiplyAffine } from "../maths/matrix.ts";
import { DEG, eulerFromQuat, nearestEuler, quatMultiply } from "../maths/rotation.ts";
import type { Control } from "../model/rig.ts";
import { worldAt } from "./rigLayout.ts";

const local = new Float64Array(16);
const turn = new Float64Array(4);
const euler = new Float64Array(3);
const back = [0, 0, 0, 1];

/** Scales nearer to what they were than this share are taken to be the same. */
const SAME_SCALE = 1e-10;

const determinantOf = (m: Float64Array) =>
  m[0] * (m[5] * m[10] - m[9] * m[6]) - m[4] * (m[1] * m[10] - m[9] * m[2]) + m[8] * (m[1] * m[6] - m[5] * m[2]);

/**
 * The nine values (move, rotate in degrees, scale) with which a control, told in a frame (an affine matrix by columns),
 * stands where world matrices have it. Angles are near those of `near`; scales keep the signs and, where nothing but
 * rounding changes them, the values of `scale`. Where the frame shears it, the nearest turn and scale. Answers into `out`.
 */
export function placeIn(
  out: number[],
  frame: Float64Array,
  worlds: Float64Array,
  index: number,
  control: Control,
  near: ArrayLike<number>,
  scale: ArrayLike<number>,
): number[] {
  invertAffine(local, 0, frame, 0);
  multiplyAffine(local, 0, local, 0, worlds, worldAt(index));
  // A frame that mirrors it is made up for by mirroring it back.
  const flips = Math.sign(determinantOf(local)) * Math.sign(scale[0] * scale[1] * scale[2]) < 0 ? -1 : 1;
  for (let k = 0; k < 3; k++) {
    out[k] = local[12 + k] - control.rest[k];
    const size = Math.hypot(local[4 * k], local[4 * k + 1], local[4 * k + 2]) * (scale[k] < 0 ? -flips : flips);
    out[6 + k] = Math.abs(size - scale[k]) <= SAME_SCALE * Math.abs(size) ? scale[k] : size;
  }
  turnFromAffine(turn, 0, local, 0, [out[6], out[7], out[8]]);
  if (control.restTurn[3] !== 1) {
    for (let k = 0; k < 3; k++) back[k] = -control.restTurn[k];
    back[3] = control.restTurn[3];
    quatMultiply(turn, 0, back, 0, turn, 0);
  }
  eulerFromQuat(euler, 0, turn, 0, control.order);
  for (let axis = 0; axis < 3; axis++) euler[axis] /= DEG;
  const angles = nearestEuler(euler, [near[3], near[4], near[5]], control.order);
  for (let axis = 0; axis < 3; axis++) out[3 + axis] = angles[axis];
  return out;
}
