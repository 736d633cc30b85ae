import type { Shot } from "../model/shot.ts";
import { computedKind } from "./kinds.ts";

/**
 * The shot as it may be kept after an edit: computed passes that were changed are put in order (a warp is
 * pinned at its ends). Raises `bad-setting` when one cannot be kept.
 */
export function checkPasses(before: Shot, after: Shot): Shot {
  const passes = after.passes.map((pass) => (before.passes.includes(pass) ? pass : (computedKind(pass.kind)?.checked(pass) ?? pass)));
  return passes.every((pass, i) => pass === after.passes[i]) ? after : { ...after, passes };
}
