import { cycleOf, ghostTimes, type KeyPose, type Shot } from "@kneader/core";

/** The poses of extra rounds that a shot's run-in and run-out show in a window of frames. */
export function ghostPoses(shot: Shot, poses: readonly KeyPose[], window: { start: number; end: number }): KeyPose[] {
  const cycle = cycleOf(shot.base);
  if (!cycle) return [];
  const inside = poses.map(({ frame }) => frame).filter((frame) => frame >= cycle.first && frame <= cycle.last);
  const taken = new Set(poses.map(({ frame }) => frame));
  return ghostTimes(inside, cycle, window.start, window.end)
    .map(({ time }) => ({ frame: Math.round(time), controls: 0 }))
    .filter(({ frame }) => !taken.has(frame));
}
