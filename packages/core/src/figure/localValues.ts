import { type Control, moveChannels, rotateChannels } from "../model/rig.ts";
import { turnFromAffine } from "../maths/decompose.ts";
import { readLocal } from "./localMatrix.ts";
import { scaleAt } from "./rigLayout.ts";
import type { Player } from "./player.ts";
import { DEG, eulerFromQuat, nearestEuler, quatMultiply } from "../maths/rotation.ts";

/** The channels a control's place in the world can be turned into. */
export const placeChannels = [...moveChannels, ...rotateChannels];

const local = new Float64Array(16);
const turn = new Float64Array(4);
const back = new Float64Array(4);
const euler = new Float64Array(3);
const angles = new Float64Array(3);

/**
 * The move and rotate values (degrees) that put a control where a posed player has it, in the order of
 * `placeChannels`; angles near those of `near`, the values of the frame before. `scale` is what its own scale channels
 * have (1 when left out): it is divided out, so that a mirrored control keeps its turn. Where parents shear, the turn is
 * the nearest one.
 */
export function localValues(
  player: Pick<Player, "worlds" | "controlIndex">,
  control: Control,
  near: readonly number[],
  scale?: ArrayLike<number>,
): number[] {
  const i = player.controlIndex.get(control.id) as number;
  readLocal(local, 0, player.worlds, i, control.parent === null ? -1 : (player.controlIndex.get(control.parent) as number));
  turnFromAffine(turn, 0, local, 0, scale);
  const { rest, restTurn } = control;
  if (restTurn[3] !== 1) {
    for (let k = 0; k < 3; k++) back[k] = -restTurn[k];
    back[3] = restTurn[3];
    quatMultiply(turn, 0, back, 0, turn, 0);
  }
  eulerFromQuat(euler, 0, turn, 0, control.order);
  for (let axis = 0; axis < 3; axis++) {
    euler[axis] /= DEG;
    angles[axis] = near[3 + axis];
  }
  const [x, y, z] = nearestEuler(euler, angles, control.order);
  return [local[12] - rest[0], local[13] - rest[1], local[14] - rest[2], x, y, z];
}

/** What the scale channels of a control have in a posed player. */
export function scaleOf(player: Pick<Player, "values" | "controlIndex">, control: string): ArrayLike<number> {
  const at = scaleAt(player.controlIndex.get(control) as number);
  return player.values.subarray(at, at + 3);
}
