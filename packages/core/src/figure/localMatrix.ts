import { invertAffine, multiplyAffine } from "../maths/matrix.ts";
import { DEG, matrixFromQuat, type Numbers, quatFromEuler, quatMultiply } from "../maths/rotation.ts";
import type { Control } from "../model/rig.ts";
import { moveAt, scaleAt, turnAt, worldAt } from "./rigLayout.ts";

const inverse = new Float64Array(16);

/** A control's matrix in the space of another: of the control above (the world when `above` is below 0), or of any. */
export function readLocal(out: Numbers, o: number, worlds: Float64Array, control: number, above: number): void {
  if (above < 0) for (let k = 0; k < 16; k++) out[o + k] = worlds[worldAt(control) + k];
  else {
    invertAffine(inverse, 0, worlds, worldAt(above));
    multiplyAffine(out, o, inverse, 0, worlds, worldAt(control));
  }
}

const turn = new Float64Array(4);
const atRest = new Float64Array(4);

/** A control's matrix in the space of the one above, from its nine numbers among channel values. */
export function writeLocal(out: Float64Array, control: Control, values: ArrayLike<number>, index: number): void {
  const [move, rotate, scale] = [moveAt(index), turnAt(index), scaleAt(index)];
  quatFromEuler(turn, 0, values[rotate] * DEG, values[rotate + 1] * DEG, values[rotate + 2] * DEG, control.order);
  for (let k = 0; k < 4; k++) atRest[k] = control.restTurn[k];
  quatMultiply(turn, 0, atRest, 0, turn, 0);
  out.fill(0);
  matrixFromQuat(out, 0, 4, turn, 0);
  for (let axis = 0; axis < 3; axis++) {
    for (let row = 0; row < 3; row++) out[axis * 4 + row] *= values[scale + axis];
    out[12 + axis] = control.rest[axis] + values[move + axis];
  }
  out[15] = 1;
}
