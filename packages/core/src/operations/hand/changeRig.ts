import { z } from "zod";
import { pairControls, setSides } from "../../constraints/editRig.ts";
import { controlById } from "../../model/rig.ts";
import type { Shot } from "../../model/shot.ts";
import { countedWord } from "../../words.ts";
import { byHand } from "./handOperation.ts";

const rule = z.union([z.literal("left out"), z.object({ flips: z.array(z.string()).readonly() })]);
const settings = z.strictObject({
  /** By control: its partner, and how it takes the image; `mirror: null` by the rest pose. */
  pair: z.record(z.string(), z.object({ partner: z.string().nullable().optional(), mirror: rule.nullable().optional() })).optional(),
  /** Null: as found from the rest pose. */
  sides: z
    .object({ axis: z.enum(["x", "y", "z"]), at: z.number() })
    .nullable()
    .optional(),
});
type Said = z.infer<typeof settings>;

function paired(shot: Shot, said: NonNullable<Said["pair"]>): { shot: Shot; summary: string } {
  const pairing = Object.fromEntries(
    Object.entries(said).map(([id, { partner, mirror }]) => [
      id,
      { ...(partner === undefined ? {} : { partner }), ...(mirror === undefined ? {} : { mirror: mirror ?? undefined }) },
    ]),
  );
  const ids = Object.keys(pairing);
  const names = ids.map((id) => controlById(shot.rig, id)?.name ?? id);
  const what = ids.length > 2 ? countedWord(ids.length, "control") : names.join(" and ");
  return { shot: pairControls(shot, pairing), summary: `How ${what} ${ids.length === 1 ? "is" : "are"} mirrored` };
}

function changed(shot: Shot, { pair, sides }: Said): { shot: Shot; summary: string } {
  const by = pair ? paired(shot, pair) : { shot, summary: "" };
  if (sides === undefined) return by;
  const said = sides ? `Left and right along ${sides.axis.toUpperCase()}` : "Left and right as found";
  return { shot: setSides(by.shot, sides), summary: by.summary || said };
}

/** Partners, who is left out, and where left meets right. */
export const changeRig = byHand<Said>({
  id: "change-rig",
  title: "Change the rig",
  help: "Says who is whose partner, who is left out when mirrored, and where left meets right.",
  settings,
  named: true,
  edit: (shot, _scope, said) => changed(shot, said),
});
