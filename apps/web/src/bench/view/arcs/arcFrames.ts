import type { FrameRange } from "@kneader/core";

export type ArcOver = "shot" | "range" | "around";

/** More frames than this are not drawn one by one. */
const MOST = 1500;

/** The frames an arc is drawn over: the shot, the marked range, or so many around the playhead; whole frames. */
export function arcFrames(over: ArcOver, shot: FrameRange, marked: FrameRange | null, frame: number, around: number): Float64Array {
  const beside = { start: Math.max(shot.start, frame - around), end: Math.min(shot.end, frame + around) };
  const { start, end } = over === "range" && marked ? marked : over === "around" ? beside : shot;
  const [first, last] = [Math.ceil(start), Math.max(Math.ceil(start), Math.floor(end))];
  const step = Math.max(1, Math.ceil((last - first) / MOST));
  return Float64Array.from({ length: Math.max(1, Math.floor((last - first) / step) + 1) }, (_, n) => first + n * step);
}
