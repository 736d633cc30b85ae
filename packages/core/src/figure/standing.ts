import { multiplyAffine } from "../maths/matrix.ts";
import { DEG, quatFromEuler, quatMultiply } from "../maths/rotation.ts";
import type { Rig } from "../model/rig.ts";
import { writeLocal } from "./localMatrix.ts";
import { layoutOf, turnAt, worldAt } from "./rigLayout.ts";

/*
 * A rig taken up by channel values alone: no curves, no passes, nothing that leads it.
 */

/**
 * The turn in the world of every control of a rig, four numbers each (x, y, z, w), for channel values laid out as
 * `layoutOf` says; scales do not count. Left out: at rest.
 */
export function worldTurns(rig: Rig, values: ArrayLike<number> = layoutOf(rig).rest): Float64Array {
  const out = new Float64Array(rig.controls.length * 4);
  rig.controls.forEach((_, i) => {
    turnControl(rig, out, i, values);
  });
  return out;
}

const own = new Float64Array(4);

/** Write a control's turn in the world among those of all, from channel values; what it hangs on comes first. */
export function turnControl(rig: Rig, turns: Float64Array, i: number, values: ArrayLike<number>): void {
  const { parents, restTurns } = layoutOf(rig);
  const at = turnAt(i);
  quatFromEuler(own, 0, values[at] * DEG, values[at + 1] * DEG, values[at + 2] * DEG, rig.controls[i].order);
  quatMultiply(own, 0, restTurns, 4 * i, own, 0);
  if (parents[i] < 0) turns.set(own, 4 * i);
  else quatMultiply(turns, 4 * i, turns, 4 * parents[i], own, 0);
}

const local = new Float64Array(16);

/** Write a control's matrix in the world among those of all (sixteen numbers each), from channel values; what it hangs on comes first. */
export function standControl(rig: Rig, worlds: Float64Array, i: number, values: ArrayLike<number>): void {
  const parent = layoutOf(rig).parents[i];
  writeLocal(local, rig.controls[i], values, i);
  if (parent < 0) worlds.set(local, worldAt(i));
  else multiplyAffine(worlds, worldAt(i), worlds, worldAt(parent), local, 0);
}

/** The matrices in the world of all controls of a rig, sixteen numbers each, for channel values. */
export function worldMatrices(rig: Rig, values: ArrayLike<number>): Float64Array {
  const worlds = new Float64Array(rig.controls.length * 16);
  rig.controls.forEach((_, i) => {
    standControl(rig, worlds, i, values);
  });
  return worlds;
}
