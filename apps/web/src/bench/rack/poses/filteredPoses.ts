import { channelKey, figureControls, type KeyPose, type Rig, sampleCurve, type Shot } from "@kneader/core";

/** The filter for poses that have a name. */
export const NAMED = "named";

/** The parts of the body of a rig, in the order in which they stand in it. */
export function partsOf(rig: Rig): string[] {
  return [...new Set(figureControls(rig).map(({ part }) => part))].filter(Boolean);
}

/** A change smaller than this (degrees, units) is none. */
const SEEN = 1e-4;

/** The key poses that are named, or at which a part of the body is otherwise than in the pose before; all without a filter. */
export function filteredPoses(shot: Shot, poses: readonly KeyPose[], filter: string | null): readonly KeyPose[] {
  if (filter === null) return poses;
  if (filter === NAMED) {
    const named = new Set(shot.poseMarks.filter(({ name }) => name !== "").map(({ frame }) => frame));
    return poses.filter(({ frame }) => named.has(frame));
  }
  const curves = shot.rig.controls
    .filter(({ part }) => part === filter)
    .flatMap(({ id, channels }) => channels.map((channel) => shot.base[channelKey(id, channel)]))
    .filter((curve) => curve !== undefined);
  // A rig without such a part has nothing to filter by.
  if (curves.length === 0) return poses;
  return poses.filter(
    ({ frame }, i) =>
      i === 0 || curves.some((curve) => Math.abs(sampleCurve(curve, frame) - sampleCurve(curve, poses[i - 1].frame)) > SEEN),
  );
}
