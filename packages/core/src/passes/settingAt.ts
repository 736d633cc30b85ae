import { sampleTrack, trackOf } from "../curve/track.ts";
import { warpTimes } from "../curve/warpTimes.ts";
import { channelKey } from "../model/rig.ts";
import type { Pass } from "../model/shot.ts";

/** A number among a pass's settings over time: its keys where it has any, else what the settings say. */
export function settingOverTime(pass: Pass, own: string, name: string, fixed: number): (frame: number) => number {
  const curve = pass.curves[channelKey(own, name)];
  if (!curve || curve.times.length === 0) return () => fixed;
  const track = trackOf(curve);
  return (frame) => sampleTrack(track, frame);
}

/** Settings over time with their keys taken where the frames went. */
export function retimedSettings(pass: Pass, to: (frame: number) => number): Pass {
  const curves = Object.fromEntries(Object.entries(pass.curves).map(([key, curve]) => [key, warpTimes(curve, to)]));
  return { ...pass, curves };
}
