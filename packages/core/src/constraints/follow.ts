import { z } from "zod";
import type { Curve } from "../curve/curve.ts";
import { worldAt } from "../figure/rigLayout.ts";
import { stretchOf, turnFromAffine, writeTurned } from "../maths/decompose.ts";
import { multiplyAffine } from "../maths/matrix.ts";
import { meanTurn } from "../maths/meanTurn.ts";
import { turnPartWay } from "../maths/turnPartWay.ts";
import { channelKey } from "../model/rig.ts";
import type { Constraint } from "../model/shot.ts";
import type { ConstraintKind } from "./constraintKind.ts";

/** Targets at the most. */
const MOST = 16;

const matrix = z.array(z.number()).length(16);
const settings = z.object({
  control: z.string(),
  target: z.string(),
  position: z.boolean(),
  rotation: z.boolean(),
  /** The control's place in the target's frame, or with `own` that of what its channels are told in: an affine matrix by columns. */
  offset: matrix,
  scale: z.boolean().optional(),
  /** Its own channels go on top; in files of old they had no say. */
  own: z.boolean().optional(),
  /** Further targets, each with a share of its own over time. */
  more: z
    .array(z.object({ target: z.string(), offset: matrix }))
    .max(MOST - 1)
    .optional(),
});
export type FollowSettings = z.infer<typeof settings>;

/** The channel that says how much of a target counts, where there are several. */
const shareOf = (target: string) => `share ${target}`;

const targetsOf = ({ target, offset, more = [] }: FollowSettings) => [{ target, offset }, ...more];

const offset = new Float64Array(16);
const own = new Float64Array(16);
const goal = new Float64Array(16);
const place = new Float64Array(3);
const turns = new Float64Array(4 * MOST);
const shares = new Float64Array(MOST);
const stretch = new Float64Array(9);
const goalStretch = new Float64Array(9);
const qOwn = new Float64Array(4);
const qGoal = new Float64Array(4);

/**
 * A control follows others: its world place is blended toward the place it has in their frames, by as much as the
 * strength says. Its turn is blended, that of several targets the weighted mean; its own stretch, with whatever shear or
 * mirroring its parents give it, stays unless scale is followed too.
 */
export const follow: ConstraintKind<FollowSettings> = {
  id: "follow",
  title: "Follow",
  help: "A control goes along with another, or with several by shares, as if it hung on them; its own keys go on top.",
  settings,
  channels: (s) => [
    { name: "strength", otherwise: 1 },
    ...(s.more?.length ? targetsOf(s).map(({ target }, n) => ({ name: shareOf(target), otherwise: n === 0 ? 1 : 0 })) : []),
  ],
  reads: (s) => targetsOf(s).map(({ target }) => target),
  writes: ({ control }) => [control],
  keepsOwn: (s) => s.own === true,
  scaled: (given, factor) => ({
    ...given,
    offset: scaledOffset(given.offset, factor),
    ...(given.more ? { more: given.more.map((one) => ({ ...one, offset: scaledOffset(one.offset, factor) })) } : {}),
  }),
  apply(standing, { settings: s, reads, writes, values }) {
    const strength = clamp(values[0]);
    if (strength === 0) return;
    const { worlds } = standing;
    const o = worldAt(writes[0]);
    const targets = targetsOf(s);
    const count = Math.min(MOST, targets.length);
    let sum = 0;
    for (let n = 0; n < count; n++) {
      shares[n] = count === 1 ? 1 : Math.max(0, values[1 + n]);
      sum += shares[n];
    }
    if (sum === 0) return;
    if (strength === 1 && s.position) standing.livesIn[writes[0]] = reads[0];
    if (s.own) standing.own(own, 0, writes[0]);
    place.fill(0);
    let alone = -1;
    for (let n = 0; n < count; n++) {
      shares[n] /= sum;
      if (shares[n] === 0) continue;
      alone = shares[n] === 1 ? n : alone;
      goalOf(worlds, reads[n], targets[n].offset, s.own === true);
      for (let k = 0; k < 3; k++) place[k] += shares[n] * goal[12 + k];
      turnFromAffine(turns, 4 * n, goal, 0);
      if (!s.scale) continue;
      stretchOf(stretch, turns, 4 * n, goal, 0);
      for (let k = 0; k < 9; k++) goalStretch[k] = (alone === n || n === 0 ? 0 : goalStretch[k]) + shares[n] * stretch[k];
    }
    // Wholly at one target it is where it would be if it hung there, to the last bit.
    if (alone >= 0 && strength === 1 && s.position && s.rotation && s.scale) {
      goalOf(worlds, reads[alone], targets[alone].offset, s.own === true);
      for (let k = 0; k < 16; k++) worlds[o + k] = goal[k];
      return;
    }
    turnFromAffine(qOwn, 0, worlds, o);
    stretchOf(stretch, qOwn, 0, worlds, o);
    if (s.position) for (let k = 0; k < 3; k++) worlds[o + 12 + k] += (place[k] - worlds[o + 12 + k]) * strength;
    if (s.scale) for (let k = 0; k < 9; k++) stretch[k] += (goalStretch[k] - stretch[k]) * strength;
    if (s.rotation) {
      if (alone >= 0) for (let k = 0; k < 4; k++) qGoal[k] = turns[4 * alone + k];
      else meanTurn(qGoal, 0, turns, shares, count);
      turnPartWay(qOwn, 0, qOwn, 0, qGoal, 0, strength);
    }
    if (s.rotation || s.scale) writeTurned(worlds, o, qOwn, 0, stretch);
  },
};

const clamp = (value: number) => Math.min(1, Math.max(0, value));

const scaledOffset = (given: readonly number[], factor: number) => given.map((value, k) => (k >= 12 && k < 15 ? value * factor : value));

function goalOf(worlds: Float64Array, target: number, given: readonly number[], onTop: boolean): void {
  for (let k = 0; k < 16; k++) offset[k] = given[k];
  multiplyAffine(goal, 0, worlds, worldAt(target), offset, 0);
  if (onTop) multiplyAffine(goal, 0, goal, 0, own, 0);
}

/** A follow with its strength over time. Names no control that would have to be there. */
export function makeFollow(
  id: string,
  given: FollowSettings,
  strength: Curve,
  name = `${given.control} follows ${given.target}`,
): Constraint {
  return { id, name, kind: follow.id, on: true, settings: { ...given }, curves: { [channelKey(id, "strength")]: strength } };
}
