import type { Constraint, Shot } from "../model/shot.ts";
import { constraintKind } from "./kinds.ts";

/** The controls a constraint reads and writes, by id. Of an unknown kind: none. */
export function tiesOf({ kind, settings }: Constraint): { readonly reads: readonly string[]; readonly writes: readonly string[] } {
  const known = constraintKind(kind);
  return known ? { reads: known.reads(settings), writes: known.writes(settings) } : { reads: [], writes: [] };
}

/** The controls that something leads: their place in the world is not their own keys' alone. */
export function ledControls(shot: Pick<Shot, "constraints">): Set<string> {
  return new Set(shot.constraints.filter(({ on }) => on).flatMap((constraint) => tiesOf(constraint).writes));
}
