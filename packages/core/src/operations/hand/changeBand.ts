import { z } from "zod";
import { withPass } from "../../model/shot.ts";
import { passOf } from "../../passes/editPasses.ts";
import { playPass, playSettings } from "../../passes/play.ts";
import { crossed, withSpan } from "../../passes/rows.ts";
import { KneaderError } from "../../errors.ts";
import { byHand } from "./handOperation.ts";

const told = z.object({
  start: z.number(),
  from: z.number().min(0),
  to: z.number().min(0),
  speed: z.number().min(1).max(10000),
  rounds: z.number().int().min(1).max(1000),
  travels: z.boolean(),
  joins: playSettings.shape.joins.removeDefault(),
  row: z.string(),
  members: z.array(z.string()),
});

const settings = z.object({ pass: z.string(), to: told.partial() });
type Told = z.infer<typeof settings>["to"];

function sayChange(name: string, to: Told): string {
  if (to.speed !== undefined) return `${name} at ${Math.round(to.speed)} %`;
  if (to.rounds !== undefined) return `${name} ${to.rounds === 1 ? "once" : `${to.rounds} times`}`;
  if (to.from !== undefined || to.to !== undefined) return `Trim ${name}`;
  if (to.members !== undefined) return `What ${name} plays on`;
  if (to.start !== undefined) return `Move ${name}`;
  return `Change how ${name} plays`;
}

/** Where, how fast, how often and on what a pass plays its action. */
export const changeBand = byHand<z.infer<typeof settings>>({
  id: "change-band",
  title: "Change a played action",
  help: "Moves, trims, speeds up and repeats an action that a pass plays.",
  settings,
  named: true,
  edit(shot, _scope, { pass: id, to: { members, ...to } }) {
    const pass = passOf(shot, id);
    if (pass.kind !== playPass.id) throw new KneaderError("bad-setting", `"${pass.name}" plays no action.`);
    const after = withPass(shot, id, (before) =>
      withSpan(shot, playPass.checked({ ...before, settings: { ...before.settings, ...to }, members: members ?? before.members })),
    );
    return { shot: crossed(shot, after, id), summary: sayChange(pass.name, { members, ...to }) };
  },
});
