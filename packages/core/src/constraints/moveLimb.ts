import { worldAt } from "../figure/rigLayout.ts";
import { matrixFromQuat, quatPower } from "../maths/rotation.ts";
import { normalise, turnVector } from "../maths/vector.ts";
import { MOST_BONES } from "./bendAlike.ts";
import { bendLimb, type LimbGoal } from "./bendLimb.ts";

const joints = new Float64Array(3 * (MOST_BONES + 1));
const points = new Float64Array(3 * (MOST_BONES + 1));
const turns = new Float64Array(4 * MOST_BONES);
const hinge = new Float64Array(3);
const lengths = new Float64Array(MOST_BONES + 1);
const bone = new Float64Array(3);
const turned = new Float64Array(9);

/** What is told of a limb besides where it is. */
export interface LimbTold extends Pick<LimbGoal, "goal" | "toward" | "softness" | "twist" | "stretches"> {
  /** The axis about which it bends, in the frame of its first control. */
  readonly hinge: readonly number[];
}

/**
 * Bend a limb of controls, its end (the last of `limb`) to a goal, in place; what its joints turn goes so far only as `share`
 * says. The end turns with the last bone.
 */
export function moveLimb(worlds: Float64Array, limb: readonly number[], told: LimbTold, share: number): void {
  const bones = limb.length - 1;
  for (let n = 0; n <= bones; n++) {
    const at = worldAt(limb[n]) + 12;
    for (let k = 0; k < 3; k++) joints[3 * n + k] = worlds[at + k];
  }
  const first = worldAt(limb[0]);
  for (let k = 0; k < 3; k++)
    hinge[k] = worlds[first + k] * told.hinge[0] + worlds[first + 4 + k] * told.hinge[1] + worlds[first + 8 + k] * told.hinge[2];
  normalise(hinge, 0);
  const { goal, toward, softness, twist, stretches } = told;
  bendLimb(points, turns, { joints, bones, goal, hinge, toward, softness, twist, stretches });
  for (let n = 1; n <= bones; n++)
    lengths[n] = Math.hypot(
      points[3 * n] - points[3 * n - 3],
      points[3 * n + 1] - points[3 * n - 2],
      points[3 * n + 2] - points[3 * n - 1],
    );
  for (let n = 0; n <= bones; n++) {
    const o = worldAt(limb[n]);
    const by = 4 * Math.min(n, bones - 1);
    if (share < 1) {
      if (n < bones) quatPower(turns, by, turns, by, share);
      if (n > 0) partWay(n, share);
    }
    // Turned as a whole, whatever scale or shear is in it.
    matrixFromQuat(turned, 0, 3, turns, by);
    for (let c = o; c < o + 12; c += 4) {
      const [x, y, z] = [worlds[c], worlds[c + 1], worlds[c + 2]];
      for (let r = 0; r < 3; r++) worlds[c + r] = turned[r] * x + turned[3 + r] * y + turned[6 + r] * z;
    }
    for (let k = 0; k < 3; k++) worlds[o + 12 + k] = points[3 * n + k];
  }
}

/** Part of the way a joint is where its bone, turned part of the way, ends: as long as a bone part of the way stretched. */
function partWay(n: number, share: number): void {
  for (let k = 0; k < 3; k++) bone[k] = joints[3 * n + k] - joints[3 * n - 3 + k];
  const was = Math.hypot(bone[0], bone[1], bone[2]);
  turnVector(bone, 0, turns, 4 * (n - 1), bone, 0);
  const grown = was > 0 ? lengths[n] / was : 1;
  for (let k = 0; k < 3; k++) points[3 * n + k] = points[3 * n - 3 + k] + bone[k] * (1 + (grown - 1) * share);
}
