import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import type { Pass, Shot } from "../../src/model/shot.ts";
import { makePass } from "../../src/model/shotFields.ts";

/** A computed pass with these settings. */
export const passFor = (kind: string, settings: Record<string, unknown>, more: Partial<Pass> = {}): Pass => ({
  ...makePass(kind, kind, kind),
  settings,
  ...more,
});

/** Final values of a channel at whole frames. */
export function played(shot: Shot, key: string): number[] {
  const player = makePlayer(shot);
  const at = player.channelIndex.get(key) as number;
  const values: number[] = [];
  for (let frame = shot.range.start; frame <= shot.range.end; frame++) {
    player.readValues(frame);
    values.push(player.values[at]);
  }
  return values;
}
