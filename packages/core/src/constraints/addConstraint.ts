import { KneaderError } from "../errors.ts";
import { controlById } from "../model/rig.ts";
import type { Constraint, Shot } from "../model/shot.ts";
import { refuseCircles } from "./graph.ts";
import { tiesOf } from "./ledControls.ts";

/** Add a constraint. Errors: `not-found` for a control that is not there, `cycle` when something would move with itself. */
export function addConstraint(shot: Shot, constraint: Constraint): Shot {
  const { reads, writes } = tiesOf(constraint);
  for (const id of [...writes, ...reads])
    if (!controlById(shot.rig, id)) throw new KneaderError("not-found", `The shot has no control "${id}".`);
  const added = { ...shot, constraints: [...shot.constraints, constraint] };
  refuseCircles(added);
  return added;
}
