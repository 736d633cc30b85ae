import { measureDriftInPieces } from "../../evaluate/drift.ts";
import { DEG } from "../../maths/rotation.ts";
import { type ChannelKey, channelUnit, controlById, type Rig, splitChannelKey } from "../../model/rig.ts";
import type { Shot } from "../../model/shot.ts";
import { type FitChannels, fitChannels, type Fits } from "./fitChannels.ts";
import type { Scope } from "../operation.ts";
import { changeCurves } from "../shared/scope.ts";

/** Fits tried while looking for the loosest one that stays within the distance. */
const TRIES = 7;

/** The ends of a figure: controls that no other hangs on, fingers and props left out. */
export function endsOf(rig: Rig): string[] {
  const own = rig.controls.filter(({ role, part }) => role === "figure" && part !== "hands");
  const parents = new Set(own.map((control) => control.parent));
  return own.filter((control) => !parents.has(control.id)).map((control) => control.id);
}

/** For each control the longest way at rest from it to an end below it; controls above no end are left out. */
export function leversOf(rig: Rig, ends: readonly string[]): Map<string, number> {
  const levers = new Map<string, number>();
  for (const end of ends) {
    let way = 0;
    for (let control = controlById(rig, end); control; control = control.parent === null ? undefined : controlById(rig, control.parent)) {
      levers.set(control.id, Math.max(levers.get(control.id) ?? 0, way));
      way += Math.hypot(...control.rest);
    }
  }
  return levers;
}

/**
 * Fit channels so that the figure's ends stay within a distance of where they were at every frame. Each
 * rotation may be off by what its lever turns into that distance, all of them scaled by one factor; the
 * largest factor whose measured drift is within the distance is looked for. Channels above no end keep
 * their own tolerance.
 */
export async function fitInSpace(
  shot: Shot,
  scope: Scope,
  channels: readonly ChannelKey[],
  how: FitChannels,
  distance: number,
): Promise<Fits & { notes: string[]; warnings: string[] }> {
  const ends = endsOf(shot.rig);
  const levers = leversOf(shot.rig, ends);
  const toleranceAt = (factor: number) => (key: ChannelKey) => {
    const { control, channel } = splitChannelKey(key);
    const lever = levers.get(control);
    if (lever === undefined) return how.toleranceOf(key);
    const unit = channelUnit(channel);
    if (unit === "length") return factor * distance;
    // An end turns in its place, and no further than its own tolerance says.
    if (unit === "degrees") return lever > 0 ? Math.min(90, (factor * distance) / lever / DEG) : how.toleranceOf(key);
    return how.toleranceOf(key);
  };
  let best: Fits = { changed: {}, left: [] };
  let worst = 0;
  let low = 0;
  let high = Number.POSITIVE_INFINITY;
  let factor = 0.5;
  for (let n = 0; n < TRIES; n++) {
    const fits = await fitChannels(shot, scope, channels, {
      ...how,
      toleranceOf: toleranceAt(factor),
      breathe: (share) => how.breathe((n + share) / TRIES),
    });
    const after = changeCurves(shot, scope.layer, fits.changed);
    const drift = await measureDriftInPieces(shot, after, scope.range ?? shot.range, () => how.breathe((n + 0.9) / TRIES), {
      controls: ends,
    });
    if (drift.place.amount <= distance) {
      low = factor;
      best = fits;
      worst = drift.place.amount;
    } else high = factor;
    // Twice as loose while it holds, half-way (by ratio) once both sides are known.
    factor = high === Number.POSITIVE_INFINITY ? factor * 2 : low === 0 ? factor / 4 : Math.sqrt(low * high);
  }
  const names = ends.map((id) => controlById(shot.rig, id)?.name ?? id);
  const listed = names.length > 6 ? `${names.slice(0, 6).join(", ")} and ${names.length - 6} more` : names.join(", ");
  if (low === 0) return { ...best, notes: [], warnings: ["No fit keeps the ends within that distance; nothing was simplified."] };
  const stay = shot.unitMetres === null ? `${worst.toPrecision(3)} units` : `${(worst * shot.unitMetres * 1000).toFixed(1)} mm`;
  return { ...best, notes: [`${listed} stay within ${stay}.`], warnings: [] };
}
