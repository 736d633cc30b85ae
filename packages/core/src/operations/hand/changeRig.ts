import { z } from "zod";
import { pairControls, setRanges, setSides } from "../../constraints/editRig.ts";
import { controlById } from "../../model/rig.ts";
import type { Shot } from "../../model/shot.ts";
import { countedWord } from "../../words.ts";
import { byHand } from "./handOperation.ts";

const rule = z.union([z.literal("left out"), z.object({ flips: z.array(z.string()).readonly() })]);
const settings = z.strictObject({
  /** By control: its partner, and how it takes the image; `mirror: null` by the rest pose. */
  pair: z.record(z.string(), z.object({ partner: z.string().nullable().optional(), mirror: rule.nullable().optional() })).optional(),
  /** How far joints turn, by control and rotate channel, in degrees; null: not said. */
  ranges: z.record(z.string(), z.record(z.string(), z.tuple([z.number(), z.number()]).readonly().nullable())).optional(),
  /** Null: as found from the rest pose. */
  sides: z
    .object({ axis: z.enum(["x", "y", "z"]), at: z.number() })
    .nullable()
    .optional(),
});
type Said = z.infer<typeof settings>;

const nameOf = (shot: Shot, id: string | undefined): string => controlById(shot.rig, id ?? "")?.name ?? id ?? "nobody";

function paired(shot: Shot, said: NonNullable<Said["pair"]>): { shot: Shot; summary: string } {
  const pairing = Object.fromEntries(
    Object.entries(said).map(([id, { partner, mirror }]) => [
      id,
      { ...(partner === undefined ? {} : { partner }), ...(mirror === undefined ? {} : { mirror: mirror ?? undefined }) },
    ]),
  );
  const ids = Object.keys(pairing);
  const names = ids.map((id) => nameOf(shot, id));
  const what = ids.length > 2 ? countedWord(ids.length, "control") : names.join(" and ");
  return { shot: pairControls(shot, pairing), summary: `How ${what} ${ids.length === 1 ? "is" : "are"} mirrored` };
}

function changed(shot: Shot, { pair, ranges, sides }: Said): { shot: Shot; summary: string } {
  let after = shot;
  const said: string[] = [];
  if (pair) {
    const by = paired(after, pair);
    after = by.shot;
    said.push(by.summary);
  }
  if (ranges) {
    after = setRanges(after, ranges);
    const [first, ...more] = Object.keys(ranges);
    said.push(more.length > 0 ? `How far ${countedWord(more.length + 1, "joint")} turn` : `How far ${nameOf(shot, first)} turns`);
  }
  if (sides !== undefined) {
    after = setSides(after, sides);
    said.push(sides ? `Left and right along ${sides.axis.toUpperCase()}` : "Left and right as found");
  }
  return { shot: after, summary: said.filter(Boolean)[0] ?? "" };
}

/** Partners, who is left out, how far joints turn, and where left meets right. */
export const changeRig = byHand<Said>({
  id: "change-rig",
  title: "Change the rig",
  help: "Says who is whose partner, who is left out when mirrored, how far joints turn, and where left meets right.",
  settings,
  named: true,
  edit: (shot, _scope, said) => changed(shot, said),
});
