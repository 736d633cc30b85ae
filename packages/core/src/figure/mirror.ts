import { constantCurve } from "../curve/make.ts";
import { type ChannelKey, type Control, channelKey, moveChannels, restValue, rotateChannels } from "../model/rig.ts";
import type { Shot } from "../model/shot.ts";
import { multiplyAffine } from "../maths/matrix.ts";
import { leaderOf, type MirrorPlane, planeOf, reflect } from "./mirrorPlane.ts";
import type { Player } from "../evaluate/makePlayer.ts";
import { makePlayer } from "../evaluate/makePlayer.ts";
import { DEG, eulerFromQuat, matrixFromQuat, nearestEuler, quatFromEuler, quatMultiply } from "../maths/rotation.ts";

/** For rigs without a middle: the plane x = 0. */
const FACING: MirrorPlane = { origin: [0, 0, 0], heading: 0 };

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
 * The mirror image of a pose, left and right exchanged. Each central top control is mirrored in the upright plane
 * through its own middle, so that it keeps its place and its heading, and what hangs on it goes along; top controls
 * that have a partner (hands and feet that stand in the world) are mirrored in the plane of the figure's middle. The
 * rule per control comes from the rest pose, which is taken to be even about the plane x = 0: the turn from rest, seen
 * in the world, is reflected, and the partner is turned from its own rest by the reflection. Rigs whose left and right
 * axes differ need no special case. Controls without a partner keep their values; scale and own attributes change
 * sides. Euler angles are the solution nearest to `near`.
 */
export function mirrorPose(shot: Shot, pose: PoseValues, near: PoseValues): PoseValues {
  const controls = shot.rig.controls;
  const index = new Map(controls.map((control, i) => [control.id, i]));
  const value = (values: PoseValues, id: string, channel: string) => values[channelKey(id, channel)] ?? restValue(channel);
  const restTurn = controls.map((control) => Float64Array.from(control.restTurn));
  const rest: Quat[] = [];
  const world: Quat[] = [];
  const planes: MirrorPlane[] = [];
  const move = (id: string) => moveChannels.map((channel) => value(pose, id, channel));
  const placeOf = (control: Control) => move(control.id).map((by, k) => control.rest[k] + by);
  controls.forEach((control, i) => {
    const turn = quat();
    const [x, y, z] = rotateChannels.map((channel) => value(pose, control.id, channel) * DEG);
    quatFromEuler(turn, 0, x, y, z, control.order);
    const parent = control.parent === null ? -1 : (index.get(control.parent) as number);
    const local = times(restTurn[i], turn);
    rest[i] = parent < 0 ? restTurn[i] : times(rest[parent], restTurn[i]);
    world[i] = parent < 0 ? local : times(world[parent], local);
    if (parent >= 0) planes[i] = planes[parent];
    else {
      const turned = times(world[i], inverse(rest[i]));
      const [x0, y0, z0] = placeOf(control);
      planes[i] = planeOf([x0, y0, z0], rotate(turned, [1, 0, 0]), rotate(turned, [0, 0, 1]));
    }
  });
  const leader = leaderOf(shot.rig);
  const middle = leader ? planes[index.get(leader.id) as number] : FACING;
  controls.forEach((control, i) => {
    if (control.parent === null) {
      if (control.partner !== null && control.partner !== control.id) planes[i] = middle;
    } else planes[i] = planes[index.get(control.parent) as number];
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
    const h = yaw(planes[c].heading);
    // The turn from rest as seen from the heading; the rest pose is symmetric, so only this is reflected.
    const turned = times(inverse(h), times(world[c], inverse(rest[c])));
    mirrored[p] = times(times(h, reflected(turned)), rest[p]);
    const local = times(inverse(above), mirrored[p]);
    writeTurn(target.id, target.order, times(inverse(restTurn[p]), local));
    const sourceParent = source.parent === null ? -1 : (index.get(source.parent) as number);
    if (parent < 0) {
      const place = sourceParent < 0 ? reflect(planes[c], placeOf(source)) : placeOf(target);
      moveChannels.forEach((channel, k) => {
        result[channelKey(target.id, channel)] = source === target ? value(pose, source.id, channel) : place[k] - target.rest[k];
      });
    } else {
      const seen = rotate(inverse(h), rotate(sourceParent < 0 ? quat() : world[sourceParent], move(source.id)));
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
 * Check a pose that should be the mirror image of another: every control must stand on the reflection of its
 * partner's place. Lists those further off than `tolerance`, worst first (limbs of unequal length, wrong partners,
 * channels that were not keyed).
 */
export function checkMirror(shot: Shot, pose: PoseValues, image: PoseValues, tolerance: number): MirrorError[] {
  const before = posed(shot, pose);
  const after = posed(shot, image);
  const controls = shot.rig.controls;
  const at = (player: Player, i: number) => player.worlds.subarray(i * 16 + 12, i * 16 + 15);
  const planes: MirrorPlane[] = [];
  const leader = leaderOf(shot.rig);
  const planeAt = (i: number): MirrorPlane => {
    // The turn from rest: a rig may rest turned.
    const turned = new Float64Array(16);
    const rest = new Float64Array(16);
    const [x, y, z, w] = controls[i].restTurn;
    matrixFromQuat(rest, 0, 4, [-x, -y, -z, w], 0);
    multiplyAffine(turned, 0, before.worlds, i * 16, rest, 0);
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
  const still = poseShot(shot, pose);
  const player = makePlayer(still, { free: true });
  player.pose(0);
  return player;
}

function poseShot(shot: Shot, pose: PoseValues): Shot {
  const base = Object.fromEntries(Object.entries(pose).map(([key, value]) => [key, constantCurve(value)]));
  return { ...shot, base, passes: [], follows: [] };
}
