import { makePlayer } from "../evaluate/makePlayer.ts";
import { channelKey, figureControls, type JointRanges } from "../model/rig.ts";
import type { Shot } from "../model/shot.ts";
import { learnedRange } from "./costs/joints.ts";

/** How far the joints of the figure turn in a shot, all layers together, but for what is rare in it, and some room; whole degrees. */
export function learnRanges(shot: Shot): Record<string, JointRanges> {
  const { start, end } = shot.range;
  const player = makePlayer(shot);
  const joints = figureControls(shot.rig)
    .filter(({ role, parent }) => role === "figure" && parent !== null)
    .flatMap(({ id, channels }) => channels.filter((channel) => channel.startsWith("rotate")).map((channel) => ({ id, channel })));
  const turns = joints.map(() => new Float64Array(end - start + 1));
  const indices = joints.map(({ id, channel }) => player.channelIndex.get(channelKey(id, channel)) as number);
  for (let f = 0; f <= end - start; f++) {
    player.readValues(start + f);
    for (const [j, index] of indices.entries()) turns[j][f] = player.values[index];
  }
  const ranges: Record<string, Record<string, readonly [number, number]>> = {};
  for (const [j, { id, channel }] of joints.entries()) {
    const [low, high] = learnedRange(turns[j]);
    ranges[id] = { ...ranges[id], [channel]: [Math.floor(low), Math.ceil(high)] };
  }
  return ranges;
}
