import type { Curve } from "../curve/curve.ts";
import { makeTrackSet, type TrackSet } from "../curve/trackSet.ts";
import { turnAt } from "../figure/rigLayout.ts";
import { orderNumber } from "../maths/rotation.ts";
import { addsPass } from "../passes/adds.ts";
import type { Folds } from "./folds.ts";
import type { AngleCurves, DraftSlot, LayerRoom, NodePart } from "./stageLayers.ts";

/**
 * Controls whose rotation is base motion and passes that join as rotations, all read at one frame and with nothing in
 * between: from their curves to their turns in one go, with all that is needed side by side.
 */
export interface TurnStack {
  /** Index into `times` of the frame at which it is read. */
  readonly time: number;
  readonly set: TrackSet;
  readonly controls: Int32Array;
  /** Base motion's rotate X, Y and Z of each control, then each pass's; the orders of these turns, and the turns. */
  readonly angles: Float64Array;
  readonly orders: Uint8Array;
  readonly turns: Float64Array;
  /** Do all of the passes add? */
  readonly onlyAdds: boolean;
  /** The passes from the bottom up, as numbers among all slots, and what of `turns` is theirs. */
  readonly layers: readonly { readonly slot: number; readonly own: Float64Array }[];
}

/** Where the curves of base motion stand: by channel, its node and curve. */
type BaseCurves = ReadonlyMap<number, { readonly node: number; readonly curve: Curve }>;

const axes = [0, 1, 2];
const channelsOf = (control: number) => axes.map((axis) => turnAt(control) + axis);

/** Stacks of those controls for which they will do; what they do not take is worked out pass by pass. */
export function layStacks(room: LayerRoom, parts: readonly NodePart[], drafts: readonly DraftSlot[]): TurnStack[] {
  const base: BaseCurves = new Map(parts.flatMap(({ node, curves, places }) => places.map((i, n) => [i, { node, curve: curves[n] }])));
  const alike = new Map<string, { time: number; slots: number[]; controls: number[] }>();
  for (const control of room.turnedBelow) {
    const slots = drafts.flatMap(({ turned }, n) => (turned.has(control) ? [n] : []));
    const time = drafts[slots[0]].time;
    if (!willDo(room, control, base, drafts, slots, time)) continue;
    const name = [time, ...slots].join();
    const stack = alike.get(name) ?? { time, slots, controls: [] };
    stack.controls.push(control);
    alike.set(name, stack);
  }
  return [...alike.values()].map(({ time, slots, controls }) => {
    const below = controls.map((control) => channelsOf(control).map((i) => base.get(i)?.curve));
    const above = slots.flatMap((n) => controls.map((control) => drafts[n].turned.get(control) as AngleCurves));
    const turns = new Float64Array((below.length + above.length) * 4);
    const orders = controls.map((control) => orderNumber(room.controls[control].order));
    return {
      time,
      controls: Int32Array.from(controls),
      set: stackSet(room.folds, controls, [...below, ...above]),
      angles: new Float64Array((below.length + above.length) * 3),
      orders: Uint8Array.from([-1, ...slots].flatMap(() => orders)),
      turns,
      onlyAdds: slots.every((slot) => drafts[slot].kind === addsPass),
      layers: slots.map((slot, n) => ({ slot, own: turns.subarray((n + 1) * controls.length * 4, (n + 2) * controls.length * 4) })),
    };
  });
}

/** All curves with their places; the first turns are base motion's, over which captured passes may be mixed already. */
function stackSet(folds: Folds, controls: readonly number[], turns: readonly AngleCurves[]): TrackSet {
  const there = turns.flatMap((three, turn) =>
    axes.flatMap((axis) => {
      const curve = three[axis];
      const mixed = turn < controls.length ? folds.overs.get(turnAt(controls[turn]) + axis) : undefined;
      return curve ? [{ curve, place: turn * 3 + axis, mixed: mixed ?? [] }] : [];
    }),
  );
  return makeTrackSet(
    there.map(({ curve }) => curve),
    there.map(({ place }) => place),
    there.map(({ mixed }) => mixed),
    turns.length * 3,
  );
}

/** Is a control's rotation read at one frame, and are there only passes on it that join as rotations and need not know what is below? */
function willDo(
  { liveAt }: LayerRoom,
  control: number,
  base: BaseCurves,
  drafts: readonly DraftSlot[],
  slots: readonly number[],
  time: number,
): boolean {
  const channels = channelsOf(control);
  return (
    slots.every((n) => drafts[n].time === time && (drafts[n].kind === addsPass || isWhole(drafts[n].turned.get(control)))) &&
    channels.every((i) => !liveAt.includes(i) && (base.get(i)?.node ?? time) === time) &&
    drafts.every(({ at }) => channels.every((i) => !at.includes(i)))
  );
}

/** A pass that replaces keeps what is below it where it has no curve: it needs all three. What adds adds nothing there. */
const isWhole = (three: AngleCurves | undefined) => three?.every((curve) => curve !== undefined) === true;
