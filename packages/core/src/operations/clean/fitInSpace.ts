import { type ChannelKey, controlById } from "../../model/rig.ts";
import type { Shot } from "../../model/shot.ts";
import type { Scope } from "../operation.ts";
import type { FitChannels, Fits } from "./fitChannels.ts";
import { endsOf } from "./levers.ts";
import { SpaceSearch } from "./spaceSearch.ts";

/**
 * Fit channels so that the figure's ends stay within a distance of where they were at every frame, however the curves share
 * it (see `SpaceSearch`). Channels above no end keep their own tolerance.
 */
export async function fitInSpace(
  shot: Shot,
  scope: Scope,
  channels: readonly ChannelKey[],
  how: FitChannels,
  distance: number,
): Promise<Fits & { notes: string[]; warnings: string[] }> {
  const found = await new SpaceSearch(shot, scope, how, distance).find(channels);
  if (!found) {
    const warnings = ["No fit keeps the ends within that distance; nothing was simplified."];
    return { changed: {}, left: [], notes: [], warnings };
  }
  const names = endsOf(shot.rig).map((id) => controlById(shot.rig, id)?.name ?? id);
  const listed = names.length > 6 ? `${names.slice(0, 6).join(", ")} and ${names.length - 6} more` : names.join(", ");
  const { worst, fits } = found;
  const stay = shot.unitMetres === null ? `${worst.toPrecision(3)} units` : `${(worst * shot.unitMetres * 1000).toFixed(1)} mm`;
  return { ...fits, notes: [`${listed} stay within ${stay}.`], warnings: [] };
}
