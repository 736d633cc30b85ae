import { DEG, eulerFromQuat, nearestEuler, quatMultiply } from "../maths/rotation.ts";
import { type ChannelKey, channelKey, type Control, controlById, type Rig, rotateChannels, splitChannelKey } from "../model/rig.ts";
import type { Shot } from "../model/shot.ts";
import { makeMirrorer } from "./mirror.ts";
import type { Player } from "./player.ts";
import { writeLocal } from "./localMatrix.ts";
import { multiplyAffine } from "../maths/matrix.ts";
import { frameOf, type Grip, type Place, type PullBy, pullFrom, type Stand, standOf } from "./pull.ts";
import { layoutOf, placeAt, turnAt, worldAt } from "./rigLayout.ts";
import { standControl, worldMatrices, worldTurns } from "./standing.ts";

/** What is pulled at once, and what keeps its place meanwhile. */
export interface PullWish {
  readonly grip: Grip;
  readonly by: PullBy;
  /** Where the gripped spot is to go, in the world. */
  readonly goal: Place;
  /** Ids of controls that go along by as much. */
  readonly together?: readonly string[];
  /** The partners of what gives way follow mirrored. */
  readonly isSymmetric?: boolean;
  /** Ids of the ends of limbs that stay where they are, place and turn. */
  readonly holds?: readonly string[];
}

type Values = Record<ChannelKey, number>;

/**
 * The channel values with which a pull comes out, as `pullTo` has them, with all that goes along: other picked parts by the
 * same way, partners mirrored, and held hands and feet, whose limbs reach back to where these were. Raises `locked` as that does.
 */
export function pullPose(player: Player, frame: number, wish: PullWish): Values {
  const { shot } = player;
  player.pose(frame);
  player.readValues(frame);
  const start: Stand = { ...standOf(player, frame), values: player.values.slice(), worlds: player.worlds.slice() };
  let wanted: Values = pullFrom(shot, start, wish.grip, wish.by, wish.goal, frame);
  const from = spotIn(shot.rig, start.worlds, wish.grip);
  const way = wish.goal.map((v, k) => v - from[k]);
  for (const id of wish.together ?? []) {
    if (areTied(shot.rig, id, wish.grip.control)) continue;
    const grip: Grip = { control: id, spot: endOf(shot.rig, id) };
    const at = spotIn(shot.rig, start.worlds, grip);
    wanted = { ...wanted, ...pullFrom(shot, start, grip, wish.by, [at[0] + way[0], at[1] + way[1], at[2] + way[2]], frame) };
  }
  if (wish.isSymmetric) wanted = { ...mirrored(shot, start, wanted), ...wanted };
  for (const id of wish.holds ?? []) wanted = { ...wanted, ...held(shot, start, wanted, id, frame) };
  return wanted;
}

/** A control turned about its own length by so many degrees: the values of its angles. */
export function twistBy(player: Player, frame: number, control: string, degrees: number): Values {
  const { rig } = player.shot;
  player.pose(frame);
  player.readValues(frame);
  const [x, y, z] = endOf(rig, control);
  const length = Math.hypot(x, y, z) || 1;
  const half = (degrees * DEG) / 2;
  const sine = Math.sin(half) / length;
  const turns = worldTurns(rig, player.values);
  const own = turns.slice(4 * (player.controlIndex.get(control) as number)).subarray(0, 4);
  quatMultiply(own, 0, own, 0, [x * sine, y * sine, z * sine, Math.cos(half)], 0);
  return turnedTo(rig, standOf(player, frame), control, own);
}

/** Does one of two controls hang on the other? */
function areTied(rig: Rig, a: string, b: string): boolean {
  const hangs = (id: string, on: string): boolean => {
    for (let next: string | null = id; next !== null; next = controlById(rig, next)?.parent ?? null) if (next === on) return true;
    return false;
  };
  return hangs(a, b) || hangs(b, a);
}

/** Where a control's part ends, in its own space: in the middle of what hangs on it, at its tip, or a little along its bone. */
function endOf(rig: Rig, id: string): Place {
  const control = controlById(rig, id) as Control;
  const below = rig.controls.filter(({ parent }) => parent === id);
  const sum = below.reduce(([x, y, z], { rest }) => [x + rest[0], y + rest[1], z + rest[2]], [0, 0, 0]);
  const middle = sum.map((v) => v / (below.length || 1));
  if (Math.hypot(...middle) > 1e-9) return [middle[0], middle[1], middle[2]];
  if (control.tip) return control.tip;
  // Seen from itself a bone goes on as it came.
  const [x, y, z, w] = control.restTurn;
  const turned = [0, 0, 0, 0];
  quatMultiply(turned, 0, [-x, -y, -z, w], 0, [...control.rest, 0], 0);
  quatMultiply(turned, 0, turned, 0, [x, y, z, w], 0);
  const share = Math.hypot(...control.rest) > 1e-9 ? 0.5 : 0;
  return share > 0 ? [turned[0] * share, turned[1] * share, turned[2] * share] : [0, 0.1, 0];
}

function spotIn(rig: Rig, worlds: Float64Array, { control, spot: [x, y, z] }: Grip): Place {
  const o = worldAt(layoutOf(rig).controlIndex.get(control) as number);
  const at = [0, 1, 2].map((k) => worlds[o + k] * x + worlds[o + 4 + k] * y + worlds[o + 8 + k] * z + worlds[o + 12 + k]);
  return [at[0], at[1], at[2]];
}

const leading = new Float64Array(16);
const local = new Float64Array(16);

/** A stand with some channels otherwise. What leads controls is taken to stay where it is, and what is ruled stays. */
function standWith(rig: Rig, stand: Stand, wanted: Values): Stand {
  const { channelIndex } = layoutOf(rig);
  const values = stand.values.slice();
  for (const [key, value] of Object.entries(wanted)) values[channelIndex.get(key) as number] = value;
  if (!stand.led?.size) return { values, worlds: worldMatrices(rig, values) };
  const worlds = new Float64Array(stand.worlds.length);
  rig.controls.forEach(({ id }, i) => {
    if (stand.ruled?.has(id)) worlds.set(stand.worlds.subarray(worldAt(i), worldAt(i) + 16), worldAt(i));
    else if (stand.led?.has(id)) {
      frameOf(leading, { rig }, stand, i);
      writeLocal(local, rig.controls[i], values, i);
      multiplyAffine(worlds, worldAt(i), leading, 0, local, 0);
    } else standControl(rig, worlds, i, values);
  });
  return { ...stand, values, worlds };
}

/** What the partners of changed controls have in the mirror image of the changed pose. */
function mirrored({ rig, locked }: Shot, start: Stand, wanted: Values): Values {
  const { channelIndex } = layoutOf(rig);
  const image = makeMirrorer(rig).values(standWith(rig, start, wanted).values, start.values);
  const out: Values = {};
  for (const key of Object.keys(wanted)) {
    const { control, channel } = splitChannelKey(key);
    const partner = controlById(rig, control)?.partner;
    const other = partner ? controlById(rig, partner) : undefined;
    if (!other || other.id === control || other.mirror === "left out" || !other.channels.includes(channel)) continue;
    const to = channelKey(other.id, channel);
    if (!locked.includes(to)) out[to] = image[channelIndex.get(to) as number];
  }
  return out;
}

/** The values with which the end of a limb stays where it was though what it hangs on moved; none when it did not. */
function held(shot: Shot, start: Stand, wanted: Values, id: string, frame: number): Values {
  const { rig } = shot;
  const i = layoutOf(rig).controlIndex.get(id);
  // What is planted, or reaches, is held by that.
  if (i === undefined || start.ruled?.has(id)) return {};
  const moved = standWith(rig, start, wanted);
  const place: Place = [0, 1, 2].map((k) => start.worlds[placeAt(i) + k]) as unknown as Place;
  const isMoved = [0, 1, 2].some((k) => Math.abs(moved.worlds[placeAt(i) + k] - place[k]) > 1e-9);
  const changed = new Set(Object.keys(wanted).map((key) => splitChannelKey(key).control));
  // Who pulls the limb itself does not want it held.
  if (!isMoved || changed.has(id) || changed.has(controlById(rig, id)?.parent ?? "")) return {};
  const reach = pullFrom(shot, moved, { control: id, spot: [0, 0, 0] }, "reach", place, frame);
  const reached = standWith(rig, moved, reach);
  return { ...reach, ...turnedTo(rig, reached, id, worldTurns(rig, start.values).subarray(4 * i, 4 * i + 4)) };
}

/** The angles with which a control is turned in the world as wanted, of the channels it has. */
function turnedTo(rig: Rig, { values }: Stand, id: string, wanted: Float64Array): Values {
  const { controlIndex, parents } = layoutOf(rig);
  const i = controlIndex.get(id) as number;
  const control = rig.controls[i];
  const local = Float64Array.from(wanted);
  if (parents[i] >= 0) {
    const [x, y, z, w] = worldTurns(rig, values).subarray(4 * parents[i], 4 * parents[i] + 4);
    quatMultiply(local, 0, [-x, -y, -z, w], 0, wanted, 0);
  }
  const [rx, ry, rz, rw] = control.restTurn;
  quatMultiply(local, 0, [-rx, -ry, -rz, rw], 0, local, 0);
  const euler = [0, 0, 0];
  eulerFromQuat(euler, 0, local, 0, control.order);
  const at = turnAt(i);
  const found = nearestEuler(
    euler.map((angle) => angle / DEG),
    [values[at], values[at + 1], values[at + 2]],
    control.order,
  );
  return Object.fromEntries(
    rotateChannels.flatMap((channel, k) => (control.channels.includes(channel) ? [[channelKey(id, channel), found[k]]] : [])),
  );
}
