import type { FrameRange } from "../../model/shot.ts";
import type { Situation } from "../operation.ts";
import { findPoses } from "./poses.ts";

/** Frames of the key poses as they are where the user stands. */
export const posesThere = ({ shot, scope, poseShare }: Pick<Situation, "shot" | "scope" | "poseShare">): number[] =>
  findPoses(shot, { ...scope, keys: null }, poseShare).map(({ frame }) => frame);

/**
 * The gap a frame stands in: between the last pose that is not later and the next one; before the first pose the first gap,
 * from the last pose on the last one. Null where there are not two poses.
 */
export function gapAt(poses: readonly number[], frame: number): FrameRange | null {
  if (poses.length < 2) return null;
  const later = poses.findIndex((pose) => pose > frame + 1e-6);
  const next = later < 0 ? poses.length - 1 : Math.max(1, later);
  return { start: poses[next - 1], end: poses[next] };
}

/** The pose nearest to a frame, of two the earlier; the frame itself where there is none. */
export function poseNear(poses: readonly number[], frame: number): number {
  return poses.reduce(
    (best, pose) => (Math.abs(pose - frame) < Math.abs(best - frame) - 1e-9 ? pose : best),
    poses[0] ?? Math.round(frame),
  );
}

/** How long a pose is held where nothing else is said: as long as the gap after it, at the last one as the gap before; usual where there is neither. */
export function holdLength(poses: readonly number[], frame: number, usual: number): number {
  const gap = gapAt(poses, frame);
  return gap ? Math.max(1, Math.round(gap.end - gap.start)) : usual;
}
