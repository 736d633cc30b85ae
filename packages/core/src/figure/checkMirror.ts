import { quatAngle } from "../maths/rotation.ts";
import type { Rig } from "../model/rig.ts";
import { makeMirrorer, type MirrorOptions, type PoseValues } from "./mirror.ts";
import { reflect } from "./mirrorPlane.ts";
import { layoutOf, placeAt } from "./rigLayout.ts";
import { worldMatrices, worldTurns } from "./standing.ts";

/** How far a mirrored control is from the reflection of its partner. */
export interface MirrorError {
  readonly control: string;
  /** From the reflected place, in scene units. */
  readonly distance: number;
  /** From the reflected turn, degrees. */
  readonly turn: number;
}

/** Turns nearer than this (degrees) are the same: angles that small are lost in rounding. */
const SAME_TURN = 1e-4;

/**
 * Check a pose that should be the mirror image of another: every control must stand on the reflection of its partner's
 * place, turned as that is. Lists those further off than `tolerance` (scene units), or turned otherwise, worst first (limbs
 * of unequal length, wrong partners, channels that were not keyed). Those left out are not judged.
 */
export function checkMirror(rig: Rig, pose: PoseValues, image: PoseValues, tolerance: number, options?: MirrorOptions): MirrorError[] {
  const { controlIndex } = layoutOf(rig);
  const before = worldMatrices(rig, valuesOf(rig, pose));
  const after = worldMatrices(rig, valuesOf(rig, image));
  const mirrorer = makeMirrorer(rig, options);
  const planes = mirrorer.planes(pose);
  const wanted = mirrorer.turns(pose);
  const turned = worldTurns(rig, valuesOf(rig, image));
  const out = new Set(options?.leftOut);
  const at = (worlds: Float64Array, i: number) => worlds.subarray(placeAt(i), placeAt(i) + 3);
  const errors: MirrorError[] = [];
  rig.controls.forEach(({ id, partner, mirror }, i) => {
    const c = partner === null || mirror === "left out" || out.has(id) ? undefined : controlIndex.get(partner);
    if (c === undefined) return;
    const want = reflect(planes[c], at(before, c));
    const got = at(after, i);
    const distance = Math.hypot(got[0] - want[0], got[1] - want[1], got[2] - want[2]);
    const turn = quatAngle(wanted, 4 * i, turned, 4 * i);
    if (distance > tolerance || turn > SAME_TURN) errors.push({ control: id, distance, turn: turn > SAME_TURN ? turn : 0 });
  });
  return errors.sort((a, b) => b.distance - a.distance || b.turn - a.turn);
}

function valuesOf(rig: Rig, pose: PoseValues): Float64Array {
  const { channelIndex, rest } = layoutOf(rig);
  const values = rest.slice();
  for (const [key, i] of channelIndex) values[i] = pose[key] ?? rest[i];
  return values;
}
