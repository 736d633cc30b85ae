import type { KeyPose } from "@kneader/core";
import { frameAt, xOf } from "../../timeAxis.ts";

type Axis = { readonly start: number; readonly end: number; readonly width: number };

/** A pose as laid out in the tray: at its frame, its picture where there is room for it. */
export interface PosePlace {
  readonly frame: number;
  /** Pixel of its frame. */
  readonly x: number;
  /** Left edge of its picture, or null when it has none. */
  readonly picture: number | null;
}

export const PICTURE_WIDTH = 42;
/** How far outside the tray (pixels) a pose still reaches into it. */
const OUTSIDE = 60;

/** Index of the first pose at or after a frame. */
function firstFrom(poses: readonly KeyPose[], frame: number): number {
  let low = 0;
  let high = poses.length;
  while (low < high) {
    const middle = (low + high) >>> 1;
    if (poses[middle].frame < frame) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** Indices `from`–`to` of the poses in sight, and of those just outside. */
function inSight(poses: readonly KeyPose[], axis: Axis): { from: number; to: number } {
  return { from: firstFrom(poses, frameAt(axis, -OUTSIDE)), to: firstFrom(poses, frameAt(axis, axis.width + OUTSIDE)) };
}

/**
 * Lay poses out: every pose keeps its dot; pictures are placed from the most important pose (the chosen one,
 * then the ends, then those keyed on most controls) and are left out where they would overlap.
 */
export function layPoses(poses: readonly KeyPose[], axis: Axis, chosen: number): PosePlace[] {
  const { from, to } = inSight(poses, axis);
  const rank = (pose: KeyPose) => (pose.frame === chosen ? 2 : pose === poses[0] || pose === poses[poses.length - 1] ? 1 : 0);
  const before = (a: KeyPose, b: KeyPose) => rank(b) - rank(a) || b.controls - a.controls || a.frame - b.frame;
  const many = crowded(to - from, axis.width);
  // Where poses are crowded one of each few frames can have a picture, and none has a dot. The frames are
  // counted from zero, not from the edge of the tray, so that panning shows the same pictures all along.
  const cell = many ? roundStep(((PICTURE_WIDTH + 2) / axis.width) * (axis.end - axis.start)) : 0;
  const seen: KeyPose[] = [];
  let last = Number.NaN;
  for (let i = from; i < to; i++) {
    const here = Math.floor(poses[i].frame / cell);
    if (!many || here !== last) seen.push(poses[i]);
    else if (before(poses[i], seen[seen.length - 1]) < 0) seen[seen.length - 1] = poses[i];
    last = here;
  }
  const taken: number[] = [];
  const pictures = new Map<number, number>();
  for (const pose of [...seen].sort(before)) {
    const x = xOf(axis, pose.frame);
    if (x < -PICTURE_WIDTH || x > axis.width + PICTURE_WIDTH) continue;
    const left = x - PICTURE_WIDTH / 2;
    if (taken.some((other) => Math.abs(other - left) < PICTURE_WIDTH + 2)) continue;
    taken.push(left);
    pictures.set(pose.frame, left);
  }
  const places = seen.map(({ frame }) => ({ frame, x: xOf(axis, frame), picture: pictures.get(frame) ?? null }));
  return many ? places.filter(({ picture }) => picture !== null) : places;
}

/** The next round number: 1, 2, 5, 10, 20, 50 … */
function roundStep(least: number): number {
  const power = 10 ** Math.floor(Math.log10(Math.max(1, least)));
  return [1, 2, 5, 10].map((step) => step * power).find((step) => step >= least) ?? 1;
}

/** Do so many poses stand so close that neither their dots nor their gaps could be told apart? */
function crowded(count: number, width: number): boolean {
  return count > 2 && count > width / 6;
}

/** The gap between two neighbouring poses, where it can be seen. */
export interface GapPlace {
  readonly from: number;
  readonly to: number;
  readonly left: number;
  readonly width: number;
}

/** The gaps in sight; none where poses are crowded. */
export function layGaps(poses: readonly KeyPose[], axis: Axis): GapPlace[] {
  const { from, to } = inSight(poses, axis);
  if (crowded(to - from, axis.width)) return [];
  const gaps: GapPlace[] = [];
  for (let i = Math.max(0, from - 1); i < to && i + 1 < poses.length; i++) {
    const left = xOf(axis, poses[i].frame);
    const right = xOf(axis, poses[i + 1].frame);
    if (right >= 0 && left <= axis.width) gaps.push({ from: poses[i].frame, to: poses[i + 1].frame, left, width: right - left });
  }
  return gaps;
}
