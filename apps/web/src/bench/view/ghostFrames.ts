import type { FrameRange } from "@kneader/core";

interface GhostWish {
  readonly ghostBy: "poses" | "every" | "frames";
  readonly ghostEvery: number;
  readonly ghostsBefore: number;
  readonly ghostsAfter: number;
  readonly ghostFrames: readonly number[];
}

/** Where a key on every frame has no key poses to speak of, ghosts stand so many frames away. */
const DENSE_STEP = 6;

/** The frames drawn pale beside one: neighbouring key poses, every so many frames, or chosen ones; within the shot. */
export function ghostFrames(frame: number, { start, end }: FrameRange, poses: readonly number[], wish: GhostWish): number[] {
  const within = (at: number) => at >= start && at <= end && at !== frame;
  if (wish.ghostBy === "frames") return wish.ghostFrames.filter(within);
  const { ghostsBefore, ghostsAfter } = wish;
  const isDense = poses.length < 2 || poses.length > (end - start) * 0.6;
  if (wish.ghostBy === "every" || isDense) {
    const step = wish.ghostBy === "every" ? Math.max(1, wish.ghostEvery) : DENSE_STEP;
    const away = (count: number, sign: number) => Array.from({ length: count }, (_, n) => frame + sign * step * (n + 1));
    return [...away(ghostsBefore, -1), ...away(ghostsAfter, 1)].filter(within);
  }
  const before = poses.filter((at) => at < frame);
  const after = poses.filter((at) => at > frame);
  return [...before.slice(Math.max(0, before.length - ghostsBefore)), ...after.slice(0, ghostsAfter)].filter(within);
}
