import { arcGrip, makePlayer, pullTo, type Shot } from "@kneader/core";
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
  const goalAt = facingPlane(looking.clone(), canvas, placeAt(shot, mark));
  pullGesture({
    start,
    frame: mark.frame,
    isAtPlayhead: false,
    control: mark.control,
    values(player, wish, event) {
      const goal = goalAt(event);
      if (!goal) return null;
      player.pose(mark.frame);
      player.readValues(mark.frame);
      const { grip, by } = arcGrip(player, mark.control, wish);
      return pullTo(player, mark.frame, grip, by, goal);
    },
    ended: () => undefined,
  });
}

function placeAt(shot: Shot, { control, frame }: ArcMark): Vector3 {
  const player = makePlayer(shot, { only: [control] });
  player.pose(frame);
  return new Vector3().fromArray(player.worlds, (player.controlIndex.get(control) as number) * 16 + 12);
}
