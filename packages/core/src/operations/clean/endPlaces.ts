import { makePlayer } from "../../evaluate/makePlayer.ts";
import { placeAt } from "../../figure/rigLayout.ts";
import type { FrameRange, Shot } from "../../model/shot.ts";

/** Where controls are at each whole frame of a range: three numbers a control, all of a frame together. In pieces: yields the share done. */
export function* endPlaces(shot: Shot, { start, end }: FrameRange, controls: readonly string[]): Generator<number, Float64Array> {
  const player = makePlayer(shot);
  const indices = controls.map((id) => player.controlIndex.get(id) as number);
  const first = Math.ceil(start);
  const count = Math.floor(end) - first + 1;
  const places = new Float64Array(3 * indices.length * count);
  for (let f = 0, o = 0; f < count; f++) {
    player.pose(first + f);
    for (const i of indices) {
      const at = placeAt(i);
      places[o++] = player.worlds[at];
      places[o++] = player.worlds[at + 1];
      places[o++] = player.worlds[at + 2];
    }
    if (f % 64 === 63) yield f / count;
  }
  return places;
}
