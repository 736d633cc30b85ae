import { controlById } from "../model/rig.ts";
import type { Constraint, Shot } from "../model/shot.ts";
import { takeOut } from "./editRig.ts";
import { tiesOf } from "./ledControls.ts";

/** What is made together with a constraint is called by the control it is for: a goal, what it bends toward. */
const isMadeFor = (id: string, led: string): boolean =>
  ["goal", "bend"].some((what) => id === `${led}-${what}` || (id.startsWith(`${led}-${what}-`) && /-\d+$/.test(id)));

/**
 * The shot without the controls that were made for constraints which are gone from it: those that nothing else goes after, and on
 * which nothing hangs. Their keys go with them.
 */
export function withoutMade(shot: Shot, gone: readonly Constraint[]): Shot {
  let after = shot;
  for (const tie of gone) {
    const { reads, writes } = tiesOf(tie);
    for (const id of reads) {
      const control = controlById(after.rig, id);
      if (control?.role !== "prop" || control.parent !== null || !writes.some((led) => isMadeFor(id, led))) continue;
      const used = after.constraints.some((one) => [...tiesOf(one).reads, ...tiesOf(one).writes].includes(id));
      const hung = after.rig.controls.some(({ parent }) => parent === id);
      if (!used && !hung) after = takeOut(after, id);
    }
  }
  return after;
}
