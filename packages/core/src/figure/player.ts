import { sampleTrack, type Track, trackOf } from "../curve/track.ts";
import { channelKey, restValue, transformChannels } from "../model/rig.ts";
import type { Pass, Shot } from "../model/shot.ts";
import { envelope } from "../passes/envelope.ts";
import { passKind } from "../passes/kinds.ts";
import type { PassKind } from "../passes/passKind.ts";
import { applyFollow, makeFollowSlot, type FollowSlot } from "./follow.ts";
import { multiplyAffine } from "./matrix.ts";
import { DEG, eulerFromQuat, matrixFromQuat, nearestEuler, quatFromEuler, quatMultiply, type RotationOrder } from "./rotation.ts";

/** Where a control's numbers stand in the player's arrays. */
interface ControlSlot {
  readonly parent: number;
  readonly order: RotationOrder;
  readonly restTurned: boolean;
  /** First of its nine transform values. */
  readonly values: number;
  readonly follows: readonly FollowSlot[];
}

interface PassSlot {
  readonly pass: Pass;
  readonly kind: PassKind;
  readonly weight: Track;
  /** Channels joined one by one: index into `values`, and the pass's own curve. */
  readonly channels: readonly number[];
  readonly tracks: readonly Track[];
  /** Controls joined as rotations, with the tracks of rotate X, Y, Z (null where it has no curve). */
  readonly turns: readonly { control: number; tracks: readonly (Track | null)[] }[];
}

/**
 * A shot made ready to play. `pose(frame)` fills `turns` and `worlds`, `readValues(frame)` fills
 * `values`; nothing is allocated per posed frame. Make one per user: two readers of one player would
 * overwrite each other's frame.
 */
export interface Player {
  readonly shot: Shot;
  /** Index into `values` of a channel, by channel key. */
  readonly channelIndex: ReadonlyMap<string, number>;
  /** Index into `worlds` (times 16), by control id. */
  readonly controlIndex: ReadonlyMap<string, number>;
  /** Final channel values: nine for each control (move, rotate in degrees, scale), then attributes. */
  readonly values: Float64Array;
  /** Each control's own rotation (rest turn not included), four numbers a control. */
  readonly turns: Float64Array;
  /** World matrices by columns, sixteen numbers a control. */
  readonly worlds: Float64Array;
  /** Fill `turns` and `worlds` for a frame (a float). */
  pose(frame: number): void;
  /** Fill `values` for a frame. */
  readValues(frame: number): void;
}

export interface PlayerOptions {
  /** Leave out passes from this one upward (by id); "base" leaves out all. */
  readonly below?: string;
  /** Leave out the follows. */
  readonly free?: boolean;
}

export function makePlayer(shot: Shot, options: PlayerOptions = {}): Player {
  const controls = shot.rig.controls;
  const controlIndex = new Map(controls.map((control, i) => [control.id, i]));
  const channelIndex = new Map<string, number>();
  controls.forEach((control, i) => {
    for (let c = 0; c < 9; c++) channelIndex.set(channelKey(control.id, transformChannels[c]), i * 9 + c);
  });
  let next = controls.length * 9;
  for (const control of controls)
    for (const channel of control.channels) {
      const key = channelKey(control.id, channel);
      if (!channelIndex.has(key)) channelIndex.set(key, next++);
    }

  const rest = new Float64Array(next);
  for (const [key, i] of channelIndex) rest[i] = restValue(key.slice(key.lastIndexOf(".") + 1));
  const values = rest.slice();
  const turns = new Float64Array(controls.length * 4);
  const worlds = new Float64Array(controls.length * 16);
  const local = new Float64Array(16);
  const joined = new Uint8Array(controls.length);
  const own = new Float64Array(4);
  const euler = [0, 0, 0];

  const baseChannels: number[] = [];
  const baseTracks: Track[] = [];
  for (const key in shot.base) {
    const i = channelIndex.get(key);
    if (i === undefined || shot.base[key].times.length === 0) continue;
    baseChannels.push(i);
    baseTracks.push(trackOf(shot.base[key]));
  }

  const passes = activePasses(shot, options.below).flatMap((pass) => slotFor(pass) ?? []);
  const order = evaluationOrder(shot, options.free === true);
  const slots = controls.map(
    (control, i): ControlSlot => ({
      parent: control.parent === null ? -1 : (controlIndex.get(control.parent) ?? -1),
      order: control.order,
      restTurned: control.restTurn[3] !== 1,
      values: i * 9,
      follows: options.free
        ? []
        : shot.follows
            .filter((f) => f.on && f.control === control.id && controlIndex.has(f.target))
            .map((f) => makeFollowSlot(f, controlIndex.get(f.target) as number)),
    }),
  );
  const restTurns = Float64Array.from(controls.flatMap((control) => control.restTurn));
  const restMoves = Float64Array.from(controls.flatMap((control) => control.rest));

  function slotFor(pass: Pass): PassSlot | null {
    const kind = passKind(pass.kind);
    if (!kind) return null;
    const channels: number[] = [];
    const tracks: Track[] = [];
    const turned = new Map<number, (Track | null)[]>();
    for (const key in pass.curves) {
      const i = channelIndex.get(key);
      if (i === undefined || pass.curves[key].times.length === 0) continue;
      const axis = i < controls.length * 9 ? (i % 9) - 3 : -1;
      if (pass.compose === "rotation" && axis >= 0 && axis < 3) {
        const control = Math.floor(i / 9);
        const three = turned.get(control) ?? [null, null, null];
        three[axis] = trackOf(pass.curves[key]);
        turned.set(control, three);
      } else {
        channels.push(i);
        tracks.push(trackOf(pass.curves[key]));
      }
    }
    const turnList = [...turned].map(([control, three]) => ({ control, tracks: three }));
    return { pass, kind, weight: trackOf(pass.weight), channels, tracks, turns: turnList };
  }

  /** Euler values of a control that was joined as rotations, near what they were. */
  function unjoin(control: number): void {
    const v = control * 9 + 3;
    eulerFromQuat(euler, 0, turns, control * 4, slots[control].order);
    for (let axis = 0; axis < 3; axis++) euler[axis] /= DEG;
    const near = [values[v], values[v + 1], values[v + 2]];
    const found = nearestEuler(euler, near, slots[control].order);
    for (let axis = 0; axis < 3; axis++) values[v + axis] = found[axis];
  }

  function join(control: number): void {
    if (joined[control] === 1) return;
    const v = control * 9 + 3;
    quatFromEuler(turns, control * 4, values[v] * DEG, values[v + 1] * DEG, values[v + 2] * DEG, slots[control].order);
    joined[control] = 1;
  }

  function readLayers(frame: number): void {
    values.set(rest);
    joined.fill(0);
    for (let i = 0; i < baseChannels.length; i++) values[baseChannels[i]] = sampleTrack(baseTracks[i], frame);
    for (let p = 0; p < passes.length; p++) {
      const slot = passes[p];
      const weight = sampleTrack(slot.weight, frame) * envelope(slot.pass.range, frame);
      if (weight === 0) continue;
      const { channels, tracks, kind } = slot;
      for (let i = 0; i < channels.length; i++) {
        const c = channels[i];
        const control = Math.floor(c / 9);
        if (control < joined.length && joined[control] === 1 && c % 9 >= 3 && c % 9 < 6) {
          unjoin(control);
          joined[control] = 0;
        }
        values[c] = kind.channel(values[c], sampleTrack(tracks[i], frame), weight);
      }
      for (let i = 0; i < slot.turns.length; i++) {
        const { control, tracks: three } = slot.turns[i];
        join(control);
        // A rotation the pass has no curve for keeps what is below it, so that only keyed axes change.
        for (let axis = 0; axis < 3; axis++) {
          const track = three[axis];
          euler[axis] = (track === null ? kind.neutral(values[control * 9 + 3 + axis]) : sampleTrack(track, frame)) * DEG;
        }
        quatFromEuler(own, 0, euler[0], euler[1], euler[2], slots[control].order);
        kind.rotation(turns, control * 4, own, 0, weight);
      }
    }
  }

  function readValues(frame: number): void {
    readLayers(frame);
    for (let i = 0; i < joined.length; i++) if (joined[i] === 1) unjoin(i);
  }

  function pose(frame: number): void {
    readLayers(frame);
    for (let n = 0; n < order.length; n++) {
      const i = order[n];
      const slot = slots[i];
      const v = slot.values;
      const q = i * 4;
      if (joined[i] === 0) quatFromEuler(turns, q, values[v + 3] * DEG, values[v + 4] * DEG, values[v + 5] * DEG, slot.order);
      const root = slot.parent < 0;
      const out = root ? worlds : local;
      const o = root ? i * 16 : 0;
      if (slot.restTurned) {
        quatMultiply(own, 0, restTurns, q, turns, q);
        matrixFromQuat(out, o, 4, own, 0);
      } else matrixFromQuat(out, o, 4, turns, q);
      scaleColumns(out, o, values[v + 6], values[v + 7], values[v + 8]);
      const r = i * 3;
      out[o + 12] = restMoves[r] + values[v];
      out[o + 13] = restMoves[r + 1] + values[v + 1];
      out[o + 14] = restMoves[r + 2] + values[v + 2];
      if (root) {
        out[o + 3] = out[o + 7] = out[o + 11] = 0;
        out[o + 15] = 1;
      } else multiplyAffine(worlds, i * 16, worlds, slot.parent * 16, local, 0);
      for (let f = 0; f < slot.follows.length; f++) applyFollow(slot.follows[f], worlds, i, frame);
    }
  }

  return { shot, channelIndex, controlIndex, values, turns, worlds, pose, readValues };
}

function scaleColumns(m: Float64Array, o: number, x: number, y: number, z: number): void {
  if (x !== 1) for (let k = 0; k < 3; k++) m[o + k] *= x;
  if (y !== 1) for (let k = 4; k < 7; k++) m[o + k] *= y;
  if (z !== 1) for (let k = 8; k < 11; k++) m[o + k] *= z;
}

/** Passes that play, from the bottom up: those on, or only the solo ones when any is. */
export function activePasses(shot: Shot, below?: string): Pass[] {
  if (below === "base") return [];
  const cut = below === undefined ? -1 : shot.passes.findIndex((pass) => pass.id === below);
  const stack = cut < 0 ? shot.passes : shot.passes.slice(0, cut);
  const solo = shot.passes.some((pass) => pass.solo);
  return stack.filter((pass) => (solo ? pass.solo : pass.on));
}

/** Controls in an order in which parents and followed targets come first. */
export function evaluationOrder(shot: Shot, free = false): number[] {
  const controls = shot.rig.controls;
  const index = new Map(controls.map((control, i) => [control.id, i]));
  const needs = controls.map((control) => {
    const list = control.parent === null ? [] : [index.get(control.parent)];
    if (!free) for (const f of shot.follows) if (f.on && f.control === control.id) list.push(index.get(f.target));
    return list.filter((n): n is number => n !== undefined);
  });
  const order: number[] = [];
  const state = new Uint8Array(controls.length);
  const visit = (i: number): void => {
    if (state[i] !== 0) return;
    state[i] = 1;
    for (const need of needs[i]) visit(need);
    order.push(i);
  };
  for (let i = 0; i < controls.length; i++) visit(i);
  return order;
}
