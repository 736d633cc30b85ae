import type { Curve } from "../curve/curve.ts";
import { constantCurve } from "../curve/make.ts";
import type { ChannelKey } from "../model/rig.ts";
import { type Shot, withPass } from "../model/shot.ts";
import { passOf } from "../passes/editPasses.ts";
import { passKind } from "../passes/kinds.ts";
import { passMembers } from "../passes/members.ts";
import { makePlayer } from "./makePlayer.ts";

/** Channels a pass may work on from now on. A keyed pass gets a key on each that changes nothing, at a frame. */
export function addMembers(shot: Shot, id: string, channels: readonly ChannelKey[], frame: number): Shot {
  const pass = passOf(shot, id);
  const kind = passKind(pass.kind);
  if (kind?.reads !== "keys") {
    const members = new Set([...passMembers(shot, pass), ...channels]);
    return withPass(shot, id, (p) => ({ ...p, members: [...members] }));
  }
  const player = makePlayer(shot, { below: id });
  player.readValues(frame);
  const curves: Record<ChannelKey, Curve> = { ...pass.curves };
  for (const key of channels) {
    const at = player.channelIndex.get(key);
    if (at !== undefined) curves[key] ??= constantCurve(kind.neutral(player.values[at]), frame);
  }
  return withPass(shot, id, (p) => ({ ...p, curves }));
}

/** The keys of a replacing pass on channels: what is seen at a frame now, so that it starts from there and not from rest. */
export function fillFromResult(shot: Shot, id: string, channels: readonly ChannelKey[], frame: number): Shot {
  const player = makePlayer(shot);
  player.readValues(frame);
  const curves: Record<ChannelKey, Curve> = { ...passOf(shot, id).curves };
  for (const key of channels) {
    const at = player.channelIndex.get(key);
    if (at !== undefined) curves[key] ??= constantCurve(player.values[at], frame);
  }
  return withPass(shot, id, (p) => ({ ...p, curves }));
}
