import type { Curve } from "../curve/curve.ts";
import { type Track, trackOf } from "../curve/track.ts";
import { makeTrackSet, type TrackSet } from "../curve/trackSet.ts";
import type { LiveValues } from "../figure/player.ts";
import { attributesAt, controlAt, turnAt, turnAxisOf } from "../figure/rigLayout.ts";
import { orderNumber } from "../maths/rotation.ts";
import { makeTurnPower, type TurnPower } from "../maths/turnPower.ts";
import type { Control } from "../model/rig.ts";
import type { Curves, Pass } from "../model/shot.ts";
import type { KeyedPassKind } from "../passes/passKind.ts";
import { type Folds, steadyMix } from "./folds.ts";

/*
 * Base motion and passes laid out for playing: which curves are sampled together, and where what they have goes.
 */

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

/** Controls whose angles a pass has are sampled together and joined as rotations. */
interface TurnLayer {
  readonly controls: Int32Array;
  readonly orders: Uint8Array;
  readonly set: TrackSet;
  /** Angles of rotate X, Y, Z, three a control, and the turns they make, four a control. */
  readonly own: Float64Array;
  readonly turns: Float64Array;
  /** Places in `own` for which the pass has no curve. */
  readonly missing: Int32Array;
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
  /** Does it join any rotation, here or in a stack? Then `power` is its weight at the frame, ready to be taken of turns. */
  readonly isTurning: boolean;
  readonly power: TurnPower;
}

/** A slot whose turns are not laid out yet: by control, the curves of rotate X, Y and Z. */
export interface DraftSlot extends Omit<PassSlot, "turns" | "overTurns"> {
  readonly turned: ReadonlyMap<number, AngleCurves>;
}

/** Curves of rotate X, Y and Z, as far as there are any. */
export type AngleCurves = (Curve | undefined)[];

/** What of a stage its layers are made of; gathered from the bottom up. */
export interface LayerRoom {
  readonly controls: readonly Control[];
  readonly folds: Folds;
  /** Controls that some pass so far joins as rotations. */
  readonly turnedBelow: Set<number>;
  readonly live: LiveValues | undefined;
  /** The channels of the live values, −1 where the rig has none. */
  readonly liveAt: readonly number[];
}

/** What comes in on some channels of a pass, by their places in the list. */
function overlayOf({ live, liveAt }: LayerRoom, pass: Pass, channels: readonly number[]): Overlay | null {
  if (!live || live.layer !== pass.id) return null;
  const keys = liveAt.map((_, n) => n).filter((n) => channels.includes(liveAt[n]));
  return keys.length === 0 ? null : { live, keys, places: keys.map((n) => channels.indexOf(liveAt[n])), times: keys.map(() => 0) };
}

/** What comes in on base motion, which stands at its own place among all values. */
export function overlayOfBase({ live, liveAt }: LayerRoom, inBase: ReadonlySet<number>, nodeOf: Int32Array): Overlay | null {
  const keys = liveAt.map((_, n) => n).filter((n) => inBase.has(liveAt[n]));
  if (!live || keys.length === 0) return null;
  return { live, keys, places: keys.map((n) => liveAt[n]), times: keys.map((n) => nodeOf[liveAt[n]]) };
}

/** A part of a pass that is read at one frame. What can be mixed into what is below it beforehand is. */
export function draftSlot(room: LayerRoom, pass: Pass, kind: KeyedPassKind, { node, curves, places: all }: NodePart): DraftSlot {
  const { controls, folds, turnedBelow } = room;
  const single: Curve[] = [];
  const places: number[] = [];
  const turned = new Map<number, AngleCurves>();
  const mix = steadyMix(pass, kind);
  const turnAxis = (i: number) => (i < attributesAt(controls.length) ? turnAxisOf(i) : -1);
  curves.forEach((curve, n) => {
    const i = all[n];
    const axis = turnAxis(i);
    if (pass.compose === "rotation" && axis >= 0) {
      const three = turned.get(controlAt(i)) ?? [undefined, undefined, undefined];
      three[axis] = curve;
      turned.set(controlAt(i), three);
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
    over: overlayOf(room, pass, places),
    unjoins,
    turned,
    isTurning: turned.size > 0,
    power: makeTurnPower(),
  };
}

/** The slot with the turns of those controls laid out that no stack works out. */
export function finishSlot(room: LayerRoom, draft: DraftSlot, stacked: ReadonlySet<number>): PassSlot {
  const { turned, ...slot } = draft;
  const controls = [...turned.keys()].filter((control) => !stacked.has(control));
  const curves: Curve[] = [];
  const places: number[] = [];
  const missing: number[] = [];
  controls
    .flatMap((control) => turned.get(control) as AngleCurves)
    .forEach((curve, place) => {
      if (curve) {
        curves.push(curve);
        places.push(place);
      } else missing.push(place);
    });
  const channels = controls.flatMap((control) => [0, 1, 2].map((axis) => turnAt(control) + axis));
  return {
    ...slot,
    overTurns: overlayOf(room, draft.pass, channels),
    turns: {
      controls: Int32Array.from(controls),
      orders: Uint8Array.from(controls, (control) => orderNumber(room.controls[control].order)),
      set: makeTrackSet(curves, places),
      own: new Float64Array(channels.length),
      turns: new Float64Array(controls.length * 4),
      missing: Int32Array.from(missing),
    },
  };
}

function layerOf(time: number, curves: readonly Curve[], places: readonly number[]): Layer {
  return { time, set: makeTrackSet(curves), at: Int32Array.from(places), own: new Float64Array(curves.length) };
}

/** Curves read at one frame, with the places of their channels. */
export interface NodePart {
  readonly node: number;
  readonly curves: Curve[];
  readonly places: number[];
}

/** Curves put apart by the frame at which their channels are read. */
export function byNode([curves, places]: [Curve[], number[]], nodeOf: Int32Array): NodePart[] {
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
export function usedCurves(
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
