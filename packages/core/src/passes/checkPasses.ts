import type { Pass, Shot } from "../model/shot.ts";
import { computedKind } from "./kinds.ts";
import { withoutUnplayed, withSpan } from "./rows.ts";

import { KneaderError } from "../errors.ts";

/**
 * The shot as it may be kept after an edit: computed passes that were changed are put in order (a warp is
 * pinned at its ends). Raises `bad-setting` when one cannot be kept, `locked` when a locked one would change.
 */
export function checkPasses(before: Shot, after: Shot): Shot {
  for (const pass of before.passes) {
    const now = !pass.locked ? undefined : after.passes.find(({ id }) => id === pass.id);
    if (now?.locked && changesOf(pass, now))
      throw new KneaderError("locked", `Pass "${pass.name}" is locked.`, "Unlock it in the pass tray to change it.");
  }
  const passes = after.passes.map((pass) =>
    before.passes.includes(pass) ? pass : withSpan(after, computedKind(pass.kind)?.checked(pass) ?? pass),
  );
  return withoutUnplayed(passes.every((pass, i) => pass === after.passes[i]) ? after : { ...after, passes });
}

/** Is anything of a pass another one than before, its switches, name and colour left aside? */
function changesOf(before: Pass, after: Pass): boolean {
  if (before.curves !== after.curves && !sameCurves(before, after)) return true;
  return (["kind", "compose", "weight", "range", "members", "settings"] as const).some((part) => before[part] !== after[part]);
}

function sameCurves({ curves: a }: Pass, { curves: b }: Pass): boolean {
  const keys = Object.keys(a);
  return keys.length === Object.keys(b).length && keys.every((key) => a[key] === b[key]);
}
