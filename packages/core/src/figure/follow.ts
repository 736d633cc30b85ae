import { KneaderError } from "../errors.ts";
import { sampleTrack, type Track, trackOf } from "../curve/track.ts";
import { controlById } from "../model/rig.ts";
import type { Follow, Shot } from "../model/shot.ts";
import { invertAffine, multiplyAffine, orthonormalise } from "./matrix.ts";
import { makePlayer } from "./player.ts";
import { matrixFromQuat, quatFromMatrix, quatMultiply, quatPower } from "./rotation.ts";

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
const goalUnit = new Float64Array(16);
const ownUnit = new Float64Array(16);
const qOwn = new Float64Array(4);
const qGoal = new Float64Array(4);
const qBack = new Float64Array(4);

/** Blend the control's world matrix (in place) toward its place in the target's frame. */
export function applyFollow(slot: FollowSlot, worlds: Float64Array, control: number, frame: number): void {
  const strength = Math.min(1, Math.max(0, sampleTrack(slot.strength, frame)));
  if (strength === 0) return;
  const o = control * 16;
  multiplyAffine(goal, 0, worlds, slot.target * 16, slot.offset, 0);
  if (slot.follow.position) for (let k = 12; k < 15; k++) worlds[o + k] += (goal[k] - worlds[o + k]) * strength;
  if (!slot.follow.rotation) return;
  const scale = orthonormalise(ownUnit, 0, worlds, o);
  orthonormalise(goalUnit, 0, goal, 0);
  quatFromMatrix(qOwn, 0, ownUnit, 0, 4);
  quatFromMatrix(qGoal, 0, goalUnit, 0, 4);
  qBack[0] = -qOwn[0];
  qBack[1] = -qOwn[1];
  qBack[2] = -qOwn[2];
  qBack[3] = qOwn[3];
  quatMultiply(qGoal, 0, qBack, 0, qGoal, 0);
  quatPower(qGoal, 0, qGoal, 0, strength);
  quatMultiply(qOwn, 0, qOwn, 0, qGoal, 0);
  matrixFromQuat(worlds, o, 4, qOwn, 0);
  for (let column = 0; column < 3; column++) for (let row = 0; row < 3; row++) worlds[o + column * 4 + row] *= scale[column];
}

/** The offset at which a follow changes nothing at `frame`: the control's place in the target's frame. */
export function followOffset(shot: Shot, control: string, target: string, frame: number): number[] {
  const player = makePlayer(shot);
  const c = player.controlIndex.get(control);
  const t = player.controlIndex.get(target);
  if (c === undefined || t === undefined)
    throw new KneaderError("not-found", `The shot has no control "${c === undefined ? control : target}".`);
  player.pose(frame);
  const inverse = new Float64Array(16);
  const offset = new Float64Array(16);
  invertAffine(inverse, 0, player.worlds, t * 16);
  multiplyAffine(offset, 0, inverse, 0, player.worlds, c * 16);
  return [...offset];
}

/** Add a follow; refuses one that would make a control follow itself, directly or by way of others. */
export function addFollow(shot: Shot, follow: Follow): Shot {
  for (const id of [follow.control, follow.target])
    if (!controlById(shot.rig, id)) throw new KneaderError("not-found", `The shot has no control "${id}".`);
  const above = (id: string, seen: Set<string>): boolean => {
    if (id === follow.control) return true;
    if (seen.has(id)) return false;
    seen.add(id);
    const parent = controlById(shot.rig, id)?.parent;
    if (parent && above(parent, seen)) return true;
    return shot.follows.some((f) => f.control === id && above(f.target, seen));
  };
  if (above(follow.target, new Set()))
    throw new KneaderError(
      "cycle",
      `"${follow.control}" cannot follow "${follow.target}", which itself moves with it.`,
      "Choose a target that does not hang on the follower.",
    );
  return { ...shot, follows: [...shot.follows, follow] };
}
