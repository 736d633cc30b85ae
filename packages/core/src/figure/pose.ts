import { sampleTrack } from "../curve/track.ts";
import { sampleSet } from "../curve/trackSet.ts";
import { envelope } from "../passes/envelope.ts";
import type { AttachSlot } from "./attachToCamera.ts";
import { applyFollow } from "./follow.ts";
import { invertAffine, multiplyAffine } from "./matrix.ts";
import { DEG, eulerFromQuat, matrixFromQuat, nearestEuler, quatMultiply, quatsFromHalves } from "./rotation.ts";
import { sinCos } from "./sinCos.ts";
import type { PassSlot, Stage } from "./stage.ts";
import { nodeFrame } from "./timeNode.ts";

/*
 * Functions of a stage rather than closures over it: there are many players, and the engine makes the best
 * of code that it knows only once.
 */

const HALF_DEG = DEG / 2;
const local = new Float64Array(16);
const own = new Float64Array(4);
const euler = new Float64Array(3);
const back = new Float64Array(16);
const carried = new Float64Array(16);

/** Euler values of a control that was joined as rotations, near what they were. */
function unjoin({ joined, turns, values, slots }: Stage, control: number): void {
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
function joinPending({ joining, pending, values, orders, joined, turns }: Stage, count: number): void {
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

/** Join what a pass turns as rotations. */
function turnOn(stage: Stage, { turns: layer, kind }: PassSlot, frame: number, weight: number): void {
  const { joined, pending, values, turns } = stage;
  const { controls: at, places, own: sampled, batch } = layer;
  let count = 0;
  for (let n = 0; n < at.length; n++) if (joined[at[n]] === 0) pending[count++] = at[n];
  joinPending(stage, count);
  sampleSet(layer.set, frame, sampled);
  for (let n = 0; n < at.length; n++)
    for (let axis = 0; axis < 3; axis++) {
      // A rotation the pass has no curve for keeps what is below it, so that only keyed axes change.
      const place = places[n * 3 + axis];
      batch.halves[n * 6 + 2 * axis] = (place < 0 ? kind.neutral(values[at[n] * 9 + 3 + axis]) : sampled[place]) * HALF_DEG;
    }
  sinCos(batch.halves, 3 * at.length);
  quatsFromHalves(batch.quats, batch.halves, batch.orders, at.length);
  kind.rotations(turns, at, batch.quats, weight);
}

/** Base motion, then each pass upward, into `values` and (where joined) `turns`. */
function readLayers(stage: Stage, frame: number): void {
  const { joined, fromRest, values, rest, nodes, times, base, passes } = stage;
  joined.fill(0);
  times[0] = frame;
  for (let n = 0; n < nodes.length; n++) times[n + 1] = nodeFrame(nodes[n], times[nodes[n].from]);
  for (let n = 0; n < fromRest.length; n++) values[fromRest[n]] = rest[fromRest[n]];
  for (let b = 0; b < base.length; b++) {
    const { set, at, own: sampled, time } = base[b];
    sampleSet(set, times[time], sampled);
    for (let n = 0; n < at.length; n++) values[at[n]] = sampled[n];
  }
  for (let p = 0; p < passes.length; p++) {
    const slot = passes[p];
    const when = times[slot.time];
    const weight = sampleTrack(slot.weight, when) * envelope(slot.pass.range, when);
    if (weight === 0) continue;
    for (let n = 0; n < slot.unjoins.length; n++) unjoin(stage, slot.unjoins[n]);
    sampleSet(slot.set, when, slot.own);
    slot.kind.channels(values, slot.at, slot.own, weight);
    if (slot.turns.controls.length > 0) turnOn(stage, slot, when, weight);
  }
}

/** Fill `values` for a frame. */
export function readStage(stage: Stage, frame: number): void {
  readLayers(stage, frame);
  for (const control of stage.turned) unjoin(stage, control);
}

/** Fill `turns` and `worlds` for a frame. */
export function poseStage(stage: Stage, frame: number): void {
  readLayers(stage, frame);
  const { joined, pending, order, slots, turns, worlds, values, restTurns, restMoves, attached } = stage;
  let count = 0;
  for (let i = 0; i < joined.length; i++) if (joined[i] === 0) pending[count++] = i;
  joinPending(stage, count);
  for (let n = 0; n < order.length; n++) {
    const i = order[n];
    const slot = slots[i];
    const v = i * 9;
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
    const attach = attached[i];
    if (attach) rideAlong(stage, attach, i, frame);
    for (let f = 0; f < slot.follows.length; f++) applyFollow(slot.follows[f], worlds, i, frame);
  }
}

function scaleColumns(m: Float64Array, o: number, x: number, y: number, z: number): void {
  if (x !== 1) for (let k = 0; k < 3; k++) m[o + k] *= x;
  if (y !== 1) for (let k = 4; k < 7; k++) m[o + k] *= y;
  if (z !== 1) for (let k = 8; k < 11; k++) m[o + k] *= z;
}

/** Put an attached control where it was before the camera at the held frame. The camera must be in place. */
function rideAlong({ still, worlds }: Stage, slot: AttachSlot, control: number, frame: number): void {
  if (still === null || (slot.on !== null && sampleTrack(slot.on, frame) < 0.5)) return;
  const shown = nodeFrame(slot, frame);
  if (shown === frame) return;
  if (still.times[0] !== shown) poseStage(still, shown);
  invertAffine(back, 0, still.worlds, slot.camera * 16);
  multiplyAffine(carried, 0, back, 0, still.worlds, control * 16);
  multiplyAffine(worlds, control * 16, worlds, slot.camera * 16, carried, 0);
}
