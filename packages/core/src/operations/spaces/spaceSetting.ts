import { z } from "zod";
import { KneaderError } from "../../errors.ts";
import { type Control, controlById } from "../../model/rig.ts";
import type { Shot } from "../../model/shot.ts";
import type { Scope } from "../operation.ts";
import { controlsMeant, isWhole } from "../shared/scope.ts";

/** What a setting of a space may say besides the id of a control. */
export const IN_WORLD = "*world";
export const IN_PARENT = "*parent";

/** A space, or a thing to go after: a control, the world, or what each control hangs on. */
export const spaceSetting = (title: string, otherwise: string, help: string) =>
  z.string().default(otherwise).meta({ title, widget: "space", help });

/** A control chosen by its id. */
export const controlSetting = (title: string, help: string, more: Record<string, unknown> = {}) =>
  z
    .string()
    .default("")
    .meta({ title, widget: "control", help, ...more });

/** The space a setting means for a control: the id of a control, null for the world. Errors: `not-found`. */
export function spaceMeant(shot: Shot, control: Control, said: string): string | null {
  if (said === IN_WORLD) return null;
  if (said === IN_PARENT) return control.parent;
  return needControl(shot, said).id;
}

export function needControl(shot: Shot, id: string): Control {
  const found = controlById(shot.rig, id);
  if (!found) throw new KneaderError("not-found", `The shot has no control "${id}".`, "Choose one that is there.");
  return found;
}

/** The name of a space. */
export const spaceName = (shot: Pick<Shot, "rig">, id: string | null): string =>
  id === null ? "world" : (controlById(shot.rig, id)?.name ?? id);

/** Of the picked controls those that are to go after another: all but it. Errors: `nothing-in-scope` where none is left. */
export function pickedBut(shot: Shot, scope: Scope, target: string, title: string): Control[] {
  const found = isWhole(scope) ? [] : shot.rig.controls.filter(({ id }) => id !== target && controlsMeant(shot, scope).has(id));
  if (found.length === 0)
    throw new KneaderError(
      "nothing-in-scope",
      `${title}: no control is picked.`,
      "Pick what is to go along first, then what it goes after.",
    );
  return found;
}

/** Of several picked controls the last is what the others go after; null where only one is picked. */
export function targetPicked({ scope }: { scope: Scope }): string | null {
  const { controls } = scope;
  return controls !== null && controls.length > 1 ? controls[controls.length - 1] : null;
}
