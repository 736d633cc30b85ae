import type { ChannelKey } from "../model/rig.ts";
import { splitChannelKey } from "../model/rig.ts";
import { layerCurves, type Shot } from "../model/shot.ts";
import type { Scope } from "./operation.ts";
import { scopedChannels } from "./scope.ts";

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
  const channels = scopedChannels(shot, scope);
  const curves = layerCurves(shot, scope.layer);
  const moving = channels.filter((key) => curves[key].times.length > 1);
  const at = new Map<number, Set<string>>();
  const controls = new Set<string>();
  for (const key of moving) {
    const { control } = splitChannelKey(key);
    controls.add(control);
    for (const time of curves[key].times) {
      const frame = Math.round(time);
      const set = at.get(frame);
      if (set) set.add(control);
      else at.set(frame, new Set([control]));
    }
  }
  const least = Math.max(1, Math.ceil(controls.size * share));
  return [...at]
    .filter(([, set]) => set.size >= least)
    .map(([frame, set]) => ({ frame, controls: set.size }))
    .sort((a, b) => a.frame - b.frame);
}

/** Times of all keys of some channels of a layer, each once, in order. */
export function keyTimes(shot: Shot, layer: string, channels: readonly ChannelKey[]): number[] {
  const curves = layerCurves(shot, layer);
  const times = new Set<number>();
  for (const key of channels) for (const time of curves[key]?.times ?? []) times.add(time);
  return [...times].sort((a, b) => a - b);
}
