import { matrixFromQuat } from "../maths/rotation.ts";
import { type Control, channelKey, type Rig, transformChannels } from "../model/rig.ts";
import { layoutOf, scaleAt } from "./rigLayout.ts";
import { restWorlds } from "./restPlace.ts";
import { axisNumber, sidesOf } from "./sides.ts";
import { worldTurns } from "./standing.ts";

/** A channel that takes another one's value, with its sign or the other. */
interface Copy {
  /** Places among channel values; −1 where the source has no such channel. */
  readonly own: number;
  readonly source: number;
  readonly sign: 1 | -1;
}

/** What mirroring needs to know of a control, worked out once from the rest pose. */
interface MirrorSlot {
  readonly control: Control;
  readonly parent: number;
  /** The control whose image it takes; −1 when it is not mirrored. */
  readonly source: number;
  /** It has a rule of its own: nothing of it is worked out, all is copied. */
  readonly isCopied: boolean;
  readonly copies: readonly Copy[];
  /**
   * Where the axes of both sides lie along one another and the same goes for what they hang on, mirroring is a matter of
   * signs: of move X, Y, Z and rotate X, Y, Z. Null where it has to be worked out pose by pose.
   */
  readonly signs: readonly (1 | -1)[] | null;
}

export interface MirrorLayout {
  readonly slots: readonly MirrorSlot[];
  /** Turns in the world at rest, four numbers a control; and back from them. */
  readonly restTurns: Float64Array;
  readonly fromRestTurns: Float64Array;
  /** Back from the turn each control rests at on what it hangs on. */
  readonly fromOwnRest: Float64Array;
  /** Which axis of the world the rest pose is even about. */
  readonly axis: 0 | 1 | 2;
  /** By control: how far along that axis the figure's middle is from where it rests. */
  readonly toMiddle: Float64Array;
}

export function mirrorLayout(rig: Rig, leftOut: ReadonlySet<string>): MirrorLayout {
  const { controlIndex, parents, restTurns: ownRest } = layoutOf(rig);
  const sides = sidesOf(rig);
  const axis = axisNumber(sides);
  const restTurns = worldTurns(rig);
  const worlds = restWorlds(rig);
  const slots: MirrorSlot[] = [];
  /** All of it up to the top is mirrored by the rest pose, each on its partner's partner. */
  const regular: boolean[] = [];
  rig.controls.forEach((control, i) => {
    const isOut = control.partner === null || control.mirror === "left out" || leftOut.has(control.id);
    const source = isOut ? -1 : (controlIndex.get(control.partner as string) ?? -1);
    const isCopied = source >= 0 && typeof control.mirror === "object";
    const parent = parents[i];
    regular[i] =
      source >= 0 && !isCopied && (parent < 0 ? parents[source] < 0 : regular[parent] && slots[parent].source === parents[source]);
    const turns = regular[i] && parent >= 0 ? signsAcross(restTurns, i, source, axis) : null;
    const moves = turns && signsAcross(restTurns, parent, parents[source], axis);
    const sameOrder = source >= 0 && control.order === rig.controls[source].order;
    slots.push({
      control,
      parent,
      source,
      isCopied,
      copies: source < 0 ? [] : copiesOf(rig, i, source, restTurns, axis),
      // A reflection turns the sense of turning round: about an axis that stays as it is, it is the other one.
      signs: turns && moves && sameOrder ? [...moves, ...turns.map((sign): 1 | -1 => (sign === 1 ? -1 : 1))] : null,
    });
  });
  const toMiddle = Float64Array.from(rig.controls, (_, i) => sides.at - worlds[i * 16 + 12 + axis]);
  return { slots, restTurns, fromRestTurns: turnedBack(restTurns), fromOwnRest: turnedBack(ownRest), axis, toMiddle };
}

/** The turns (four numbers each) that undo others. */
const turnedBack = (turns: Float64Array): Float64Array => turns.map((number, k) => (k % 4 === 3 ? number : -number));

/** The channels of a control that are copied from its partner: all by its own rule, else scales and attributes. */
function copiesOf(rig: Rig, own: number, source: number, restTurns: Float64Array, axis: number): Copy[] {
  const { channelIndex } = layoutOf(rig);
  const [control, partner] = [rig.controls[own], rig.controls[source]];
  const flips = typeof control.mirror === "object" ? control.mirror.flips : null;
  const named = control.channels.filter((channel) => (flips ? true : !/^(move|rotate|scale)[XYZ]$/.test(channel)));
  const copies = named.map(
    (channel): Copy => ({
      own: channelIndex.get(channelKey(control.id, channel)) as number,
      source: channelIndex.get(channelKey(partner.id, channel)) ?? -1,
      sign: flips?.includes(channel) ? -1 : 1,
    }),
  );
  if (flips || own === source) return copies;
  // A central control keeps its scales; of two partners whose axes differ each takes them from the axis across.
  const across = axesAcross(restTurns, own, source, axis);
  return [...copies, ...across.map((from, to): Copy => ({ own: scaleAt(own) + to, source: scaleAt(source) + from, sign: 1 }))];
}

/** How far from square two axes may be and still be taken for one. */
const SQUARE = 1e-9;

/** The signs with which the reflected axes of one control are those of another at rest; null when they are others. */
function signsAcross(restTurns: Float64Array, own: number, source: number, axis: number): (1 | -1)[] | null {
  const along = reflectedAxes(restTurns, own, source, axis);
  const signs = [0, 1, 2].map((k) => along[k][k]);
  return signs.every((sign) => Math.abs(Math.abs(sign) - 1) < SQUARE) ? signs.map((sign) => (sign > 0 ? 1 : -1)) : null;
}

/** By own axis and by the source's axis: how far the one lies along the reflection of the other, −1 to 1. */
function reflectedAxes(restTurns: Float64Array, own: number, source: number, axis: number): number[][] {
  const [mine, theirs] = [new Float64Array(9), new Float64Array(9)];
  matrixFromQuat(mine, 0, 3, restTurns, 4 * own);
  matrixFromQuat(theirs, 0, 3, restTurns, 4 * source);
  return [0, 1, 2].map((to) =>
    [0, 1, 2].map((from) => [0, 1, 2].reduce((sum, k) => sum + mine[3 * to + k] * theirs[3 * from + k] * (k === axis ? -1 : 1), 0)),
  );
}

/** By own axis: the partner's axis that lies nearest to its reflection at rest. */
function axesAcross(restTurns: Float64Array, own: number, source: number, axis: number): number[] {
  const along = reflectedAxes(restTurns, own, source, axis);
  return [0, 1, 2].map((to) =>
    [0, 1, 2].reduce((best, from) => (Math.abs(along[to][from]) > Math.abs(along[to][best]) + 1e-9 ? from : best), to),
  );
}

/**
 * The channels of a control that change sign when it is copied from its partner channel by channel: the likeliest ones, from
 * how the axes of both lie at rest.
 */
export function likelyFlips(rig: Rig, id: string): string[] {
  const { controlIndex, parents } = layoutOf(rig);
  const own = controlIndex.get(id) ?? -1;
  const source = controlIndex.get(rig.controls[own]?.partner ?? "") ?? -1;
  if (own < 0 || source < 0) return [];
  const axis = axisNumber(sidesOf(rig));
  const restTurns = worldTurns(rig);
  const turns = reflectedAxes(restTurns, own, source, axis).map((row, k) => -row[k]);
  const [above, across] = [parents[own], parents[source]];
  const moves =
    above < 0 || across < 0
      ? [0, 1, 2].map((k) => (k === axis ? -1 : 1))
      : reflectedAxes(restTurns, above, across, axis).map((row, k) => row[k]);
  const flipped = [...moves, ...turns].map((sign, k) => (sign < 0 ? transformChannels[k] : null));
  return rig.controls[own].channels.filter((channel) => (flipped as (string | null)[]).includes(channel));
}
