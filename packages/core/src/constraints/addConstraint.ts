import { KneaderError } from "../errors.ts";
import { controlById } from "../model/rig.ts";
import type { Constraint, Shot } from "../model/shot.ts";
import { refuseCircles } from "./graph.ts";
import { constraintRank } from "./kinds.ts";
import { tiesOf } from "./ledControls.ts";

/**
 * Add a constraint, after those whose kind works before it: where a control lives comes first, where a limb's end stays
 * last. Errors: `not-found` for a control that is not there, `cycle` when something would move with itself.
 */
export function addConstraint(shot: Shot, constraint: Constraint): Shot {
  const { reads, writes } = tiesOf(constraint);
  for (const id of [...writes, ...reads])
    if (!controlById(shot.rig, id)) throw new KneaderError("not-found", `The shot has no control "${id}".`);
  const rank = constraintRank(constraint.kind);
  const after = shot.constraints.filter(({ kind }) => constraintRank(kind) > rank);
  const before = shot.constraints.filter((one) => !after.includes(one));
  const added = { ...shot, constraints: [...before, constraint, ...after] };
  refuseCircles(added);
  return added;
}
