import type { Constraint, Shot } from "../model/shot.ts";
import { activeConstraints } from "./activeConstraints.ts";
import { constraintKind } from "./kinds.ts";

/** The controls a constraint reads and writes, by id. Of an unknown kind: none. */
export function tiesOf({ kind, settings }: Constraint): { readonly reads: readonly string[]; readonly writes: readonly string[] } {
  const known = constraintKind(kind);
  return known ? { reads: known.reads(settings), writes: known.writes(settings) } : { reads: [], writes: [] };
}

/** What of a constraint is worked out at once: all of it, or each control it leads by itself. */
export function partsOf(constraint: Constraint): { readonly reads: readonly string[]; readonly writes: readonly string[] }[] {
  const { reads, writes } = tiesOf(constraint);
  return constraintKind(constraint.kind)?.each ? writes.map((id) => ({ reads, writes: [id] })) : [{ reads, writes }];
}

/** The controls that something leads: their place in the world is not their own keys' alone. */
export function ledControls(shot: Pick<Shot, "constraints">): Set<string> {
  return new Set(activeConstraints(shot).flatMap((constraint) => tiesOf(constraint).writes));
}

/** Of these the ones whose own channels do not go on top: something else says where they are. */
export function ruledControls(shot: Pick<Shot, "constraints">): Set<string> {
  const rules = activeConstraints(shot).filter(({ kind, settings }) => constraintKind(kind)?.keepsOwn(settings) === false);
  return new Set(rules.flatMap((constraint) => tiesOf(constraint).writes));
}

/** Names of what a constraint needs that the rig does not have. */
export function missingOf(shot: Pick<Shot, "rig">, constraint: Constraint): string[] {
  const known = new Set(shot.rig.controls.map(({ id }) => id));
  const { reads, writes } = tiesOf(constraint);
  return [...new Set([...writes, ...reads])].filter((id) => !known.has(id));
}
