import { z } from "zod";
import type { Curve } from "../curve/curve.ts";
import { worldAt } from "../figure/rigLayout.ts";
import { stretchOf, turnFromAffine, writeTurned } from "../maths/decompose.ts";
import { multiplyAffine } from "../maths/matrix.ts";
import { quatMultiply, quatPower } from "../maths/rotation.ts";
import { channelKey } from "../model/rig.ts";
import type { Constraint } from "../model/shot.ts";
import type { ConstraintKind } from "./constraintKind.ts";

const settings = z.object({
  control: z.string(),
  target: z.string(),
  position: z.boolean(),
  rotation: z.boolean(),
  /** The control's place in the target's frame: an affine matrix by columns. */
  offset: z.array(z.number()).length(16),
});
export type FollowSettings = z.infer<typeof settings>;

const offset = new Float64Array(16);
const goal = new Float64Array(16);
const stretch = new Float64Array(9);
const qOwn = new Float64Array(4);
const qGoal = new Float64Array(4);
const qBack = new Float64Array(4);

/**
 * A control follows another: its world place is blended toward the place it has in the target's frame, by as much as the
 * strength says. Its turn is blended; its own stretch, with whatever shear or mirroring its parents give it, stays.
 */
export const follow: ConstraintKind<FollowSettings> = {
  id: "follow",
  title: "Follow",
  help: "A control goes along with another, as if it hung on it.",
  settings,
  channels: [{ name: "strength", otherwise: 1 }],
  reads: ({ target }) => [target],
  writes: ({ control }) => [control],
  scaled: (given, factor) => ({ ...given, offset: given.offset.map((value, k) => (k >= 12 && k < 15 ? value * factor : value)) }),
  apply(worlds, { settings: s, reads, writes, values }) {
    const strength = Math.min(1, Math.max(0, values[0]));
    if (strength === 0) return;
    const o = worldAt(writes[0]);
    for (let k = 0; k < 16; k++) offset[k] = s.offset[k];
    multiplyAffine(goal, 0, worlds, worldAt(reads[0]), offset, 0);
    if (s.position) for (let k = 12; k < 15; k++) worlds[o + k] += (goal[k] - worlds[o + k]) * strength;
    if (!s.rotation) return;
    turnFromAffine(qOwn, 0, worlds, o);
    stretchOf(stretch, qOwn, 0, worlds, o);
    turnFromAffine(qGoal, 0, goal, 0);
    qBack[0] = -qOwn[0];
    qBack[1] = -qOwn[1];
    qBack[2] = -qOwn[2];
    qBack[3] = qOwn[3];
    quatMultiply(qGoal, 0, qBack, 0, qGoal, 0);
    quatPower(qGoal, 0, qGoal, 0, strength);
    quatMultiply(qOwn, 0, qOwn, 0, qGoal, 0);
    writeTurned(worlds, o, qOwn, 0, stretch);
  },
};

/** A follow with its strength over time. Names no control that would have to be there. */
export function makeFollow(
  id: string,
  given: FollowSettings,
  strength: Curve,
  name = `${given.control} follows ${given.target}`,
): Constraint {
  return { id, name, kind: follow.id, on: true, settings: { ...given }, curves: { [channelKey(id, "strength")]: strength } };
}
