import type { Player } from "../figure/player.ts";
import { worldAt } from "../figure/rigLayout.ts";
import { invertAffine, multiplyAffine } from "../maths/matrix.ts";
import type { FrameRange } from "../model/shot.ts";

/** An end's matrices, sixteen numbers a frame, in the frame of what it stands on (null: the world), over whole frames. Yields the share done. */
export function* endWorlds(
  player: Player,
  end: string,
  ground: string | null,
  { start, end: last }: FrameRange,
): Generator<number, Float64Array> {
  const out = new Float64Array(16 * (last - start + 1));
  const e = worldAt(player.controlIndex.get(end) as number);
  const inverse = new Float64Array(16);
  for (let frame = start; frame <= last; frame++) {
    if (frame % 64 === 0) yield (frame - start) / (last - start + 1);
    player.pose(frame);
    const o = 16 * (frame - start);
    if (ground === null) out.set(player.worlds.subarray(e, e + 16), o);
    else {
      invertAffine(inverse, 0, player.worlds, worldAt(player.controlIndex.get(ground) as number));
      multiplyAffine(out, o, inverse, 0, player.worlds, e);
    }
  }
  return out;
}

/** Where an end stands over a span, of its matrices from a first frame on: turned as in the middle of the span, at the mean of its places. */
export function placeOver(worlds: Float64Array, first: number, { start, end }: FrameRange): number[] {
  const middle = Math.round((start + end) / 2) - first;
  const place = [...worlds.subarray(16 * middle, 16 * middle + 16)];
  for (let k = 12; k < 15; k++) {
    let sum = 0;
    for (let frame = start; frame <= end; frame++) sum += worlds[16 * (frame - first) + k];
    place[k] = sum / (end - start + 1);
  }
  return place;
}
