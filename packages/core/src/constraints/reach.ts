import { z } from "zod";
import { worldAt } from "../figure/rigLayout.ts";
import { stretchOf, turnFromAffine, writeTurned } from "../maths/decompose.ts";
import { DEG, quatMultiply } from "../maths/rotation.ts";
import { turnPartWay } from "../maths/turnPartWay.ts";
import { pointOf } from "../figure/pointOf.ts";
import { MOST_BONES } from "./bendAlike.ts";
import type { ConstraintKind } from "./constraintKind.ts";
import { moveLimb } from "./moveLimb.ts";

const three = z.array(z.number()).length(3);
const settings = z.object({
  /** The limb from the top down, each hanging on the one before, the end last: upper arm, forearm, hand. */
  limb: z
    .array(z.string())
    .min(3)
    .max(MOST_BONES + 1),
  /** Where the end reaches to; null: a place of the world. */
  target: z.string().nullable(),
  /** The place, in the target's own frame or in the world. */
  point: three,
  /** A control toward which it bends; null: as its own keys bend it. */
  toward: z.string().nullable(),
  /** The axis about which it bends, in the frame of the first of the limb. */
  hinge: three,
  /** The end turns with the target by this (a unit quaternion, in the target's frame); null: with the limb. */
  turn: z.array(z.number()).length(4).nullable(),
  stretches: z.boolean(),
});
export type ReachSettings = z.infer<typeof settings>;

/** Share of a limb's length over which it comes softly to full stretch where nothing is said. */
export const SOFTNESS = 0.05;

const goal = new Float64Array(3);
const pole = new Float64Array(3);
const own = new Float64Array(4);
const wanted = new Float64Array(4);
const told = new Float64Array(4);
const stretch = new Float64Array(9);

/**
 * The end of a limb reaches for a target, and the limb bends after it. The limb's own turns say how it bends where nothing
 * else does, and how its bones roll; lengths are kept unless it stretches.
 */
export const reach: ConstraintKind<ReachSettings> = {
  id: "reach",
  title: "Reach",
  help: "The end of a limb reaches for another control or a place; the limb bends after it.",
  settings,
  channels: () => [
    { name: "strength", otherwise: 1 },
    { name: "softness", otherwise: SOFTNESS },
    { name: "twist", otherwise: 0 },
  ],
  reads: ({ target, toward }) => [target, toward].filter((id) => id !== null),
  writes: ({ limb }) => limb,
  keepsOwn: () => false,
  pulledFor: ({ limb, target, toward }, control) => (control === limb.at(-1) ? target : limb.includes(control) ? toward : null),
  scaled: (given, factor) => ({ ...given, point: given.point.map((at) => at * factor) }),
  apply({ worlds }, { settings: s, reads, writes, values }) {
    const strength = Math.min(1, Math.max(0, values[0]));
    if (strength === 0) return;
    pointOf(goal, worlds, s.target === null ? -1 : reads[0], s.point);
    if (s.toward !== null) pointOf(pole, worlds, reads[reads.length - 1], [0, 0, 0]);
    const toward = s.toward === null ? null : pole;
    moveLimb(
      worlds,
      writes,
      { goal, toward, hinge: s.hinge, softness: values[1], twist: values[2] * DEG, stretches: s.stretches },
      strength,
    );
    if (s.turn === null) return;
    const o = worldAt(writes[writes.length - 1]);
    for (let k = 0; k < 4; k++) told[k] = s.turn[k];
    if (s.target === null) wanted.set(told);
    else {
      turnFromAffine(wanted, 0, worlds, worldAt(reads[0]));
      quatMultiply(wanted, 0, wanted, 0, told, 0);
    }
    turnFromAffine(own, 0, worlds, o);
    stretchOf(stretch, own, 0, worlds, o);
    turnPartWay(own, 0, own, 0, wanted, 0, strength);
    writeTurned(worlds, o, own, 0, stretch);
  },
};
