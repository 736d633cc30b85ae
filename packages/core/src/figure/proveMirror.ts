import type { Rig } from "../model/rig.ts";
import { checkMirror } from "./checkMirror.ts";
import { makeMirrorer, type MirrorOptions, type PoseValues } from "./mirror.ts";

/** How far a control's mirror image is off, and at which of the poses that is worst. */
export interface MirrorProof {
  /** From the reflected place of its partner, scene units, and from its turn, degrees: in the rest pose. */
  readonly restDistance: number;
  readonly restTurn: number;
  /** The same in the worst of the poses. */
  readonly distance: number;
  readonly turn: number;
  /** The number of that pose; −1 when there is none. */
  readonly worst: number;
}

/**
 * Proves how a rig is mirrored, control by control, in its rest pose and in poses: each must land on the reflection of its
 * partner, turned as that is. Controls that are not mirrored are not judged.
 */
export function proveMirror(rig: Rig, poses: Iterable<PoseValues>, options?: MirrorOptions): Map<string, MirrorProof> {
  const mirrorer = makeMirrorer(rig, options);
  const proofs = new Map<string, MirrorProof>();
  const measure = (pose: PoseValues) => checkMirror(rig, pose, mirrorer.pose(pose, pose), -1, options);
  for (const { control, distance, turn } of measure({}))
    proofs.set(control, { restDistance: distance, restTurn: turn, distance, turn, worst: -1 });
  let n = 0;
  for (const pose of poses) {
    for (const { control, distance, turn } of measure(pose)) {
      const known = proofs.get(control) as MirrorProof;
      const isWorse = distance > known.distance + 1e-12 || (Math.abs(distance - known.distance) <= 1e-12 && turn > known.turn);
      proofs.set(control, {
        ...known,
        distance: Math.max(distance, known.distance),
        turn: Math.max(turn, known.turn),
        worst: isWorse ? n : known.worst,
      });
    }
    n++;
  }
  return proofs;
}
