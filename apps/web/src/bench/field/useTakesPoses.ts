import type { FieldPose, Shot } from "@kneader/core";
import { usePoseTarget } from "./poseDrop.ts";
import { freePlace, poseFromFrame } from "./PoseSources.tsx";

/** Let an element take poses for a field: one lies where it was dropped on the plane, else where there is room. */
export function useTakesPoses(
  shot: Shot,
  poses: readonly FieldPose[],
  disabled: boolean,
  add: (pose: FieldPose) => void,
): (element: HTMLElement | null) => void {
  return usePoseTarget(disabled, (frame, clientX, clientY) => {
    const plane = document.elementFromPoint(clientX, clientY)?.closest(".field-plane")?.getBoundingClientRect();
    const place = plane
      ? {
          x: Math.round(((clientX - plane.left) / plane.width) * 1240 - 120) / 1000,
          y: Math.round(((clientY - plane.top) / plane.height) * 1240 - 120) / 1000,
        }
      : freePlace(poses);
    add(poseFromFrame(shot, frame, place));
  });
}
