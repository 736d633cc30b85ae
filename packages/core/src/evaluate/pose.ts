import { sampleTrack } from "../curve/track.ts";
import { sampleSet } from "../curve/trackSet.ts";
import { envelope } from "../passes/envelope.ts";
import type { RideSlot } from "./rideAlong.ts";
import { multiplyAffine } from "../maths/matrix.ts";
import { readLocal } from "../figure/localMatrix.ts";
import { turnAt, worldAt } from "../figure/rigLayout.ts";
import { placeUnder } from "./placeUnder.ts";
import { DEG, eulerFromQuat, nearestEuler, quatMultiply } from "../maths/rotation.ts";
import { turnOfAngles, turnsOfAngles } from "../maths/turnOfAngles.ts";
import { setShare } from "../maths/turnPower.ts";
import { poseKernel } from "./poseKernel.ts";
import type { AppliedConstraint, Stage } from "./stage.ts";
import type { Overlay, PassSlot } from "./stageLayers.ts";
import { nodeFrame } from "./timeNode.ts";
import type { TurnStack } from "./turnStacks.ts";

/*
 * Functions of a stage rather than closures over it: there are many players, and the engine makes the best
 * of code that it knows only once.
 */

const own = new Float64Array(4);
const euler = new Float64Array(3);
const carried = new Float64Array(16);

/** Euler values of a control that was joined as rotations, near what they were. */
function unjoin({ joined, turns, values, slots }: Stage, control: number): void {
  if (joined[control] === 0) return;
  joined[control] = 0;
  const v = turnAt(control);
  eulerFromQuat(euler, 0, turns, control * 4, slots[control].order);
  for (let axis = 0; axis < 3; axis++) euler[axis] /= DEG;
  const near = [values[v], values[v + 1], values[v + 2]];
  const found = nearestEuler(euler, near, slots[control].order);
  for (let axis = 0; axis < 3; axis++) values[v + axis] = found[axis];
}

/** A control's turn from its angles, if it does not have it yet. */
function join({ joined, turns, values, orders }: Stage, control: number): void {
  if (joined[control] === 1) return;
  joined[control] = 1;
  turnOfAngles(turns, control * 4, values, turnAt(control), orders[control]);
}

/** The same for all controls, where no pass has joined any. */
function joinAll({ turns, values, orders }: Stage): void {
  turnsOfAngles(turns, values, turnAt(0), turnAt(1) - turnAt(0), orders);
}

/** Join what a pass turns as rotations. */
function turnOn(stage: Stage, { turns: layer, kind, overTurns, time, power }: PassSlot, frame: number): void {
  const { values } = stage;
  const { controls, set, own: sampled, turns, missing } = layer;
  for (let n = 0; n < controls.length; n++) join(stage, controls[n]);
  sampleSet(set, frame, sampled);
  // A rotation the pass has no curve for keeps what is below it, so that only keyed axes change.
  for (let n = 0; n < missing.length; n++) {
    const place = missing[n];
    sampled[place] = kind.neutral(values[turnAt(controls[(place / 3) | 0]) + (place % 3)]);
  }
  if (overTurns !== null) overlay(overTurns, sampled, stage.times, time);
  turnsOfAngles(turns, sampled, 0, 3, layer.orders);
  kind.rotations(stage.turns, controls, turns, power);
}

/** Base motion and each pass upward on controls of which that is all. */
function turnStack(stage: Stage, stack: TurnStack): void {
  const { passes, times, turns, joined } = stage;
  const { controls, layers } = stack;
  for (let n = 0; n < controls.length; n++) joined[controls[n]] = 1;
  if (stack.onlyAdds && poseKernel()?.stack(stage, stack, times[stack.time])) return;
  sampleSet(stack.set, times[stack.time], stack.angles);
  turnsOfAngles(stack.turns, stack.angles, 0, 3, stack.orders);
  for (let n = 0; n < controls.length; n++) {
    for (let k = 0; k < 4; k++) turns[controls[n] * 4 + k] = stack.turns[n * 4 + k];
  }
  for (let l = 0; l < layers.length; l++) {
    const { kind, power } = passes[layers[l].slot];
    if (power.share !== 0) kind.rotations(turns, controls, layers[l].own, power);
  }
}

/** Base motion, then each pass upward, into `values` and (where joined) `turns`. */
function readLayers(stage: Stage, frame: number): void {
  const { joined, fromRest, values, rest, nodes, times, base, overBase, passes, stacks } = stage;
  joined.fill(0);
  times[0] = frame;
  for (let n = 0; n < nodes.length; n++) times[n + 1] = nodeFrame(nodes[n], times[nodes[n].from]);
  for (let n = 0; n < fromRest.length; n++) values[fromRest[n]] = rest[fromRest[n]];
  for (let b = 0; b < base.length; b++) {
    const { set, time } = base[b];
    sampleSet(set, times[time], values);
  }
  if (overBase !== null) overlay(overBase, values, times, 0);
  for (let p = 0; p < passes.length; p++) {
    const slot = passes[p];
    const when = times[slot.time];
    const weight = sampleTrack(slot.weight, when) * envelope(slot.pass.range, when);
    if (slot.isTurning) setShare(slot.power, weight);
    if (weight === 0) continue;
    for (let n = 0; n < slot.unjoins.length; n++) unjoin(stage, slot.unjoins[n]);
    sampleSet(slot.set, when, slot.own);
    if (slot.over !== null) overlay(slot.over, slot.own, times, slot.time);
    joinChannels(values, slot, weight);
    if (slot.turns.controls.length > 0) turnOn(stage, slot, when);
  }
  for (let n = 0; n < stacks.length; n++) turnStack(stage, stacks[n]);
}

/** Put what comes in over what was sampled. */
function overlay({ live, keys, places, times: at }: Overlay, out: Float64Array, times: Float64Array, time: number): void {
  for (let n = 0; n < keys.length; n++) {
    const value = live.read(keys[n], times[time === 0 ? at[n] : time]);
    if (!Number.isNaN(value)) out[places[n]] = value;
  }
}

function joinChannels(values: Float64Array, { kind, at, own }: PassSlot, weight: number): void {
  const { keep, take } = kind.mix(weight);
  for (let n = 0; n < at.length; n++) values[at[n]] = values[at[n]] * keep + own[n] * take;
}

/** Fill `values` for a frame. */
export function readStage(stage: Stage, frame: number): void {
  readLayers(stage, frame);
  for (const { set, time, controls, angles } of stage.stacks) {
    sampleSet(set, stage.times[time], angles);
    for (let n = 0; n < controls.length; n++)
      for (let axis = 0; axis < 3; axis++) stage.values[turnAt(controls[n]) + axis] = angles[n * 3 + axis];
  }
  for (const control of stage.turned) unjoin(stage, control);
}

/** Fill `turns` and `worlds` for a frame. */
export function poseStage(stage: Stage, frame: number): void {
  readLayers(stage, frame);
  const { joined, order, steps, riders, constraints, turned, rides, standing } = stage;
  const fromAngles = turned.size === 0;
  const kernel = steps === null && rides.length === 0 ? poseKernel() : null;
  if (fromAngles && kernel?.place(stage, true)) return;
  if (fromAngles && order.length === joined.length) joinAll(stage);
  else for (let n = 0; n < order.length; n++) join(stage, order[n]);
  if (!fromAngles && kernel?.place(stage, false)) return;
  if (steps === null)
    for (let n = 0; n < order.length; n++) {
      placeControl(stage, order[n]);
      const ride = rides[order[n]];
      if (ride) rideAlong(stage, ride, order[n], frame);
    }
  else {
    standing.livesIn.fill(-1);
    for (let n = 0; n < steps.length; n++) {
      if (steps[n] < joined.length) placeControl(stage, steps[n]);
      else applyConstraint(stage, constraints[steps[n] - joined.length]);
      const rider = riders[n];
      const ride = rider < 0 ? undefined : rides[rider];
      if (ride) rideAlong(stage, ride, rider, frame);
    }
  }
}

function placeControl(stage: Stage, i: number): void {
  const { slots, turns, worlds, values, restTurns, restMoves } = stage;
  const slot = slots[i];
  if (slot.restTurned) {
    quatMultiply(own, 0, restTurns, i * 4, turns, i * 4);
    placeUnder(worlds, i, slot.parent, own, 0, values, restMoves);
  } else placeUnder(worlds, i, slot.parent, turns, i * 4, values, restMoves);
}

/** What leads a control is read at the frame at which its own keys are: passes that hold or warp time take both along. */
function applyConstraint({ standing, times }: Stage, { kind, slot, tracks, time }: AppliedConstraint): void {
  const frame = times[time];
  slot.frame = frame;
  for (let n = 0; n < tracks.length; n++) {
    const track = tracks[n];
    if (track !== null) slot.values[n] = sampleTrack(track, frame);
  }
  kind.apply(standing, slot);
}

/** Put an rides control where it was before the camera at the held frame. The camera must be in place. */
function rideAlong({ still, worlds }: Stage, slot: RideSlot, control: number, frame: number): void {
  if (still === null || (slot.on !== null && sampleTrack(slot.on, frame) < 0.5)) return;
  const shown = nodeFrame(slot, frame);
  if (shown === frame) return;
  if (still.times[0] !== shown) poseStage(still, shown);
  readLocal(carried, 0, still.worlds, control, slot.camera);
  multiplyAffine(worlds, worldAt(control), worlds, worldAt(slot.camera), carried, 0);
}
