import { findPoses, type KeyPose, type Shot, WHOLE_FIGURE } from "@kneader/core";

const known = new WeakMap<object, Map<number, KeyPose[]>>();

/** The key poses of base motion, found once for each state of its curves whoever asks. */
export function keyPoses(shot: Shot, share: number): readonly KeyPose[] {
  let byShare = known.get(shot.base);
  if (!byShare) {
    byShare = new Map();
    known.set(shot.base, byShare);
  }
  let poses = byShare.get(share);
  if (!poses) {
    poses = findPoses(shot, WHOLE_FIGURE, share);
    byShare.set(share, poses);
  }
  return poses;
}
