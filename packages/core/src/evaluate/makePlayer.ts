import { carriedByTies, ruledControls } from "../constraints/ledControls.ts";
import type { Shot } from "../model/shot.ts";
import type { Player, PlayerOptions } from "../figure/player.ts";
import { poseStage, readStage } from "./pose.ts";
import { makeStage } from "./stage.ts";

export type { Player } from "../figure/player.ts";

export function makePlayer(shot: Shot, options: PlayerOptions = {}): Player {
  const stage = makeStage(shot, options, makePlayer);
  const { channelIndex, controlIndex, values, turns, worlds } = stage;
  return {
    shot,
    channelIndex,
    controlIndex,
    values,
    turns,
    worlds,
    led: options.free ? new Set() : carriedByTies(shot),
    ruledAt: (frame) => (options.free ? new Set() : ruledControls(shot, frame)),
    pose: (frame) => poseStage(stage, frame),
    readValues: (frame) => readStage(stage, frame),
  };
}
