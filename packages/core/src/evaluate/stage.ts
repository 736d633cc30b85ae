import type { Curve } from "../curve/curve.ts";
import { type Track, trackOf } from "../curve/track.ts";
import { makeTrackSet, type TrackSet } from "../curve/trackSet.ts";
import { channelKey } from "../model/rig.ts";
import { BASE, type Constraint, type Curves, type Pass, type Shot } from "../model/shot.ts";
import { activePasses } from "../passes/active.ts";
import { addsPass } from "../passes/adds.ts";
import { passKind } from "../passes/kinds.ts";
import type { KeyedPassKind } from "../passes/passKind.ts";
import { replacesPass } from "../passes/replaces.ts";
import { type AttachSlot, attachSlots } from "./attachToCamera.ts";
import { computedCurves } from "./computedCurves.ts";
import { isWeightless, makeFolds, steadyMix } from "./folds.ts";
import type { ConstraintKind, ConstraintSlot } from "../constraints/constraintKind.ts";
import { withRoomFor } from "./liveLayer.ts";
import { graphOf, orderOf } from "../constraints/graph.ts";
import { constraintKind } from "../constraints/kinds.ts";
import type { LiveValues, MakePlayer, PlayerOptions } from "../figure/player.ts";
import { attributesAt, controlAt, layoutOf, turnAt, turnAxisOf } from "../figure/rigLayout.ts";
import { orderNumber, type RotationOrder } from "../maths/rotation.ts";
import { layTimes, type TimeNode } from "./timeNode.ts";

/** Where a control's numbers stand in the player's arrays. */
interface ControlSlot {
  readonly parent: number;
  readonly order: RotationOrder;
  readonly restTurned: boolean;
}

/** Curves with the places of their channels in `values`, and room for what they have at a frame. */
interface Layer {
  /** Index into `times` of the frame at which it is read. */
  readonly time: number;
  readonly set: TrackSet;
  readonly at: Int32Array;
  readonly own: Float64Array;
}

/** Values that come in while a shot is played, and where among sampled ones they go. */
export interface Overlay {
  readonly live: LiveValues;
  /** Numbers of the keys of `live`, and the places of their values. */
  readonly keys: readonly number[];
  readonly places: readonly number[];
  /** Indices into `times` of the frames at which they are read; of a pass, all at its own. */
  readonly times: readonly number[];
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

/** A keyed pass, or the part of one whose channels are read at the same frame. */
export interface PassSlot extends Layer {
  readonly pass: Pass;
  readonly kind: KeyedPassKind;
  readonly weight: Track;
  /** What comes in over `own`, and over the turns' own; null: nothing. */
  readonly over: Overlay | null;
  readonly overTurns: Overlay | null;
  /** Controls whose angles this pass joins one by one after another pass has joined them as rotations. */
  readonly unjoins: readonly number[];
  readonly turns: TurnLayer;
}

/** A constraint with the curves of its channels. */
export interface AppliedConstraint {
  readonly kind: ConstraintKind;
  readonly slot: ConstraintSlot;
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
  /** By control: the ones that ride along with a camera. */
  readonly attached: readonly (AttachSlot | undefined)[];
  /** The figure without them, posed at the frame that is held; null when there are none. */
  readonly still: Stage | null;
  /** Channels that passes change and base motion does not. */
  readonly fromRest: Int32Array;
  readonly rest: Float64Array;
  readonly slots: readonly ControlSlot[];
  readonly orders: Uint8Array;
  /** Controls to be worked out, those above first. */
  readonly order: readonly number[];
  /** Null when nothing is led: else what to do one after another, a control to put in place or (from `slots.length` on) a constraint to apply. */
  readonly steps: readonly number[] | null;
  readonly constraints: readonly AppliedConstraint[];
  readonly restTurns: Float64Array;
  readonly restMoves: Float64Array;
  /** Controls that some pass joins as rotations. */
  readonly turned: ReadonlySet<number>;
  // What is written at each frame.
  readonly times: Float64Array;
  readonly values: Float64Array;
  readonly turns: Float64Array;
  readonly worlds: Float64Array;
  /** By control: 1 when `turns` holds its rotation and `values` no longer does. */
  readonly joined: Uint8Array;
  readonly joining: Batch;
  /** Controls about to be joined. */
  readonly pending: Int32Array;
}

export function makeStage(given: Shot, options: PlayerOptions, makePlayer: MakePlayer): Stage {
  const { live } = options;
  const shot = live ? withRoomFor(given, live) : given;
  const controls = shot.rig.controls;
  const { channelIndex, controlIndex, rest, orders, restTurns, restMoves } = layoutOf(shot.rig);
  const values = rest.slice();
  const turns = new Float64Array(controls.length * 4);
  const worlds = new Float64Array(controls.length * 16);
  const joined = new Uint8Array(controls.length);
  const joining = makeBatch(controls.map((control) => control.order));
  const pending = new Int32Array(controls.length);

  const active = activePasses(shot, options.below);
  const attached = options.unattached ? [] : attachSlots(shot, active);
  const graph = graphOf(
    shot.rig,
    options.free ? [] : shot.constraints,
    controls.map((_, i) => attached[i]?.camera),
  );
  const wanted = controls.map((_, i) => i).filter((i) => !options.only || options.only.includes(controls[i].id));
  const steps = orderOf(graph, wanted);
  const order = steps.filter((step) => step < controls.length);
  const only = options.only && order.map((i) => controls[i].id);
  const still = attached.length > 0 ? makeStage(shot, { ...options, only, unattached: true }, makePlayer) : null;
  const needed = new Set(order);
  const isNeeded = (channel: number) => channel >= attributesAt(controls.length) || needed.has(controlAt(channel));
  const { nodes, nodeAt, nodeOfBase } = layTimes(shot, active, channelIndex, rest.length);
  const baseParts = byNode(usedCurves(shot.base, channelIndex, isNeeded), nodeOfBase);
  const folds = makeFolds(baseParts);
  const liveAt = live ? live.keys.map((key) => channelIndex.get(key) ?? -1) : [];
  for (const channel of liveAt) folds.close(channel);
  const turnedBelow = new Set<number>();
  const passes = active.flatMap((pass, p) => slotsFor(pass, nodeAt[p]));
  const base = baseParts.map(({ node, curves, places }) => ({
    time: node,
    set: makeTrackSet(
      curves,
      places,
      places.map((i) => folds.overs.get(i) ?? []),
    ),
  }));
  // Base motion sets its channels at every frame; the others that passes change start from rest.
  const inBase = new Set(baseParts.flatMap(({ places }) => places));
  const fromRest = Int32Array.from(
    [
      ...new Set(
        passes.flatMap((slot) => [
          ...slot.at,
          ...[...slot.turns.controls].flatMap((control) => [0, 1, 2].map((axis) => turnAt(control) + axis)),
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
    overBase:
      live?.layer === BASE
        ? overlay(
            live,
            baseParts.flatMap(({ places }) => places),
            true,
          )
        : null,
    passes,
    attached,
    still,
    fromRest,
    rest,
    slots,
    orders,
    order,
    steps: graph.constraints.length > 0 ? steps : null,
    constraints: graph.constraints.map((constraint) => applied(constraint, controlIndex)),
    restTurns,
    restMoves,
    turned: turnedBelow,
    times: new Float64Array(nodes.length + 1).fill(Number.NaN),
    values,
    turns,
    worlds,
    joined,
    joining,
    pending,
  };

  /** What comes in on channels, by the places of those in `into` (or in `values`, where they stand at their own). */
  function overlay(values: LiveValues, channels: readonly number[], isBase = false): Overlay | null {
    const keys = liveAt.map((_, n) => n).filter((n) => channels.includes(liveAt[n]));
    if (keys.length === 0) return null;
    const places = keys.map((n) => (isBase ? liveAt[n] : channels.indexOf(liveAt[n])));
    return { live: values, keys, places, times: keys.map((n) => (isBase ? nodeOfBase[liveAt[n]] : 0)) };
  }

  function slotsFor(pass: Pass, nodeOf: Int32Array): PassSlot[] {
    const kind = passKind(pass.kind);
    if (!kind || kind.reads === "time" || isWeightless(pass)) return [];
    const curves =
      kind.reads === "keys" ? pass.curves : computedCurves(shot, pass, kind, active.slice(0, active.indexOf(pass)), makePlayer);
    const join = kind.reads === "keys" ? kind : kind.joins === "adds" ? addsPass : replacesPass;
    const slots = byNode(usedCurves(curves, channelIndex, isNeeded), nodeOf).map((part) => slotFor(pass, join, part));
    // A pass that was mixed in beforehand has nothing left to do at each frame.
    return slots.filter(({ at, turns: { controls: turning } }) => at.length + turning.length > 0);
  }

  function slotFor(pass: Pass, kind: KeyedPassKind, { node, curves, places: all }: NodePart): PassSlot {
    const single: Curve[] = [];
    const places: number[] = [];
    const turned = new Map<number, [number, number, number]>();
    const turnCurves: Curve[] = [];
    const turnChannels: number[] = [];
    const mix = steadyMix(pass, kind);
    const turnAxis = (i: number) => (i < attributesAt(controls.length) ? turnAxisOf(i) : -1);
    curves.forEach((curve, n) => {
      const i = all[n];
      const axis = turnAxis(i);
      if (pass.compose === "rotation" && axis >= 0) {
        const control = controlAt(i);
        const three = turned.get(control) ?? [-1, -1, -1];
        three[axis] = turnCurves.length;
        turnCurves.push(curve);
        turnChannels.push(i);
        turned.set(control, three);
      } else if (!mix || turnedBelow.has(controlAt(i)) || !folds.take(i, node, { ...mix, curve })) {
        single.push(curve);
        places.push(i);
        folds.close(i);
      }
    });
    const unjoins = [...new Set(places.filter((i) => turnAxis(i) >= 0).map(controlAt))].filter((control) => turnedBelow.has(control));
    for (const control of turned.keys()) turnedBelow.add(control);
    return {
      pass,
      kind,
      weight: trackOf(pass.weight),
      ...layerOf(node, single, places),
      over: live?.layer === pass.id ? overlay(live, places) : null,
      overTurns: live?.layer === pass.id ? overlay(live, turnChannels) : null,
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
}

/** A constraint whose controls are there. */
function applied(constraint: Constraint, controlIndex: ReadonlyMap<string, number>): AppliedConstraint {
  const kind = constraintKind(constraint.kind) as ConstraintKind;
  const { settings } = constraint;
  const indices = (ids: readonly string[]) => ids.map((id) => controlIndex.get(id) as number);
  const curves = kind.channels.map(({ name }) => constraint.curves[channelKey(constraint.id, name)]);
  return {
    kind,
    slot: {
      settings,
      reads: indices(kind.reads(settings)),
      writes: indices(kind.writes(settings)),
      values: Float64Array.from(kind.channels, ({ otherwise }) => otherwise),
    },
    tracks: curves.map((curve) => (curve && curve.times.length > 0 ? trackOf(curve) : null)),
  };
}

function layerOf(time: number, curves: readonly Curve[], places: readonly number[]): Layer {
  return { time, set: makeTrackSet(curves), at: Int32Array.from(places), own: new Float64Array(curves.length) };
}

/** Curves read at one frame, with the places of their channels. */
interface NodePart {
  readonly node: number;
  readonly curves: Curve[];
  readonly places: number[];
}

/** Curves put apart by the frame at which their channels are read. */
function byNode([curves, places]: [Curve[], number[]], nodeOf: Int32Array): NodePart[] {
  const parts = new Map<number, NodePart>();
  curves.forEach((curve, n) => {
    const node = nodeOf[places[n]];
    const part = parts.get(node) ?? { node, curves: [], places: [] };
    part.curves.push(curve);
    part.places.push(places[n]);
    parts.set(node, part);
  });
  return [...parts.values()].sort((a, b) => a.node - b.node);
}

/** Curves that stand on needed channels of the rig and have keys, and where those channels are. */
function usedCurves(
  curves: Curves,
  channelIndex: ReadonlyMap<string, number>,
  isNeeded: (channel: number) => boolean,
): [Curve[], number[]] {
  const used: Curve[] = [];
  const places: number[] = [];
  for (const key in curves) {
    const i = channelIndex.get(key);
    if (i === undefined || !isNeeded(i) || curves[key].times.length === 0) continue;
    used.push(curves[key]);
    places.push(i);
  }
  return [used, places];
}
