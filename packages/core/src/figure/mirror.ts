import { constantCurve } from "../curve/make.ts";
import { type ChannelKey, channelKey, moveChannels, restValue, rotateChannels } from "../model/rig.ts";
import type { Shot } from "../model/shot.ts";
import type { Player } from "./player.ts";
import { makePlayer } from "./player.ts";
import { DEG, eulerFromQuat, nearestEuler, quatFromEuler, quatMultiply } from "./rotation.ts";

type Quat = Float64Array;
const quat = (): Quat => Float64Array.of(0, 0, 0, 1);

function times(a: Quat, b: Quat): Quat {
  const out = quat();
  quatMultiply(out, 0, a, 0, b, 0);
  return out;
}

function inverse(q: Quat): Quat {
  return Float64Array.of(-q[0], -q[1], -q[2], q[3]);
}

/** Reflected in the plane x = 0: a turn about x stays, those about y and z change sign. */
function reflected(q: Quat): Quat {
  return Float64Array.of(q[0], -q[1], -q[2], q[3]);
}

function rotate(q: Quat, v: readonly number[]): [number, number, number] {
  const p = times(times(q, Float64Array.of(v[0], v[1], v[2], 0)), inverse(q));
  return [p[0], p[1], p[2]];
}

function yaw(angle: number): Quat {
  return Float64Array.of(0, Math.sin(angle / 2), 0, Math.cos(angle / 2));
}

/** Channel values of one pose, by channel key. */
export type PoseValues = Record<ChannelKey, number>;

/** The channel values of a frame, all layers together or those below one. */
export function readPose(shot: Shot, frame: number, below?: string): PoseValues {
  const player = makePlayer(shot, { below });
  player.readValues(frame);
  return Object.fromEntries([...player.channelIndex].map(([key, i]) => [key, player.values[i]]));
}

/**
 * The mirror image of a pose, left and right exchanged, in the plane through each top control that
 * holds its heading. The rule per control comes from the rest pose: the turn from rest, seen in the
 * world, is reflected, and the partner is turned from its own rest by the reflection. Rigs whose left
 * and right axes differ need no special case. Controls without a partner keep their values; scale and
 * own attributes change sides. Euler angles are the solution nearest to `near`.
 */
export function mirrorPose(shot: Shot, pose: PoseValues, near: PoseValues): PoseValues {
  const controls = shot.rig.controls;
  const index = new Map(controls.map((control, i) => [control.id, i]));
  const value = (values: PoseValues, id: string, channel: string) => values[channelKey(id, channel)] ?? restValue(channel);
  const restTurn = controls.map((control) => Float64Array.from(control.restTurn));
  const rest: Quat[] = [];
  const world: Quat[] = [];
  const heading: Quat[] = [];
  controls.forEach((control, i) => {
    const turn = quat();
    const [x, y, z] = rotateChannels.map((channel) => value(pose, control.id, channel) * DEG);
    quatFromEuler(turn, 0, x, y, z, control.order);
    const parent = control.parent === null ? -1 : (index.get(control.parent) as number);
    const local = times(restTurn[i], turn);
    rest[i] = parent < 0 ? restTurn[i] : times(rest[parent], restTurn[i]);
    world[i] = parent < 0 ? local : times(world[parent], local);
    if (parent >= 0) heading[i] = heading[parent];
    else {
      const forward = rotate(times(world[i], inverse(rest[i])), [0, 0, 1]);
      heading[i] = yaw(Math.atan2(forward[0], forward[2]));
    }
  });

  const result: PoseValues = { ...pose };
  const mirrored: Quat[] = [];
  controls.forEach((target, p) => {
    const parent = target.parent === null ? -1 : (index.get(target.parent) as number);
    const above = parent < 0 ? quat() : mirrored[parent];
    const source = target.partner === null ? undefined : controls[index.get(target.partner) ?? -1];
    if (!source) {
      const turn = quat();
      const [x, y, z] = rotateChannels.map((channel) => value(pose, target.id, channel) * DEG);
      quatFromEuler(turn, 0, x, y, z, target.order);
      mirrored[p] = times(above, times(restTurn[p], turn));
      return;
    }
    const c = index.get(source.id) as number;
    const h = heading[c];
    // The turn from rest as seen from the heading; the rest pose is symmetric, so only this is reflected.
    const turned = times(inverse(h), times(world[c], inverse(rest[c])));
    mirrored[p] = times(times(h, reflected(turned)), rest[p]);
    const local = times(inverse(above), mirrored[p]);
    writeTurn(target.id, target.order, times(inverse(restTurn[p]), local));
    const sourceParent = source.parent === null ? -1 : (index.get(source.parent) as number);
    const move = moveChannels.map((channel) => value(pose, source.id, channel));
    if (parent < 0)
      moveChannels.forEach((channel, k) => {
        result[channelKey(target.id, channel)] = move[k];
      });
    else {
      const seen = rotate(inverse(h), rotate(sourceParent < 0 ? quat() : world[sourceParent], move));
      const back = rotate(inverse(above), rotate(h, [-seen[0], seen[1], seen[2]]));
      moveChannels.forEach((channel, k) => {
        result[channelKey(target.id, channel)] = back[k];
      });
    }
    for (const channel of target.channels)
      if (!/^(move|rotate)[XYZ]$/.test(channel)) result[channelKey(target.id, channel)] = value(pose, source.id, channel);
  });
  return result;

  function writeTurn(id: string, order: Parameters<typeof nearestEuler>[2], turn: Quat): void {
    const euler = [0, 0, 0];
    eulerFromQuat(euler, 0, turn, 0, order);
    const to = rotateChannels.map((channel) => value(near, id, channel));
    const found = nearestEuler(
      euler.map((angle) => angle / DEG),
      to,
      order,
    );
    rotateChannels.forEach((channel, axis) => {
      result[channelKey(id, channel)] = found[axis];
    });
  }
}

/** How far a mirrored control lands from the reflected place of its partner, in scene units. */
export interface MirrorError {
  readonly control: string;
  readonly distance: number;
}

/**
 * Check a mirrored pose: every control must land on the reflection of its partner's place. Lists those
 * further off than `tolerance`, worst first (limbs of unequal length, wrong partners).
 */
export function checkMirror(shot: Shot, pose: PoseValues, image: PoseValues, tolerance: number): MirrorError[] {
  const before = posed(shot, pose);
  const after = posed(shot, image);
  const controls = shot.rig.controls;
  const top = (i: number): number => {
    const parent = controls[i].parent;
    return parent === null ? i : top(before.controlIndex.get(parent) as number);
  };
  const errors: MirrorError[] = [];
  controls.forEach((control, p) => {
    if (control.partner === null) return;
    const c = before.controlIndex.get(control.partner) as number;
    const root = top(c);
    const at = (player: Player, i: number) => [12, 13, 14].map((k) => player.worlds[i * 16 + k]);
    const origin = at(before, root);
    const forward = [before.worlds[root * 16 + 8], 0, before.worlds[root * 16 + 10]];
    const length = Math.hypot(forward[0], forward[2]) || 1;
    // Sideways is the heading turned by 90° about the vertical.
    const side = [forward[2] / length, 0, -forward[0] / length];
    const from = at(before, c).map((v, k) => v - origin[k]);
    const off = from[0] * side[0] + from[2] * side[2];
    const want = from.map((v, k) => v - 2 * off * side[k] + origin[k]);
    const got = at(after, p);
    const distance = Math.hypot(got[0] - want[0], got[1] - want[1], got[2] - want[2]);
    if (distance > tolerance) errors.push({ control: control.id, distance });
  });
  return errors.sort((a, b) => b.distance - a.distance);
}

/** A player standing at a pose given by values. */
function posed(shot: Shot, pose: PoseValues): Player {
  const still = poseShot(shot, pose);
  const player = makePlayer(still, { free: true });
  player.pose(0);
  return player;
}

function poseShot(shot: Shot, pose: PoseValues): Shot {
  const base = Object.fromEntries(Object.entries(pose).map(([key, value]) => [key, constantCurve(value)]));
  return { ...shot, base, passes: [], follows: [] };
}
