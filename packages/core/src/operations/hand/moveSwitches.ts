import { z } from "zod";
import { atOnce } from "../../inPieces.ts";
import { type Switch, switchesOf } from "../../constraints/spaces.ts";
import { KneaderError } from "../../errors.ts";
import { controlById } from "../../model/rig.ts";
import { respace } from "../spaces/respace.ts";
import { spaceName } from "../spaces/spaceSetting.ts";
import { refuseLocked } from "../spaces/switchSpace.ts";
import { byHand } from "./handOperation.ts";

const settings = z.object({
  control: z.string(),
  /** Where it lives from when on; null is the world. The first holds from the beginning. */
  switches: z.array(z.object({ frame: z.number().nullable(), space: z.string().nullable() })).min(1),
  /** Its poses stay, or the values of its keys. */
  keep: z.enum(["poses", "values"]).default("poses"),
});

/** A control's switches dragged in time, changed or taken out. */
export const moveSwitches = byHand<z.infer<typeof settings>>({
  id: "move-switches",
  title: "Change where a control lives",
  help: "Moves, changes or takes out the switches of a control's space; its poses stay.",
  settings,
  named: true,
  edit(shot, _scope, { control: id, switches: told, keep }) {
    const control = controlById(shot.rig, id);
    if (!control) throw new KneaderError("not-found", `The shot has no control "${id}".`);
    refuseLocked(shot, control);
    const switches = told.map((one): Switch => ({ frame: one.frame ?? Number.NEGATIVE_INFINITY, space: one.space }));
    const after = atOnce(respace(shot, id, switches, keep === "poses" ? "own" : "values"));
    const before = switchesOf(shot, id);
    const moved = switches.find(({ frame, space }) => !before.some((one) => one.frame === frame && one.space === space));
    const what = moved
      ? `${control.name} lives in ${moved.space === null ? "the world" : spaceName(shot, moved.space)}${Number.isFinite(moved.frame) ? ` from frame ${moved.frame}` : ""}`
      : `A switch of ${control.name} taken out`;
    return { shot: after, summary: what };
  },
});
