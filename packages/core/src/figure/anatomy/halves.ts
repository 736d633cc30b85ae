import type { Rig } from "../../model/rig.ts";
import { skeletonOf } from "./skeleton.ts";
import { bodyOf } from "./bodyOf.ts";

/**
 * Ids of the controls of the upper body: the trunk above the pelvis with all that hangs on it, arms and head. Null when
 * the rig stands on no two legs, so that there is no telling.
 */
export function upperBody(rig: Rig): ReadonlySet<string> | null {
  const skeleton = skeletonOf(rig);
  const body = bodyOf(skeleton);
  if (!body) return null;
  const upper = body.trunk.slice(1);
  for (const i of upper) for (const child of skeleton.children[i]) if (!upper.includes(child)) upper.push(child);
  // Arms that leave the trunk where the legs do are of the upper body all the same.
  for (const arm of body.arms ? Object.values(body.arms) : []) upper.push(...arm.chain);
  return new Set(upper.map((i) => skeleton.controls[i].id));
}
