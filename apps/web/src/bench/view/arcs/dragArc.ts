import { arcGrip, makePlayer, type Shot } from "@kneader/core";
import { type PerspectiveCamera, Vector3 } from "three";
import { currentDocument } from "../../documents.ts";
import { facingPlane } from "../tools/facingPlane.ts";
import { pullGesture } from "../tools/pullGesture.ts";
import type { ArcMark } from "./arcMarks.ts";
import { shotCameraAt } from "./flatArcs.ts";

/**
 * From a press on a mark of an arc: at that frame the control goes where the pointer is, in the plane that faces the camera;
 * the playhead stays. On a flat arc the camera is the one of that frame.
 */
export function dragArc(mark: ArcMark, start: PointerEvent, camera: PerspectiveCamera, canvas: HTMLCanvasElement): void {
  const shot = currentDocument();
  if (!shot) return;
  const looking = (mark.isFlat && shotCameraAt(shot, camera.aspect)?.(mark.frame)) || camera;
  pullGesture({
    start,
    frame: mark.frame,
    isAtPlayhead: false,
    control: mark.control,
    grip: (player, by) => arcGrip(player, mark.control, by),
    goal: facingPlane(looking.clone(), canvas, placeAt(shot, mark)),
    ended: () => undefined,
  });
}

function placeAt(shot: Shot, { control, frame }: ArcMark): Vector3 {
  const player = makePlayer(shot, { only: [control] });
  player.pose(frame);
  return new Vector3().fromArray(player.worlds, (player.controlIndex.get(control) as number) * 16 + 12);
}
