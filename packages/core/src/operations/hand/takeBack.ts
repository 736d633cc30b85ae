import { z } from "zod";
import { SCHEMA_VERSION } from "../../formats/migrate.ts";
import { shotFromJson } from "../../formats/schema.ts";
import type { Shot } from "../../model/shot.ts";
import { byHand } from "./handOperation.ts";

const inMemory = (given: unknown): given is Shot =>
  Object.values((given as Partial<Shot> | null)?.base ?? {}).every(({ times }) => times instanceof Float64Array);

/** A shot in memory, or as a step of a history has it: as files write it. */
const shot = z
  .unknown()
  .transform((given): Shot => (inMemory(given) ? given : shotFromJson({ format: "kneader-shot", version: SCHEMA_VERSION, shot: given })));
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
