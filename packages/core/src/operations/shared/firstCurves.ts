import type { Curve } from "../../curve/curve.ts";
import { curveFromSamples } from "../../curve/bakeValues.ts";
import { makePlayer } from "../../evaluate/makePlayer.ts";
import { type ChannelKey, channelKey, rotateChannels, splitChannelKey } from "../../model/rig.ts";
import { BASE, layerCurves, type Pass, type Shot, withLayerCurves } from "../../model/shot.ts";
import { activePasses } from "../../passes/active.ts";
import { computedKind, passKind } from "../../passes/kinds.ts";
import { changedBy } from "../../passes/members.ts";
import { keyedAlike, withKeysOf } from "./existingKeys.ts";

/** The pass of a layer when it takes the place of what is below it. */
export function replacingPass(shot: Shot, layer: string): Pass | null {
  const pass = layer === BASE ? undefined : shot.passes.find(({ id }) => id === layer);
  const kind = passKind(pass?.kind ?? "");
  return pass && kind?.reads === "keys" && kind.neutral(1) !== 0 ? pass : null;
}

/** The channels of a replacing pass that a first key would bring in: those meant, and all angles of a control where angles go together. */
export function firstChannels(shot: Shot, layer: string, keys: readonly ChannelKey[]): ChannelKey[] {
  const pass = replacingPass(shot, layer);
  if (!pass) return [];
  const meant = keys.flatMap((key) => {
    const { control, channel } = splitChannelKey(key);
    return pass.compose === "rotation" && channel.startsWith("rotate") ? rotateChannels.map((angle) => channelKey(control, angle)) : [key];
  });
  return [...new Set(meant)].filter((key) => !(key in pass.curves) && !shot.locked.includes(key));
}

/**
 * A replacing pass with curves for channels that it does not have yet: what is below as it plays over the shot, on the
 * keys there are, or on every frame where a pass below is worked out. A first key then changes what it is meant to
 * change and does not flatten the rest. Every other layer is answered as it is.
 */
export function withFirstCurves(shot: Shot, layer: string, keys: readonly ChannelKey[]): Shot {
  const channels = firstChannels(shot, layer, keys);
  if (channels.length === 0) return shot;
  const at = shot.passes.findIndex(({ id }) => id === layer);
  const below = activePasses(shot).filter((pass) => shot.passes.indexOf(pass) < at);
  const player = makePlayer(shot, { below: layer });
  const start = Math.floor(shot.range.start);
  const dense = channels.filter((key) => below.some((pass) => computedKind(pass.kind) && changedBy(shot, pass).includes(key)));
  // Where no pass below has a say, base motion itself is what plays there: to the bit, in all its rounds.
  const plain = channels.filter((key) => key in shot.base && !below.some((pass) => changedBy(shot, pass).includes(key)));
  const sparse = channels.filter((key) => !dense.includes(key) && !plain.includes(key));
  const samples = new Map(dense.map((key) => [key, new Float64Array(Math.ceil(shot.range.end) - start + 1)]));
  const read = (frame: number, n: number, into: ReadonlyMap<ChannelKey, Float64Array>) => {
    player.readValues(frame);
    for (const [key, values] of into) values[n] = player.values[player.channelIndex.get(key) as number];
  };
  if (dense.length > 0) for (let n = 0; n <= Math.ceil(shot.range.end) - start; n++) read(start + n, n, samples);
  const curves: Record<ChannelKey, Curve> = { ...layerCurves(shot, layer) };
  for (const key of plain) curves[key] = shot.base[key];
  for (const [key, values] of samples) curves[key] = curveFromSamples(start, values);
  for (const [key, curve] of keyedAlike(new Map(sparse.map((key) => [key, withKeysOf(shot, below, key)])), read)) curves[key] = curve;
  return withLayerCurves(shot, layer, curves);
}
