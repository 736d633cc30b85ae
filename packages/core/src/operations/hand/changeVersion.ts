import { z } from "zod";
import { KneaderError } from "../../errors.ts";
import type { Shot } from "../../model/shot.ts";
import { inVersion, keepVersion, removeVersion } from "../../passes/versions.ts";
import { byHand } from "./handOperation.ts";

const settings = z.union([
  z.strictObject({ keep: z.string().trim().min(1) }),
  z.strictObject({ use: z.string() }),
  z.strictObject({ forget: z.string() }),
]);
type Said = z.infer<typeof settings>;

function idOf(shot: Shot, name: string): string {
  const version = shot.versions.find((one) => one.name === name);
  if (!version) throw new KneaderError("not-found", `The shot has no version "${name}".`);
  return version.id;
}

function changed(shot: Shot, said: Said): { shot: Shot; summary: string } {
  if ("keep" in said) return { shot: keepVersion(shot, said.keep).shot, summary: `Version "${said.keep}"` };
  if ("use" in said) return { shot: inVersion(shot, idOf(shot, said.use)), summary: `Version "${said.use}"` };
  return { shot: removeVersion(shot, idOf(shot, said.forget)), summary: `Forget "${said.forget}"` };
}

/** Keep how the passes stand under a name, go back to such a state, or forget it; each by its name. */
export const changeVersion = byHand<Said>({
  id: "change-version",
  title: "Versions",
  help: "Keeps, uses and forgets named states of the passes.",
  settings,
  named: true,
  edit: (shot, _scope, said) => changed(shot, said),
});
