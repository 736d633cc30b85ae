import { z } from "zod";
import { placesOf, unionOfTimes, wholeFramesOf } from "../../curve/timeRows.ts";
import type { ChannelKey } from "../../model/rig.ts";
import { splitChannelKey } from "../../model/rig.ts";
import { layerCurves, type Shot } from "../../model/shot.ts";
import type { Scope } from "../operation.ts";
import { curvesInScope } from "../shared/scope.ts";

/** The setting of operations that work on key poses: how many of the moving controls make one, in percent. */
export const poseShare = z
  .number()
  .min(0)
  .max(100)
  .default(50)
  .meta({ title: "A pose has keys on", unit: "percent", step: 5, help: "Of the controls that move." });

/** A frame at which the figure is posed, and how many of its moving controls have a key there. */
export interface KeyPose {
  readonly frame: number;
  readonly controls: number;
}

/**
 * The key poses of a layer: frames at which at least `share` (0..1) of the controls that move have a
 * key. Controls with a single key do not count, as they do not move.
 */
export function findPoses(shot: Shot, scope: Scope, share: number): KeyPose[] {
  const curves = layerCurves(shot, scope.layer);
  const framesOf = new Map<string, Float64Array[]>();
  // Captured curves share their times; what is shared stays shared when rounded.
  const rounded = new Map<Float64Array, Float64Array>();
  for (const key of curvesInScope(shot, scope)) {
    const { times } = curves[key];
    if (times.length < 2) continue;
    const { control } = splitChannelKey(key);
    const rows = framesOf.get(control) ?? [];
    const frames = rounded.get(times) ?? wholeFramesOf(times);
    rounded.set(times, frames);
    rows.push(frames);
    framesOf.set(control, rows);
  }
  const controls = [...framesOf.values()].map(unionOfTimes);
  const frames = unionOfTimes(controls);
  const keyed = new Uint16Array(frames.length);
  const sharing = new Map<Float64Array, number>();
  for (const row of controls) sharing.set(row, (sharing.get(row) ?? 0) + 1);
  for (const [row, count] of sharing)
    placesOf(row, frames, (at) => {
      keyed[at] += count;
    });
  const least = Math.max(1, Math.ceil(controls.length * share));
  const poses: KeyPose[] = [];
  for (let i = 0; i < frames.length; i++) if (keyed[i] >= least) poses.push({ frame: frames[i], controls: keyed[i] });
  return poses;
}

/** Times of all keys of some channels of a layer, each once, in order. */
export function keyTimes(shot: Shot, layer: string, channels: readonly ChannelKey[]): number[] {
  const curves = layerCurves(shot, layer);
  return [...unionOfTimes(channels.filter((key) => key in curves).map((key) => curves[key].times))];
}
