import { z } from "zod";
import { worldAt } from "../figure/rigLayout.ts";
import { stretchOf, turnFromAffine, writeTurned } from "../maths/decompose.ts";
import { multiplyAffine } from "../maths/matrix.ts";
import { turnPartWay } from "../maths/turnPartWay.ts";
import { pointOf } from "../figure/pointOf.ts";
import { MOST_BONES } from "./bendAlike.ts";
import type { ConstraintKind } from "./constraintKind.ts";
import { moveLimb } from "./moveLimb.ts";

const contact = z
  .object({
    start: z.number(),
    end: z.number(),
    /** Frames before it over which the end comes to its place, and after it over which it leaves. */
    easeIn: z.number().min(0),
    easeOut: z.number().min(0),
    /** The end's place in the frame of what it stands on: an affine matrix by columns. */
    place: z.array(z.number()).length(16),
  })
  .refine(({ start, end }) => end >= start, "a contact ends before it starts");
/** A span over which an end stays where it stands. */
export type Contact = z.infer<typeof contact>;

const settings = z.object({
  /** The limb from the top down, the end that is planted last: thigh, shin, foot. */
  limb: z
    .array(z.string())
    .min(3)
    .max(MOST_BONES + 1),
  /** What it stands on; null: the world. */
  ground: z.string().nullable(),
  /** The spot of the end that stays, in its own frame. */
  spot: z.array(z.number()).length(3),
  /** Its turn stays too; else it rolls over the spot as its own keys say. */
  turns: z.boolean(),
  /** The axis about which the limb bends, in the frame of its first control. */
  hinge: z.array(z.number()).length(3),
  stretches: z.boolean(),
  /** In the order of time. */
  contacts: z.array(contact),
});
export type PlantSettings = z.infer<typeof settings>;

const goal = new Float64Array(3);
const spot = new Float64Array(3);
const at = new Float64Array(16);
const ownTurn = new Float64Array(4);
const endTurn = new Float64Array(4);
const kept = new Float64Array(9);
const placed = new Float64Array(4);

/**
 * A foot, hand or any end of a limb stays where it stands over each of its contacts; the limb bends as its own keys bend
 * it. Between contacts it comes and goes over the frames of their eases.
 */
export const plant: ConstraintKind<PlantSettings> = {
  id: "plant",
  title: "Plant",
  help: "A foot, a hand or any end of a limb stays where it stands over spans of time.",
  settings,
  channels: () => [{ name: "strength", otherwise: 1 }],
  reads: ({ ground }) => (ground === null ? [] : [ground]),
  writes: ({ limb }) => limb,
  keepsOwn: () => false,
  scaled: (given, factor) => ({
    ...given,
    spot: given.spot.map((value) => value * factor),
    contacts: given.contacts.map((one) => ({ ...one, place: one.place.map((value, k) => (k >= 12 && k < 15 ? value * factor : value)) })),
  }),
  retimed: (given, frame) => ({
    ...given,
    contacts: given.contacts.map((one) => ({ ...one, start: frame(one.start), end: frame(one.end) })),
  }),
  isIdle: ({ contacts }, frame) => contacts.every((one) => contactWeight(one, frame) === 0),
  apply({ worlds }, { settings: s, reads, writes, values, frame }) {
    const strength = Math.min(1, Math.max(0, values[0]));
    if (strength === 0) return;
    const o = worldAt(writes[writes.length - 1]);
    let sum = 0;
    for (const one of s.contacts) {
      const weight = contactWeight(one, frame);
      if (weight === 0) continue;
      for (let k = 0; k < 16; k++) at[k] = one.place[k];
      if (s.ground !== null) multiplyAffine(at, 0, worlds, worldAt(reads[0]), at, 0);
      if (sum === 0) {
        pointOf(spot, worlds, writes[writes.length - 1], s.spot);
        turnFromAffine(ownTurn, 0, worlds, o);
        endTurn.set(ownTurn);
        goal.fill(0);
      }
      turnFromAffine(placed, 0, at, 0);
      // Of two contacts that meet each counts as much as it holds.
      turnPartWay(endTurn, 0, endTurn, 0, placed, 0, Math.min(1, weight / (sum + weight)) * (sum === 0 ? weight : 1));
      for (let k = 0; k < 3; k++) goal[k] += weight * (at[k] * s.spot[0] + at[4 + k] * s.spot[1] + at[8 + k] * s.spot[2] + at[12 + k]);
      sum += weight;
    }
    if (sum === 0) return;
    const share = Math.min(1, sum) * strength;
    for (let k = 0; k < 3; k++) goal[k] = spot[k] + (goal[k] / sum - spot[k]) * share;
    if (s.turns) turnPartWay(endTurn, 0, ownTurn, 0, endTurn, 0, strength);
    else endTurn.set(ownTurn);
    stretchOf(kept, ownTurn, 0, worlds, o);
    writeTurned(worlds, o, endTurn, 0, kept);
    // Where the end's own origin must be for its spot to be there.
    pointOf(spot, worlds, writes[writes.length - 1], s.spot);
    for (let k = 0; k < 3; k++) goal[k] -= spot[k] - worlds[o + 12 + k];
    moveLimb(worlds, writes, { goal, toward: null, hinge: s.hinge, softness: 0, twist: 0, stretches: s.stretches }, 1);
    writeTurned(worlds, o, endTurn, 0, kept);
  },
};

/** How much of a contact there is at a frame: 1 within it, softly more and less over its eases. */
function contactWeight({ start, end, easeIn, easeOut }: Contact, frame: number): number {
  if (frame >= start && frame <= end) return 1;
  const share = frame < start ? 1 - (start - frame) / easeIn : 1 - (frame - end) / easeOut;
  if (!(share > 0)) return 0;
  return share * share * (3 - 2 * share);
}
