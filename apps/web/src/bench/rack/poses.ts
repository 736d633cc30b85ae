import type { KeyPose } from "@kneader/core";

/** A pose as laid out in the tray: at its frame, its picture where there is room for it. */
export interface PosePlace {
  readonly frame: number;
  /** Pixel of its frame. */
  readonly x: number;
  /** Left edge of its picture, or null when it has none. */
  readonly picture: number | null;
}

export const PICTURE_WIDTH = 42;

/**
 * Lay poses out: every pose keeps its dot; pictures are placed from the most important pose (ends, then
 * those keyed on most controls, then the chosen one first of all) and are left out where they would overlap.
 */
export function layPoses(poses: readonly KeyPose[], xOf: (frame: number) => number, width: number, chosen: number): PosePlace[] {
  const taken: [number, number][] = [];
  const pictures = new Map<number, number>();
  const ends = (pose: KeyPose) => Number(pose === poses[0] || pose === poses[poses.length - 1]);
  const seen = poses.map((pose) => ({ pose, x: xOf(pose.frame) })).filter(({ x }) => x > -60 && x < width + 60);
  const order = [...seen].sort(
    ({ pose: a }, { pose: b }) =>
      Number(b.frame === chosen) - Number(a.frame === chosen) || ends(b) - ends(a) || b.controls - a.controls || a.frame - b.frame,
  );
  for (const { pose, x } of order) {
    if (x < -PICTURE_WIDTH || x > width + PICTURE_WIDTH) continue;
    const left = x - PICTURE_WIDTH / 2;
    if (taken.some(([from, to]) => left < to + 2 && left + PICTURE_WIDTH > from - 2)) continue;
    taken.push([left, left + PICTURE_WIDTH]);
    pictures.set(pose.frame, left);
  }
  const places = seen.map(({ pose, x }) => ({ frame: pose.frame, x, picture: pictures.get(pose.frame) ?? null }));
  return crowded(places.length, width) ? places.filter(({ picture }) => picture !== null) : places;
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
export function layGaps(poses: readonly KeyPose[], xOf: (frame: number) => number, width: number): GapPlace[] {
  const gaps: GapPlace[] = [];
  for (let i = 0; i + 1 < poses.length; i++) {
    const left = xOf(poses[i].frame);
    const right = xOf(poses[i + 1].frame);
    if (right < 0 || left > width) continue;
    gaps.push({ from: poses[i].frame, to: poses[i + 1].frame, left, width: right - left });
  }
  return crowded(gaps.length, width) ? [] : gaps;
}
