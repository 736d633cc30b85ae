import { type Drift, measureDriftInPieces } from "../../evaluate/drift.ts";
import type { Shot } from "../../model/shot.ts";
import type { Context, Scope } from "../operation.ts";
import { scopeRange } from "./scope.ts";

/** The drift an operation reports, measured over its scope's range; none where only a first look is wanted. */
export async function driftFor(before: Shot, after: Shot, scope: Scope, context: Context): Promise<Drift | null> {
  if (context.firstLook) return null;
  return measureDriftInPieces(before, after, scopeRange(before, scope), (share) => context.breathe(0.9 + 0.1 * share));
}
