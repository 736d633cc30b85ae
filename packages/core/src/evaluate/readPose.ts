import type { PoseValues } from "../figure/mirror.ts";
import type { Shot } from "../model/shot.ts";
import { makePlayer } from "./makePlayer.ts";

/** The channel values of a frame, all layers together or those below one. */
export function readPose(shot: Shot, frame: number, below?: string): PoseValues {
  const player = makePlayer(shot, { below });
  player.readValues(frame);
  return Object.fromEntries([...player.channelIndex].map(([key, i]) => [key, player.values[i]]));
}
