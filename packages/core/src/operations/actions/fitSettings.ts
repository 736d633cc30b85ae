import { z } from "zod";
import { type Fitted, fitClip } from "../../actions/fitClip.ts";
import type { HandMap } from "../../actions/matchControls.ts";
import { KneaderError } from "../../errors.ts";
import type { Action } from "../../model/action.ts";
import { controlById, splitChannelKey } from "../../model/rig.ts";
import type { Shot } from "../../model/shot.ts";
import { countedWord, listed } from "../../words.ts";

/** How an action of another figure is fitted: settings of everything that lays one. */
export const fitSettings = {
  ratio: z.number().min(0).max(1e6).default(0).meta({
    title: "Size ×",
    step: 0.05,
    max: 4,
    zero: "as found",
    more: true,
    help: "Movement is as many times larger; found from the legs, or from what both have.",
  }),
  limbs: z
    .enum(["found", "laid", "left"])
    .default("found")
    .meta({
      title: "Rest poses",
      more: true,
      labels: {
        found: "Arms and legs point alike where they rest otherwise",
        laid: "Arms and legs point alike",
        left: "Turns from rest, however limbs rest",
      },
    }),
  map: z.record(z.string(), z.string().nullable()).default({}).meta({ title: "Who takes whose motion", widget: "mapping" }),
};

export interface FitTold {
  readonly ratio: number;
  readonly limbs: "found" | "laid" | "left";
  readonly map: HandMap;
}

/** An action in this rig's channels, with what is to be said of it. Errors: `no-match`. */
export function fitAction({ rig }: Pick<Shot, "rig">, { card, clip }: Action, told: FitTold): Fitted {
  const fitted = fitClip(clip, rig, { hand: told.map, ratio: told.ratio || null, limbs: told.limbs });
  if (Object.keys(fitted.clip.curves).length === 0) {
    const moved = new Set(Object.keys(clip.curves).map((key) => splitChannelKey(key).control));
    const names = clip.controls.filter(({ id }) => moved.has(id)).map(({ name }) => name);
    throw new KneaderError(
      "no-match",
      `Nothing in "${card.name}" matches this rig: it moves ${listed(names)}, and nothing here was found for them, by name, place or shape.`,
      "Say in the mapping who takes whose motion, or choose an action made for a rig like this one.",
    );
  }
  return fitted;
}

/** What fitting did that is worth a warning, and what is good to know. */
export function sayFit({ rig }: Pick<Shot, "rig">, { clip }: Action, fitted: Fitted): { warnings: string[]; notes: string[] } {
  const nameIn = (id: string) => clip.controls.find((one) => one.id === id)?.name ?? id;
  const nameHere = (id: string) => controlById(rig, id)?.name ?? id;
  const warnings: string[] = [];
  const notes: string[] = [];
  const { unmatched, match, size, ratio, retold, rested, apart, laidLimbs } = fitted;
  if (unmatched.length > 0) {
    const names = [...new Set(unmatched.map((key) => nameIn(splitChannelKey(key).control)))];
    warnings.push(`${unmatched.length} of ${countedWord(Object.keys(clip.curves).length, "curve")} have no place here: ${listed(names)}.`);
  }
  for (const { to, from } of match.contested)
    warnings.push(`${listed(from.map(nameIn))} could both be ${nameHere(to)}: say in the mapping which one is.`);
  const bridged = match.bridged.from.filter((id) => Object.keys(clip.curves).some((key) => splitChannelKey(key).control === id));
  if (bridged.length > 0)
    notes.push(`Bridged, as only the action has them: ${listed(bridged.map(nameIn))}; what hangs on them turns with them.`);
  if (rested.length > 0) notes.push(`Bridged, as only this rig has them: ${listed(rested.map(nameHere))}; they rest.`);
  if (Math.abs(ratio - 1) > 1e-3)
    notes.push(
      `Movement × ${Number(ratio.toPrecision(3))}${ratio === size.ratio ? `, by the ${size.by === "legs" ? "length of the legs" : size.by === "hips" ? "height of the hips" : "size of the figures"}` : ""}.`,
    );
  if (laidLimbs) notes.push(`Rest poses differ by ${Math.round(apart)}°: arms and legs point as they do in the action.`);
  if (retold.length > 0) notes.push(`Told anew, as they rest or hang otherwise: ${countedWord(retold.length, "control")}.`);
  return { warnings, notes };
}
