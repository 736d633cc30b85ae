import type { PassRange } from "../model/shot.ts";

/** How much of a pass its range lets through at a frame: 0 outside, 1 inside, eased at the ends. */
export function envelope(range: PassRange | null, frame: number): number {
  if (range === null) return 1;
  if (frame < range.start || frame > range.end) return 0;
  const comingIn = range.easeIn > 0 ? (frame - range.start) / range.easeIn : 1;
  const goingOut = range.easeOut > 0 ? (range.end - frame) / range.easeOut : 1;
  const x = Math.min(1, comingIn, goingOut);
  return x * x * (3 - 2 * x);
}
