import { KneaderError } from "../../errors.ts";
import type { Action } from "../../model/action.ts";
import type { Pass, Shot } from "../../model/shot.ts";
import { playedAction, playPass } from "../../passes/play.ts";

/** The chosen pass and the action it plays. Errors: `nothing-in-scope`, `not-found`. */
export function playedPass(shot: Shot, layer: string, title: string): { pass: Pass; action: Action } {
  const pass = shot.passes.find(({ id }) => id === layer);
  if (!pass || pass.kind !== playPass.id)
    throw new KneaderError("nothing-in-scope", `${title}: no pass that plays an action is chosen.`, "Choose its band in the pass tray.");
  const action = playedAction(shot, pass);
  if (!action) throw new KneaderError("not-found", `${title}: the shot does not carry what "${pass.name}" plays.`, "Lay the action again.");
  return { pass, action };
}
