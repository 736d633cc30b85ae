import { constantCurve } from "../curve/make.ts";
import type { PoseValues } from "../figure/mirror.ts";
import { FACING, leaderOf, planeOf, reflect, type UprightPlane } from "../figure/mirrorPlane.ts";
import type { Player } from "../figure/player.ts";
import { placeAt, worldAt } from "../figure/rigLayout.ts";
import { multiplyAffine } from "../maths/matrix.ts";
import { matrixFromQuat } from "../maths/rotation.ts";
import type { Shot } from "../model/shot.ts";
import { makePlayer } from "./makePlayer.ts";

/** How far a mirrored control lands from the reflected place of its partner, in scene units. */
export interface MirrorError {
  readonly control: string;
  readonly distance: number;
}

/**
 * Check a pose that should be the mirror image of another: every control must stand on the reflection of its
 * partner's place. Lists those further off than `tolerance`, worst first (limbs of unequal length, wrong partners,
 * channels that were not keyed).
 */
export function checkMirror(shot: Shot, pose: PoseValues, image: PoseValues, tolerance: number): MirrorError[] {
  const before = posed(shot, pose);
  const after = posed(shot, image);
  const controls = shot.rig.controls;
  const at = (player: Player, i: number) => player.worlds.subarray(placeAt(i), placeAt(i) + 3);
  const planes: UprightPlane[] = [];
  const leader = leaderOf(shot.rig);
  const planeAt = (i: number): UprightPlane => {
    // The turn from rest: a rig may rest turned.
    const turned = new Float64Array(16);
    const rest = new Float64Array(16);
    const [x, y, z, w] = controls[i].restTurn;
    matrixFromQuat(rest, 0, 4, [-x, -y, -z, w], 0);
    multiplyAffine(turned, 0, before.worlds, worldAt(i), rest, 0);
    const [ox, oy, oz] = at(before, i);
    return planeOf([ox, oy, oz], [turned[0], turned[1], turned[2]], [turned[8], turned[9], turned[10]]);
  };
  const middle = leader ? planeAt(before.controlIndex.get(leader.id) as number) : FACING;
  controls.forEach((control, i) => {
    if (control.parent !== null) planes[i] = planes[before.controlIndex.get(control.parent) as number];
    else planes[i] = control.partner !== null && control.partner !== control.id ? middle : planeAt(i);
  });
  const errors: MirrorError[] = [];
  controls.forEach((control, p) => {
    if (control.partner === null) return;
    const c = before.controlIndex.get(control.partner);
    if (c === undefined) return;
    const want = reflect(planes[c], at(before, c));
    const got = at(after, p);
    const distance = Math.hypot(got[0] - want[0], got[1] - want[1], got[2] - want[2]);
    if (distance > tolerance) errors.push({ control: control.id, distance });
  });
  return errors.sort((a, b) => b.distance - a.distance);
}

/** A player standing at a pose given by values. */
function posed(shot: Shot, pose: PoseValues): Player {
  const player = makePlayer(poseShot(shot, pose), { free: true });
  player.pose(0);
  return player;
}

function poseShot(shot: Shot, pose: PoseValues): Shot {
  const base = Object.fromEntries(Object.entries(pose).map(([key, value]) => [key, constantCurve(value)]));
  return { ...shot, base, passes: [], constraints: [] };
}
