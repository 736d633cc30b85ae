import type { FrameRange } from "../model/shot.ts";

/** What counts as a contact: an end that is slow and low. */
export interface ContactRule {
  /** Scene units a second. */
  readonly speed: number;
  /** Scene units above the lowest place of the end. */
  readonly height: number;
  /** Frames at the least. */
  readonly shortest: number;
}

/** How an end moves, frame by frame. */
export interface EndMotion {
  readonly start: number;
  /** Three numbers a frame. */
  readonly places: Float64Array;
  /** Scene units a second: the mean of the steps before and after a frame. */
  readonly speeds: Float64Array;
  /** Above the lowest place. */
  readonly heights: Float64Array;
}

/** Speeds and heights of an end from its places, three numbers a frame from `start` on. */
export function endMotion(places: Float64Array, start: number, fps: number): EndMotion {
  const count = places.length / 3;
  const step = (a: number, b: number) =>
    Math.hypot(places[3 * b] - places[3 * a], places[3 * b + 1] - places[3 * a + 1], places[3 * b + 2] - places[3 * a + 2]) * fps;
  let lowest = Number.POSITIVE_INFINITY;
  for (let n = 0; n < count; n++) lowest = Math.min(lowest, places[3 * n + 1]);
  const speeds = Float64Array.from({ length: count }, (_, n) => {
    const before = n > 0 ? step(n - 1, n) : null;
    const after = n < count - 1 ? step(n, n + 1) : null;
    return ((before ?? after ?? 0) + (after ?? before ?? 0)) / 2;
  });
  return { start, places, speeds, heights: Float64Array.from({ length: count }, (_, n) => places[3 * n + 1] - lowest) };
}

/** The spans over which an end is slow and low; one frame between two of them that is not does not part them. */
export function findContacts({ start, speeds, heights }: EndMotion, { speed, height, shortest }: ContactRule): FrameRange[] {
  const spans: { start: number; end: number }[] = [];
  for (let n = 0; n < speeds.length; n++) {
    if (speeds[n] > speed || heights[n] > height) continue;
    const last = spans[spans.length - 1];
    if (last && start + n - last.end <= 2) last.end = start + n;
    else spans.push({ start: start + n, end: start + n });
  }
  return spans.filter((span) => span.end - span.start + 1 >= shortest);
}
