import type { Curve } from "../curve/curve.ts";
import { sampleTrack, type Track, trackOf } from "../curve/track.ts";
import { makeTrackSet, sampleSet, type TrackSet } from "../curve/trackSet.ts";
import { channelKey, restValue, transformChannels } from "../model/rig.ts";
import type { Curves, Pass, Shot } from "../model/shot.ts";
import { activePasses } from "../passes/active.ts";
import { envelope } from "../passes/envelope.ts";
import { passKind } from "../passes/kinds.ts";
import type { PassKind } from "../passes/passKind.ts";
import { evaluationOrder } from "./evaluationOrder.ts";
import { applyFollow, makeFollowSlot, type FollowSlot } from "./follow.ts";
import { multiplyAffine } from "./matrix.ts";
import {
  DEG,
  eulerFromQuat,
  matrixFromQuat,
  nearestEuler,
  orderNumber,
  quatMultiply,
  quatsFromHalves,
  type RotationOrder,
} from "./rotation.ts";
import { sinCos } from "./sinCos.ts";

const HALF_DEG = DEG / 2;

/** Where a control's numbers stand in the player's arrays. */
interface ControlSlot {
  readonly parent: number;
  readonly order: RotationOrder;
  readonly restTurned: boolean;
  /** First of its nine transform values. */
  readonly values: number;
  readonly follows: readonly FollowSlot[];
}

/** Curves with the places of their channels in `values`, and room for what they have at a frame. */
interface Layer {
  readonly set: TrackSet;
  readonly at: Int32Array;
  readonly own: Float64Array;
}

/** Controls whose angles are sampled together and joined as rotations. */
interface TurnLayer {
  readonly set: TrackSet;
  readonly own: Float64Array;
  readonly controls: Int32Array;
  /** Places of rotate X, Y, Z in `own`, three a control; −1 where the pass has no curve. */
  readonly places: Int32Array;
  readonly batch: Batch;
}

/** Room to turn the Euler angles of several controls into quaternions at once. */
interface Batch {
  /** Half angles, six numbers a control (see `sinCos`). */
  readonly halves: Float64Array;
  readonly orders: Uint8Array;
  readonly quats: Float64Array;
}

function makeBatch(orders: readonly RotationOrder[]): Batch {
  return {
    halves: new Float64Array(orders.length * 6),
    orders: Uint8Array.from(orders, orderNumber),
    quats: new Float64Array(orders.length * 4),
  };
}

interface PassSlot extends Layer {
  readonly pass: Pass;
  readonly kind: PassKind;
  readonly weight: Track;
  /** Controls whose angles this pass joins one by one after another pass has joined them as rotations. */
  readonly unjoins: readonly number[];
  readonly turns: TurnLayer;
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
  const euler = new Float64Array(3);
  const orders = Uint8Array.from(controls, (control) => orderNumber(control.order));
  const joining = makeBatch(controls.map((control) => control.order));
  const pending = new Int32Array(controls.length);

  const layerOf = (curves: readonly Curve[], places: readonly number[]): Layer => ({
    set: makeTrackSet(curves),
    at: Int32Array.from(places),
    own: new Float64Array(curves.length),
  });
  const base = layerOf(...usedCurves(shot.base, channelIndex));
  const turnedBelow = new Set<number>();
  const passes = activePasses(shot, options.below).flatMap((pass) => slotFor(pass) ?? []);
  // Base motion sets its channels at every frame; the others that passes change start from rest.
  const inBase = new Set(base.at);
  const fromRest = Int32Array.from(
    [
      ...new Set(
        passes.flatMap((slot) => [
          ...slot.at,
          ...[...slot.turns.controls].flatMap((control) => [3, 4, 5].map((axis) => control * 9 + axis)),
        ]),
      ),
    ].filter((i) => !inBase.has(i)),
  );
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
    const single: Curve[] = [];
    const places: number[] = [];
    const turned = new Map<number, [number, number, number]>();
    const turnCurves: Curve[] = [];
    const [curves, all] = usedCurves(pass.curves, channelIndex);
    curves.forEach((curve, n) => {
      const i = all[n];
      const axis = i < controls.length * 9 ? (i % 9) - 3 : -1;
      if (pass.compose === "rotation" && axis >= 0 && axis < 3) {
        const control = Math.floor(i / 9);
        const three = turned.get(control) ?? [-1, -1, -1];
        three[axis] = turnCurves.length;
        turnCurves.push(curve);
        turned.set(control, three);
      } else {
        single.push(curve);
        places.push(i);
      }
    });
    const isTurn = (i: number) => i < controls.length * 9 && i % 9 >= 3 && i % 9 < 6;
    const unjoins = [...new Set(places.filter(isTurn).map((i) => Math.floor(i / 9)))].filter((control) => turnedBelow.has(control));
    for (const control of turned.keys()) turnedBelow.add(control);
    return {
      pass,
      kind,
      weight: trackOf(pass.weight),
      ...layerOf(single, places),
      unjoins,
      turns: {
        set: makeTrackSet(turnCurves),
        own: new Float64Array(turnCurves.length),
        controls: Int32Array.from(turned.keys()),
        places: Int32Array.from([...turned.values()].flat()),
        batch: makeBatch([...turned.keys()].map((control) => controls[control].order)),
      },
    };
  }

  /** Euler values of a control that was joined as rotations, near what they were. */
  function unjoin(control: number): void {
    if (joined[control] === 0) return;
    joined[control] = 0;
    const v = control * 9 + 3;
    eulerFromQuat(euler, 0, turns, control * 4, slots[control].order);
    for (let axis = 0; axis < 3; axis++) euler[axis] /= DEG;
    const near = [values[v], values[v + 1], values[v + 2]];
    const found = nearestEuler(euler, near, slots[control].order);
    for (let axis = 0; axis < 3; axis++) values[v + axis] = found[axis];
  }

  /** Turn the angles of the first `count` controls of `pending` into quaternions. */
  function joinPending(count: number): void {
    const { halves, quats } = joining;
    for (let n = 0; n < count; n++) {
      const v = pending[n] * 9 + 3;
      for (let axis = 0; axis < 3; axis++) halves[n * 6 + 2 * axis] = values[v + axis] * HALF_DEG;
      joining.orders[n] = orders[pending[n]];
    }
    sinCos(halves, 3 * count);
    quatsFromHalves(quats, halves, joining.orders, count);
    for (let n = 0; n < count; n++) {
      joined[pending[n]] = 1;
      for (let k = 0; k < 4; k++) turns[pending[n] * 4 + k] = quats[n * 4 + k];
    }
  }

  function turnOn({ turns: layer, kind }: PassSlot, frame: number, weight: number): void {
    const { controls: at, places, own, batch } = layer;
    let count = 0;
    for (let n = 0; n < at.length; n++) if (joined[at[n]] === 0) pending[count++] = at[n];
    joinPending(count);
    sampleSet(layer.set, frame, own);
    for (let n = 0; n < at.length; n++)
      for (let axis = 0; axis < 3; axis++) {
        // A rotation the pass has no curve for keeps what is below it, so that only keyed axes change.
        const place = places[n * 3 + axis];
        batch.halves[n * 6 + 2 * axis] = (place < 0 ? kind.neutral(values[at[n] * 9 + 3 + axis]) : own[place]) * HALF_DEG;
      }
    sinCos(batch.halves, 3 * at.length);
    quatsFromHalves(batch.quats, batch.halves, batch.orders, at.length);
    kind.rotations(turns, at, batch.quats, weight);
  }

  function readLayers(frame: number): void {
    joined.fill(0);
    for (let n = 0; n < fromRest.length; n++) values[fromRest[n]] = rest[fromRest[n]];
    sampleSet(base.set, frame, base.own);
    for (let n = 0; n < base.at.length; n++) values[base.at[n]] = base.own[n];
    for (let p = 0; p < passes.length; p++) {
      const slot = passes[p];
      const weight = sampleTrack(slot.weight, frame) * envelope(slot.pass.range, frame);
      if (weight === 0) continue;
      for (let n = 0; n < slot.unjoins.length; n++) unjoin(slot.unjoins[n]);
      sampleSet(slot.set, frame, slot.own);
      slot.kind.channels(values, slot.at, slot.own, weight);
      if (slot.turns.controls.length > 0) turnOn(slot, frame, weight);
    }
  }

  function readValues(frame: number): void {
    readLayers(frame);
    for (const control of turnedBelow) unjoin(control);
  }

  function pose(frame: number): void {
    readLayers(frame);
    let count = 0;
    for (let i = 0; i < joined.length; i++) if (joined[i] === 0) pending[count++] = i;
    joinPending(count);
    for (let n = 0; n < order.length; n++) {
      const i = order[n];
      const slot = slots[i];
      const v = slot.values;
      const q = i * 4;
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

/** Curves that stand on channels of the rig and have keys, and where those channels are. */
function usedCurves(curves: Curves, channelIndex: ReadonlyMap<string, number>): [Curve[], number[]] {
  const used: Curve[] = [];
  const places: number[] = [];
  for (const key in curves) {
    const i = channelIndex.get(key);
    if (i === undefined || curves[key].times.length === 0) continue;
    used.push(curves[key]);
    places.push(i);
  }
  return [used, places];
}
