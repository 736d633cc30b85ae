import { makePlayer, type Place } from "@kneader/core";
import { Matrix4, Vector3 } from "three";
import { clock } from "../../clock.ts";
import { currentDocument } from "../../documents.ts";
import { facingPlane } from "./facingPlane.ts";
import { pullGesture } from "./pullGesture.ts";
import type { Press, ViewTool } from "./viewTool.ts";

/** Parts of the figure are taken hold of and pulled. */
export const pullTool: ViewTool = {
  objects: [],
  hit: (_object, control) => control !== null,
  drag: pullFigure,
  dispose: () => undefined,
};

/** From a press on the figure: the pressed spot follows the pointer in the plane that faces the camera. */
function pullFigure({ control, point, camera, canvas, start, ended }: Press): void {
  const shot = currentDocument();
  if (!shot || control === null) return;
  const { frame } = clock;
  const pressed = new Vector3(point.x, point.y, point.z);
  const player = makePlayer(shot);
  player.pose(frame);
  const stands = new Matrix4().fromArray(player.worlds, (player.controlIndex.get(control) as number) * 16);
  const spot = placeOf(pressed.clone().applyMatrix4(stands.invert()));
  pullGesture({
    start,
    frame,
    isAtPlayhead: true,
    control,
    grip: (_, by) => ({ grip: { control, spot }, by }),
    goal: facingPlane(camera, canvas, pressed),
    ended,
  });
}

const placeOf = ({ x, y, z }: Vector3): Place => [x, y, z];
