import { placeAt } from "../figure/rigLayout.ts";
import type { Shot } from "../model/shot.ts";
import { makePlayer } from "./makePlayer.ts";

/** The way a control's place goes through the world: three numbers a frame. */
export interface ArcPath {
  readonly control: string;
  readonly frames: Float64Array;
  readonly places: Float64Array;
}

/** The paths of controls over frames, as seen: all passes and what leads them. Controls that are not there are left out. */
export function arcPaths(shot: Shot, controls: readonly string[], frames: Float64Array): ArcPath[] {
  const player = makePlayer(shot, { only: controls });
  const known = controls.filter((control) => player.controlIndex.has(control));
  const at = known.map((control) => placeAt(player.controlIndex.get(control) as number));
  const places = known.map(() => new Float64Array(frames.length * 3));
  for (let n = 0; n < frames.length; n++) {
    player.pose(frames[n]);
    for (let c = 0; c < at.length; c++) for (let k = 0; k < 3; k++) places[c][n * 3 + k] = player.worlds[at[c] + k];
  }
  return known.map((control, c) => ({ control, frames, places: places[c] }));
}
