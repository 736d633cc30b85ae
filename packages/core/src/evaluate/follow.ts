import { worldAt } from "../figure/rigLayout.ts";
import { sampleTrack, type Track, trackOf } from "../curve/track.ts";
import type { Follow } from "../model/shot.ts";
import { stretchOf, turnFromAffine, writeTurned } from "../maths/decompose.ts";
import { multiplyAffine } from "../maths/matrix.ts";
import { quatMultiply, quatPower } from "../maths/rotation.ts";

export interface FollowSlot {
  readonly follow: Follow;
  readonly target: number;
  readonly strength: Track;
  readonly offset: Float64Array;
}

export function makeFollowSlot(follow: Follow, target: number): FollowSlot {
  return { follow, target, strength: trackOf(follow.strength), offset: Float64Array.from(follow.offset) };
}

const goal = new Float64Array(16);
const stretch = new Float64Array(9);
const qOwn = new Float64Array(4);
const qGoal = new Float64Array(4);
const qBack = new Float64Array(4);

/**
 * Blend the control's world matrix (in place) toward its place in the target's frame. Its turn is blended; its own
 * stretch, with whatever shear or mirroring its parents give it, stays.
 */
export function applyFollow(slot: FollowSlot, worlds: Float64Array, control: number, frame: number): void {
  const strength = Math.min(1, Math.max(0, sampleTrack(slot.strength, frame)));
  if (strength === 0) return;
  const o = worldAt(control);
  multiplyAffine(goal, 0, worlds, worldAt(slot.target), slot.offset, 0);
  if (slot.follow.position) for (let k = 12; k < 15; k++) worlds[o + k] += (goal[k] - worlds[o + k]) * strength;
  if (!slot.follow.rotation) return;
  turnFromAffine(qOwn, 0, worlds, o);
  stretchOf(stretch, qOwn, 0, worlds, o);
  turnFromAffine(qGoal, 0, goal, 0);
  qBack[0] = -qOwn[0];
  qBack[1] = -qOwn[1];
  qBack[2] = -qOwn[2];
  qBack[3] = qOwn[3];
  quatMultiply(qGoal, 0, qBack, 0, qGoal, 0);
  quatPower(qGoal, 0, qGoal, 0, strength);
  quatMultiply(qOwn, 0, qOwn, 0, qGoal, 0);
  writeTurned(worlds, o, qOwn, 0, stretch);
}
