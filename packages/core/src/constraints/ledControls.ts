import { sampleCurve } from "../curve/track.ts";
import { channelKey } from "../model/rig.ts";
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

/** Of these the ones whose own channels go on top of where they are put. */
export function carriedByTies(shot: Pick<Shot, "constraints">): Set<string> {
  const carrying = activeConstraints(shot).filter(({ kind, settings }) => constraintKind(kind)?.keepsOwn(settings) === true);
  return new Set(carrying.flatMap((constraint) => tiesOf(constraint).writes));
}

/** The ones whose own channels do not say where they are at a frame: something else does, with some strength there. */
export function ruledControls(shot: Pick<Shot, "constraints">, frame: number): Set<string> {
  const rules = activeConstraints(shot).filter(({ id, kind, settings, curves }) => {
    const known = constraintKind(kind);
    if (!known || known.keepsOwn(settings) || known.isIdle?.(settings, frame)) return false;
    const strength = curves[channelKey(id, "strength")];
    return !strength || sampleCurve(strength, frame) > 0;
  });
  return new Set(rules.flatMap((constraint) => tiesOf(constraint).writes));
}

/** Names of what a constraint needs that the rig does not have. */
export function missingOf(shot: Pick<Shot, "rig">, constraint: Constraint): string[] {
  const known = new Set(shot.rig.controls.map(({ id }) => id));
  const { reads, writes } = tiesOf(constraint);
  return [...new Set([...writes, ...reads])].filter((id) => !known.has(id));
}
