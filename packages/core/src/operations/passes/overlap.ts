import { z } from "zod";
import { Tangent } from "../../curve/curve.ts";
import { constantCurve } from "../../curve/make.ts";
import { makePlayer } from "../../evaluate/makePlayer.ts";
import { KneaderError } from "../../errors.ts";
import { quatAngle } from "../../maths/rotation.ts";
import { controlById, type Rig } from "../../model/rig.ts";
import type { Pass, Shot } from "../../model/shot.ts";
import { addsPass } from "../../passes/adds.ts";
import { followThroughPass } from "../../passes/followThrough.ts";
import { freshPass } from "./computedPass.ts";
import { anglesOf, withLockedEnds } from "./lockEnds.ts";
import type { Operation } from "../operation.ts";
import { countedWord } from "../../words.ts";
import { outcome, scopeRange } from "../shared/scope.ts";

const settings = z.object({
  first: z
    .string()
    .default("")
    .meta({ title: "First link", widget: "control", help: "Left empty: the picked controls, each with the chain below it." }),
  otherSide: z.boolean().default(true).meta({ title: "The other side too", help: "Left and right are made to differ a little." }),
  stiffness: z.number().min(0.1).max(30).default(2).meta({ title: "Swings a second", max: 8, step: 0.1 }),
  damping: z.number().min(0).max(300).default(30).meta({ title: "Damping", unit: "percent", max: 150, step: 5 }),
  strength: z.number().min(0).max(400).default(100).meta({ title: "Strength", unit: "percent", widget: "dial", max: 200 }),
  loop: z.boolean().default(false).meta({ title: "It is a cycle", help: "The end swings into the start." }),
  hand: z
    .boolean()
    .default(true)
    .meta({ title: "A pass to key by hand above", help: "Locked at both ends and dialled to the weight below." }),
  weight: z
    .number()
    .min(0)
    .max(400)
    .default(70)
    .meta({ title: "Its weight", unit: "percent", max: 200, step: 5, when: { hand: true } }),
});

/** Loose parts follow the body: a physical pass for a chain, and above it one to key by hand. */
export const overlap: Operation<z.infer<typeof settings>> = {
  id: "overlap",
  title: "Overlap",
  group: "Passes",
  help: "Lets a tail, tassel, ear or sleeve follow the body: a follow-through pass for the chain, and above it a pass to key by hand, already locked at both ends.",
  guide: {
    use: "Tails, tassels, ears and sleeves arrive late and swing on. A pass does that by itself, and one above it waits for your own keys.",
    watch: "Stiff things swing quickly, long ones slowly. What would be thrown too far is held back, and said.",
  },
  words: "tail chain drag follow through secondary spring physics tassel cloth ears pass hair gravity dynamics swing spring stiffness",
  suits: ["picked controls"],
  leaves: ["layer"],
  settings,
  situation: ({ shot, scope }) => firstSettings(shot, scope.controls ?? []),
  async run(shot, scope, s) {
    const firsts = s.first !== "" ? [s.first] : [...(scope.controls ?? [])];
    if (firsts.length === 0)
      throw new KneaderError("nothing-in-scope", "Overlap: no chain is chosen.", "Pick the first link of a tail, a tassel or the like.");
    for (const id of firsts)
      if (!controlById(shot.rig, id)) throw new KneaderError("not-found", `Overlap: the rig has no control "${id}".`);
    const chains = new Set(firsts.flatMap((id) => chainFrom(shot.rig, id)));
    if (s.otherSide)
      for (const id of [...chains]) {
        const partner = controlById(shot.rig, id)?.partner;
        if (partner) chains.add(partner);
      }
    const controls = shot.rig.controls.map(({ id }) => id).filter((id) => chains.has(id));
    const stems = [...new Set(firsts.map((id) => controlById(shot.rig, id)?.name.replace(/ ?\d+$/, "") ?? id))];
    const what = stems.length > 1 ? `${stems.length} chains` : stems[0];
    const members = anglesOf(controls);
    const { stiffness, damping, strength, loop } = s;
    const range = scope.range && { ...scope.range, easeIn: 2, easeOut: 2 };
    const told = followThroughPass.settings.parse({ stiffness, damping, strength, loop, vary: s.otherSide ? 8 : 0 });
    const swing: Pass = {
      ...freshPass(shot, followThroughPass, `${what} ${stems.length > 1 ? "follow" : "follows"}`),
      members,
      settings: told as Record<string, unknown>,
      range,
    };
    let after: Shot = { ...shot, passes: [...shot.passes, swing] };
    const notes = [`The chain: ${controls.map((id) => controlById(shot.rig, id)?.name).join(", ")}.`];
    if (s.hand) {
      const { start, end } = scopeRange(shot, scope);
      const hand: Pass = { ...freshPass(after, addsPass, `${what} by hand`), weight: constantCurve(s.weight / 100) };
      after = withLockedEnds({ ...after, passes: [...after.passes, hand] }, hand.id, members, [start, end]);
      notes.push(`"${hand.name}" is locked at frames ${start} and ${end}, at ${s.weight} %.`);
    }
    const bounded = boundedLinks(shot, { ...shot, passes: [...shot.passes, swing] }, controls, (told as { most: number }).most);
    if (bounded) notes.push(bounded);
    return outcome(shot, after, `${swing.name}: ${countedWord(controls.length, "link")}`, { notes });
  },
};

/** What gravity does to a hanging chain, as a first guess of how quickly it swings: a long tail slowly, a tassel quickly. */
const QUICKENED = 3.5;

/**
 * Settings that suit a chain and its motion: a pendulum as long as the chain (f = √(g / L) / 2π, any mechanics text),
 * several times quicker as flesh is no loose thread; more damped where poses are stepped; a loop where the shot is one.
 */
function firstSettings(shot: Shot, firsts: readonly string[]): Partial<z.infer<typeof settings>> {
  const lengthFrom = (first: string) =>
    chainFrom(shot.rig, first).reduce((sum, id) => sum + Math.hypot(...(controlById(shot.rig, id)?.rest ?? [0, 0, 0])), 0);
  // Of links of one chain picked together the first one hangs on to all of it.
  const length = Math.max(0, ...firsts.filter((id) => controlById(shot.rig, id)).map(lengthFrom));
  const metres = length * (shot.unitMetres ?? 0);
  const pendulum = metres > 0 ? (QUICKENED * Math.sqrt(9.80665 / metres)) / (2 * Math.PI) : 2;
  const stepped = Object.values(shot.base).filter(({ times, kindOut }) => times.length > 2 && kindOut[0] === Tangent.stepped).length;
  return {
    stiffness: Math.round(Math.min(6, Math.max(1, pendulum)) * 10) / 10,
    damping: stepped * 2 > Object.keys(shot.base).length ? 60 : 30,
    loop: shot.cyclic,
  };
}

/** Says which link would have swung further than a chain can, and where first; null where none would. */
function boundedLinks(before: Shot, after: Shot, controls: readonly string[], most: number): string | null {
  const [a, b] = [makePlayer(before, { only: controls }), makePlayer(after, { only: controls })];
  const { start, end } = before.range;
  for (let frame = Math.ceil(start); frame <= end; frame++) {
    a.pose(frame);
    b.pose(frame);
    for (const id of controls) {
      const i = 4 * (a.controlIndex.get(id) as number);
      const turn = quatAngle(a.turns, i, b.turns, i);
      if (turn > most - 0.5)
        return `${controlById(before.rig, id)?.name} is thrown hard at frame ${frame} and is held at ${most}° from its motion, as far as a link swings.`;
    }
  }
  return null;
}

/** A control and what hangs on it, as long as it is a chain: one child, or the one of the same part. */
function chainFrom(rig: Rig, first: string): string[] {
  const chain = [first];
  for (;;) {
    const last = controlById(rig, chain[chain.length - 1]);
    const children = rig.controls.filter(({ parent }) => parent === last?.id);
    const next =
      children.length === 1 ? children[0] : children.find(({ part, name }) => part === last?.part && sameStem(name, last?.name ?? ""));
    if (!next) return chain;
    chain.push(next.id);
  }
}

const sameStem = (a: string, b: string) => a.replace(/ ?\d+/, "") === b.replace(/ ?\d+/, "");
