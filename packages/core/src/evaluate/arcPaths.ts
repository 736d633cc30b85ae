import { placeAt } from "../figure/rigLayout.ts";
import type { Shot } from "../model/shot.ts";
import { changedSpan } from "./changedSpan.ts";
import { makePlayer } from "./makePlayer.ts";

/** The way a control's place goes through the world: three numbers a frame. */
export interface ArcPath {
  readonly control: string;
  readonly frames: Float64Array;
  readonly places: Float64Array;
}

/**
 * The paths of controls over frames, as seen: all passes and what leads them. Controls that are not there are left out.
 * Where an earlier state of the shot is `known`, of the same controls over the same frames, only those are worked out that
 * may differ.
 */
export function arcPaths(
  shot: Shot,
  controls: readonly string[],
  frames: Float64Array,
  known?: { readonly shot: Shot; readonly paths: readonly ArcPath[] },
): ArcPath[] {
  const span = known ? changedSpan(known.shot, shot) : "all";
  if (known && span === null) return [...known.paths];
  const player = makePlayer(shot, { only: controls });
  const there = controls.filter((control) => player.controlIndex.has(control));
  const at = there.map((control) => placeAt(player.controlIndex.get(control) as number));
  const places = there.map((_, c) => known?.paths[c]?.places.slice() ?? new Float64Array(frames.length * 3));
  for (let n = 0; n < frames.length; n++) {
    if (span !== "all" && span !== null && (frames[n] < span.start || frames[n] > span.end)) continue;
    player.pose(frames[n]);
    for (let c = 0; c < at.length; c++) for (let k = 0; k < 3; k++) places[c][n * 3 + k] = player.worlds[at[c] + k];
  }
  return there.map((control, c) => ({ control, frames, places: places[c] }));
}
