import { makePlayer } from "../../evaluate/makePlayer.ts";
import { sampleCurve } from "../../curve/track.ts";
import type { PoseValues } from "../../figure/mirror.ts";
import { BASE, layerCurves, type Shot } from "../../model/shot.ts";
import { replacingPass } from "./firstCurves.ts";

/**
 * A layer's own values at frames. Channels without a curve have their rest value in base motion, in a replacing pass what
 * is below it; in other passes there are none of them.
 */
export function layerPoses(shot: Shot, layer: string): (frame: number) => PoseValues {
  const curves = layerCurves(shot, layer);
  const player = layer === BASE || replacingPass(shot, layer) ? makePlayer(shot, { below: layer }) : null;
  const keys = player ? [...player.channelIndex] : [];
  return (frame) => {
    player?.readValues(frame);
    const values: PoseValues = player ? Object.fromEntries(keys.map(([key, i]) => [key, player.values[i]])) : {};
    if (layer !== BASE) for (const key in curves) values[key] = sampleCurve(curves[key], frame);
    return values;
  };
}

export const layerPose = (shot: Shot, layer: string, frame: number): PoseValues => layerPoses(shot, layer)(frame);
