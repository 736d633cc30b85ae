import type { Constraint, Shot } from "../model/shot.ts";
import { addConstraint } from "./addConstraint.ts";

/** The constraint of a kind whose row is chosen, so that it is told anew in place of another one being made; null where none is. */
export function chosenTie(shot: Pick<Shot, "constraints">, layer: string, kind: string): Constraint | null {
  return shot.constraints.find((one) => one.id === layer && one.kind === kind) ?? null;
}

/** The shot without it; the very shot where there is none. */
export function withoutTie(shot: Shot, tie: Constraint | null): Shot {
  return tie ? { ...shot, constraints: shot.constraints.filter(({ id }) => id !== tie.id) } : shot;
}

/**
 * Put a constraint into a shot: where one is told anew it keeps its name, its switches and what was keyed of it. Errors: as
 * `addConstraint`.
 */
export function putTie(shot: Shot, old: Constraint | null, made: Constraint): Shot {
  return addConstraint(shot, old ? { ...old, settings: made.settings, curves: { ...made.curves, ...old.curves } } : made);
}
