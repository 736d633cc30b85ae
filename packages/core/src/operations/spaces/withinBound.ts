import { type Drift, measureDriftInPieces } from "../../evaluate/drift.ts";
import type { Shot } from "../../model/shot.ts";
import { sayLength } from "../../model/sayLength.ts";
import type { Context } from "../operation.ts";

/** How far a result may be from what it was made from: turns in degrees, places in scene units. */
export interface Bound {
  readonly rotation: number;
  readonly move: number;
}

/** Where a bake is looked at: with a key on every frame it is meant for whole frames, else it is looked at between them too. */
export const looksOf = (keys: "every" | "existing" | "fewest") => ({ step: keys === "every" ? 1 : 0.25 });

/** How often finer fits are tried; each is at least this much finer than the one before. */
const TRIES = 8;
const FINER = 0.6;

/**
 * The coarsest fit that is found within a bound at every whole frame, for turns and places as they are seen: each curve alone
 * within it is not enough, as what curves are off by adds up. `fit` answers the shot fitted within a tolerance of each curve.
 * The last is answered where none holds.
 */
export async function withinBound(
  before: Shot,
  bound: Bound,
  fit: (tolerance: Bound) => Promise<Shot>,
  context: Context,
): Promise<{ readonly shot: Shot; readonly holds: boolean }> {
  let tolerance = bound;
  let shot = before;
  for (let n = 0; n < TRIES; n++) {
    shot = await fit(tolerance);
    // At a first glance the bound of the whole is not asked for.
    if (context.firstLook) return { shot, holds: true };
    const { turn, place } = await measureDriftInPieces(before, shot, before.range, () => context.breathe((n + 0.5) / TRIES));
    const turnOff = turn.amount / bound.rotation;
    const placeOff = place.amount / bound.move;
    if (!(turnOff > 1 + 1e-9) && !(placeOff > 1 + 1e-9)) return { shot, holds: true };
    // What turns moves too, so both get finer where places are off.
    const finer = Math.min(FINER, 0.9 / Math.max(turnOff, placeOff, 1));
    tolerance = { rotation: tolerance.rotation * finer, move: placeOff > 1 ? tolerance.move * finer : tolerance.move };
  }
  return { shot, holds: false };
}

/** What to say where the bound cannot be kept, or not between frames; nothing where it is. */
export function sayBound(shot: Shot, { rotation, move }: Bound, drift: Drift | null, holds: boolean): string[] {
  if (!drift || !(drift.turn.amount > rotation + 1e-9 || drift.place.amount > move + 1e-9)) return [];
  const by = `${drift.turn.amount.toFixed(2)}° and ${sayLength(shot, drift.place.amount)}`;
  return holds
    ? [`Within the bound at every whole frame; between frames up to ${by}.`]
    : [`The bound does not hold: up to ${by}. Keys on every frame hold it at each.`];
}
