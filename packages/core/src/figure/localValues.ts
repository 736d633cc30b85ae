import { type Control, moveChannels, rotateChannels } from "../model/rig.ts";
import { invertAffine, multiplyAffine, orthonormalise } from "./matrix.ts";
import type { Player } from "./playerShape.ts";
import { DEG, eulerFromMatrix, matrixFromQuat, nearestEuler } from "./rotation.ts";

/** The channels a control's place in the world can be turned into. */
export const placeChannels = [...moveChannels, ...rotateChannels];

const local = new Float64Array(16);
const scratch = new Float64Array(16);
const rest = new Float64Array(16);
const turned = new Float64Array(16);
const euler = new Float64Array(3);

/**
 * The move and rotate values (degrees) that put a control where a posed player has it, in the order of
 * `placeChannels`; angles near those of `near`, the values of the frame before. Scale is left aside.
 */
export function localValues(player: Pick<Player, "worlds" | "controlIndex">, control: Control, near: readonly number[]): number[] {
  const i = player.controlIndex.get(control.id) as number;
  if (control.parent === null) local.set(player.worlds.subarray(i * 16, i * 16 + 16));
  else {
    invertAffine(scratch, 0, player.worlds, (player.controlIndex.get(control.parent) as number) * 16);
    multiplyAffine(local, 0, scratch, 0, player.worlds, i * 16);
  }
  const moves = control.rest.map((at, k) => local[12 + k] - at);
  orthonormalise(scratch, 0, local, 0);
  if (control.restTurn[3] !== 1) {
    const [x, y, z, w] = control.restTurn;
    rest.fill(0);
    matrixFromQuat(rest, 0, 4, [-x, -y, -z, w], 0);
    turned.set(scratch);
    multiplyAffine(scratch, 0, rest, 0, turned, 0);
  }
  eulerFromMatrix(euler, 0, scratch, 0, 4, control.order);
  for (let axis = 0; axis < 3; axis++) euler[axis] /= DEG;
  const angles = nearestEuler(euler, near.slice(3), control.order);
  return [...moves, ...angles];
}
