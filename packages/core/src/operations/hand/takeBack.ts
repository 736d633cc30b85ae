import { z } from "zod";
import { shotFromJson } from "../../formats/schema.ts";
import type { Shot } from "../../model/shot.ts";
import { byHand } from "./handOperation.ts";

/** A shot in memory, or as a file has it. */
const shot = z
  .unknown()
  .transform((given): Shot => ((given as { format?: unknown } | null)?.format ? shotFromJson(given) : (given as Shot)));
const settings = z.object({ shot, name: z.string() });

/** Put an earlier state in place of the present one; versions kept since then stay. */
export const takeBack = byHand<z.infer<typeof settings>>({
  id: "take-back",
  title: "Keep another state",
  help: "Puts another state of the shot in place of the present one.",
  settings,
  named: true,
  stacks: true,
  edit: (now, _scope, { shot: other, name }) => ({ shot: { ...other, versions: now.versions }, summary: `Keep ${name}` }),
});
