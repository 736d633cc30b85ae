import { z } from "zod";
import { pairControls, setSides } from "../../constraints/editRig.ts";
import { controlById } from "../../model/rig.ts";
import type { Shot } from "../../model/shot.ts";
import { countedWord } from "../../words.ts";
import { byHand } from "./handOperation.ts";

const rule = z.union([z.literal("left out"), z.object({ flips: z.array(z.string()) })]);
const settings = z.union([
  /** By control: its partner, and how it takes the image; `mirror: null` by the rest pose. */
  z.strictObject({
    pair: z.record(z.string(), z.object({ partner: z.string().nullable().optional(), mirror: rule.nullable().optional() })),
  }),
  /** Null: as found from the rest pose. */
  z.strictObject({ sides: z.object({ axis: z.enum(["x", "y", "z"]), at: z.number() }).nullable() }),
]);
type Said = z.infer<typeof settings>;

function changed(shot: Shot, said: Said): { shot: Shot; summary: string } {
  if ("sides" in said) {
    const { sides } = said;
    return { shot: setSides(shot, sides), summary: sides ? `Left and right along ${sides.axis.toUpperCase()}` : "Left and right as found" };
  }
  const pairing = Object.fromEntries(
    Object.entries(said.pair).map(([id, { partner, mirror }]) => [
      id,
      { ...(partner === undefined ? {} : { partner }), ...(mirror === undefined ? {} : { mirror: mirror ?? undefined }) },
    ]),
  );
  const ids = Object.keys(pairing);
  const names = ids.map((id) => controlById(shot.rig, id)?.name ?? id);
  const what = ids.length > 2 ? countedWord(ids.length, "control") : names.join(" and ");
  return { shot: pairControls(shot, pairing), summary: `How ${what} ${ids.length === 1 ? "is" : "are"} mirrored` };
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
