import { type Track, trackOf } from "../curve/track.ts";
import { makeTrackSet, type TrackSet } from "../curve/trackSet.ts";
import { channelKey, type Rig } from "../model/rig.ts";
import { BASE, type Constraint, type Pass, type Shot } from "../model/shot.ts";
import { activePasses } from "../passes/active.ts";
import { addsPass } from "../passes/adds.ts";
import { passKind } from "../passes/kinds.ts";
import { replacesPass } from "../passes/replaces.ts";
import { type RideSlot, rideSlots } from "./rideAlong.ts";
import { computedCurves } from "./computedCurves.ts";
import { type Folds, isWeightless, makeFolds } from "./folds.ts";
import { activeConstraints } from "../constraints/activeConstraints.ts";
import type { ConstraintKind, ConstraintSlot, Standing } from "../constraints/constraintKind.ts";
import { withRoomFor } from "./liveLayer.ts";
import { type Graph, keptGraph, orderOf } from "../constraints/graph.ts";
import { constraintKind } from "../constraints/kinds.ts";
import type { MakePlayer, PlayerOptions } from "../figure/player.ts";
import { attributesAt, controlAt, layoutOf, moveAt, turnAt, turnAxisOf, worldAt } from "../figure/rigLayout.ts";
import { placeUnder } from "./placeUnder.ts";
import type { PlacedFigure } from "./placedFigure.ts";
import { quatMultiply, type RotationOrder } from "../maths/rotation.ts";
import {
  byNode,
  type DraftSlot,
  draftSlot,
  finishSlot,
  type LayerRoom,
  type NodePart,
  type Overlay,
  overlayOfBase,
  type PassSlot,
  usedCurves,
} from "./stageLayers.ts";
import { layTimes, type TimeNode } from "./timeNode.ts";
import { layStacks, type TurnStack } from "./turnStacks.ts";

/** Where a control's numbers stand in the player's arrays. */
interface ControlSlot {
  readonly parent: number;
  readonly order: RotationOrder;
  readonly restTurned: boolean;
}

/** A constraint with the curves of its channels. */
export interface AppliedConstraint {
  readonly kind: ConstraintKind;
  readonly slot: ConstraintSlot;
  /** Index into `times` of the frame at which its channels are read: that of what it leads. */
  readonly time: number;
  /** Null where a channel has no keys; what it then is stands in the slot's values. */
  readonly tracks: readonly (Track | null)[];
}

/** Everything that playing a shot needs, laid out in flat arrays; worked out once per player. */
export interface Stage {
  readonly channelIndex: ReadonlyMap<string, number>;
  readonly controlIndex: ReadonlyMap<string, number>;
  /** How the frames follow from one another; the first of `times` is the frame asked for and has no node. */
  readonly nodes: readonly TimeNode[];
  /** Base motion, with what is folded into it, by the frame (an index into `times`) at which it is read; into `values`. */
  readonly base: readonly { readonly time: number; readonly set: TrackSet }[];
  /** What comes in over base motion; null: nothing. */
  readonly overBase: Overlay | null;
  readonly passes: readonly PassSlot[];
  /** Controls whose rotation needs no more than one go, worked out after the passes. */
  readonly stacks: readonly TurnStack[];
  /** By control: the ones that ride along with a camera. */
  readonly rides: readonly (RideSlot | undefined)[];
  /** The figure without them, posed at the frame that is held; null when there are none. */
  readonly still: Stage | null;
  /** Channels that passes change and base motion does not. */
  readonly fromRest: Int32Array;
  readonly rest: Float64Array;
  readonly slots: readonly ControlSlot[];
  readonly orders: Uint8Array;
  /** Controls to be worked out, those above first. */
  readonly order: Int32Array;
  /** Null when nothing is led: else what to do one after another, a control to put in place or (from `slots.length` on) a constraint to apply. */
  readonly steps: readonly number[] | null;
  /** By step: the control that is where it will be after it and then rides along with a camera; −1: none. */
  readonly riders: Int32Array;
  readonly constraints: readonly AppliedConstraint[];
  /** The figure as constraints find it. */
  readonly standing: Standing;
  readonly restTurns: Float64Array;
  readonly restMoves: Float64Array;
  /** By control: 1 where it is turned at rest. */
  readonly restTurned: Uint8Array;
  /** Where it has its place in the kernel's memory, once it was posed there. */
  placed: PlacedFigure | null;
  /** Controls that some pass joins as rotations. */
  readonly turned: ReadonlySet<number>;
  // What is written at each frame.
  readonly times: Float64Array;
  readonly values: Float64Array;
  readonly turns: Float64Array;
  readonly worlds: Float64Array;
  /** By control: 1 when `turns` holds its rotation and `values` no longer does. */
  readonly joined: Uint8Array;
}

const ownTurn = new Float64Array(4);

export function makeStage(given: Shot, options: PlayerOptions, makePlayer: MakePlayer): Stage {
  const { live } = options;
  const shot = live ? withRoomFor(given, live) : given;
  const controls = shot.rig.controls;
  const { channelIndex, controlIndex, parents, rest, orders, restTurns, restMoves } = layoutOf(shot.rig);
  const values = rest.slice();
  const turns = new Float64Array(controls.length * 4);
  const worlds = new Float64Array(controls.length * 16);
  const joined = new Uint8Array(controls.length);
  const alone = new Float64Array(shot.constraints.length > 0 ? worlds.length : 0);

  const active = activePasses(shot, options.below);
  const rides = options.withoutRides ? [] : rideSlots(shot, active);
  const graph = keptGraph(
    shot.rig,
    options.free ? [] : activeConstraints(shot),
    controls.map((_, i) => rides[i]?.camera),
  );
  const wanted = controls.map((_, i) => i).filter((i) => !options.only || options.only.includes(controls[i].id));
  const steps = orderOf(graph, wanted);
  const order = steps.filter((step) => step < controls.length);
  const only = options.only && order.map((i) => controls[i].id);
  const still = rides.length > 0 ? makeStage(shot, { ...options, only, withoutRides: true }, makePlayer) : null;
  const needed = new Set(order);
  const isNeeded = (channel: number) => channel >= attributesAt(controls.length) || needed.has(controlAt(channel));
  const { nodes, nodeAt, nodeOfBase } = layTimes(shot, active, channelIndex, rest.length);
  const baseParts = byNode(usedCurves(shot.base, channelIndex, isNeeded), nodeOfBase);
  const folds = makeFolds(baseParts);
  const liveAt = live ? live.keys.map((key) => channelIndex.get(key) ?? -1) : [];
  for (const channel of liveAt) folds.close(channel);
  const room: LayerRoom = { controls, folds, turnedBelow: new Set(), live, liveAt };
  const drafts = active.flatMap((pass, p) => draftsOf(pass, nodeAt[p]));
  const stacks = layStacks(room, baseParts, drafts);
  const stacked = new Set(stacks.flatMap((stack) => [...stack.controls]));
  const base = baseParts.map((part) => baseSet(part, folds, (i) => isTurn(i, controls.length) && stacked.has(controlAt(i))));
  // Base motion sets its channels at every frame; the others that passes change start from rest.
  const inBase = new Set(baseParts.flatMap(({ places }) => places));
  const fromRest = Int32Array.from(
    [
      ...new Set(
        drafts.flatMap(({ at, turned }) => [
          ...at,
          ...[...turned.keys()].flatMap((control) => [0, 1, 2].map((axis) => turnAt(control) + axis)),
        ]),
      ),
    ].filter((i) => !inBase.has(i)),
  );
  const slots = controls.map(
    (control): ControlSlot => ({
      parent: control.parent === null ? -1 : (controlIndex.get(control.parent) ?? -1),
      order: control.order,
      restTurned: control.restTurn[3] !== 1,
    }),
  );

  return {
    channelIndex,
    controlIndex,
    nodes,
    base,
    overBase: live?.layer === BASE ? overlayOfBase(room, inBase, nodeOfBase) : null,
    passes: drafts.map((draft) => finishSlot(room, draft, stacked)),
    stacks,
    rides,
    still,
    fromRest,
    rest,
    slots,
    orders,
    order: Int32Array.from(order),
    steps: graph.parts.length > 0 ? steps : null,
    riders: ridersAfter(steps, graph.settles, rides),
    constraints: graph.parts.map(({ constraint, writes }) =>
      applied(constraint, writes, shot.rig, (control) => nodeOfBase[moveAt(control)]),
    ),
    standing: { worlds, parents, livesIn: new Int32Array(controls.length).fill(-1), own: ownMatrix },
    restTurns,
    restMoves,
    restTurned: Uint8Array.from(slots, ({ restTurned }) => (restTurned ? 1 : 0)),
    placed: null,
    turned: room.turnedBelow,
    times: new Float64Array(nodes.length + 1).fill(Number.NaN),
    values,
    turns,
    worlds,
    joined,
  };

  function ownMatrix(out: Float64Array, o: number, control: number): void {
    if (slots[control].restTurned) quatMultiply(ownTurn, 0, restTurns, control * 4, turns, control * 4);
    else for (let k = 0; k < 4; k++) ownTurn[k] = turns[control * 4 + k];
    placeUnder(alone, control, -1, ownTurn, 0, values, restMoves);
    for (let k = 0; k < 16; k++) out[o + k] = alone[worldAt(control) + k];
  }

  function draftsOf(pass: Pass, nodeOf: Int32Array): DraftSlot[] {
    const kind = passKind(pass.kind);
    if (!kind || kind.reads === "time" || isWeightless(pass)) return [];
    const curves =
      kind.reads === "keys" ? pass.curves : computedCurves(shot, pass, kind, active.slice(0, active.indexOf(pass)), makePlayer);
    const join = kind.reads === "keys" ? kind : kind.joins(pass) === "adds" ? addsPass : replacesPass;
    const made = byNode(usedCurves(curves, channelIndex, isNeeded), nodeOf).map((part) => draftSlot(room, pass, join, part));
    // A pass that was mixed in beforehand has nothing left to do at each frame.
    return made.filter(({ at, turned }) => at.length + turned.size > 0);
  }
}

/** Base motion at one frame, with what is folded into it; without the channels that are in a stack. */
function baseSet({ node, curves, places }: NodePart, folds: Folds, inStack: (channel: number) => boolean): Stage["base"][number] {
  const kept = places.map((_, n) => n).filter((n) => !inStack(places[n]));
  const set = makeTrackSet(
    kept.map((n) => curves[n]),
    kept.map((n) => places[n]),
    kept.map((n) => folds.overs.get(places[n]) ?? []),
  );
  return { time: node, set };
}

/** Is a channel one of a control's angles? */
const isTurn = (channel: number, controls: number) => channel < attributesAt(controls) && turnAxisOf(channel) >= 0;

/** After which step each control that rides along has been put in place and led. */
function ridersAfter(steps: readonly number[], settles: Graph["settles"], rides: Stage["rides"]): Int32Array {
  const riders = new Int32Array(steps.length).fill(-1);
  rides.forEach((slot, control) => {
    if (!slot) return;
    const last = Math.max(...settles[control].map((step) => steps.indexOf(step)));
    if (last >= 0) riders[last] = control;
  });
  return riders;
}

/** A constraint whose controls are there. */
function applied(constraint: Constraint, led: readonly string[], rig: Rig, timeOf: (control: number) => number): AppliedConstraint {
  const kind = constraintKind(constraint.kind) as ConstraintKind;
  const { settings } = constraint;
  const { controlIndex } = layoutOf(rig);
  const channels = kind.channels(settings);
  const writes = led.map((id) => controlIndex.get(id) as number);
  const indices = (ids: readonly string[]) => ids.map((id) => controlIndex.get(id) as number);
  const curves = channels.map(({ name }) => constraint.curves[channelKey(constraint.id, name)]);
  return {
    kind,
    time: timeOf(writes[0]),
    slot: {
      settings,
      reads: indices(kind.reads(settings)),
      writes,
      values: Float64Array.from(channels, ({ otherwise }) => otherwise),
      prepared: kind.prepare?.(settings, rig),
      frame: Number.NaN,
    },
    tracks: curves.map((curve) => (curve && curve.times.length > 0 ? trackOf(curve) : null)),
  };
}
