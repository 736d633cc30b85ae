import { keysBeside } from "../../curve/someKeys.ts";
import { makePlayer, type Player } from "../../evaluate/makePlayer.ts";
import { sampleCurve } from "../../curve/track.ts";
import type { PoseValues } from "../../figure/mirror.ts";
import { BASE, layerCurves, type Shot } from "../../model/shot.ts";
import { replacingPass } from "./firstCurves.ts";

/**
 * A layer's own values at some frames. Channels without a curve have their rest value in base motion, in a replacing pass what
 * is below it; in other passes there are none of them.
 */
export function layerPoses(shot: Shot, layer: string, frames: readonly number[]): (frame: number) => PoseValues {
  const curves = layerCurves(shot, layer);
  const player = layer === BASE ? basePlayer(shot, frames) : replacingPass(shot, layer) ? makePlayer(shot, { below: layer }) : null;
  const keys = player ? [...player.channelIndex] : [];
  return (frame) => {
    player?.readValues(frame);
    const values: PoseValues = player ? Object.fromEntries(keys.map(([key, i]) => [key, player.values[i]])) : {};
    if (layer !== BASE) for (const key in curves) values[key] = sampleCurve(curves[key], frame);
    return values;
  };
}

/** Plays base motion at a few frames: long curves are not made ready as a whole for those. */
function basePlayer(shot: Shot, frames: readonly number[]): Player {
  const base = Object.fromEntries(Object.entries(shot.base).map(([key, curve]) => [key, keysBeside(curve, frames)]));
  return makePlayer({ ...shot, base }, { below: BASE });
}

export const layerPose = (shot: Shot, layer: string, frame: number): PoseValues => layerPoses(shot, layer, [frame])(frame);
