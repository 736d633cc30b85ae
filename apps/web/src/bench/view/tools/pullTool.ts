import { gripFor, limbEnds, makePlayer, pullPose, twistBy } from "@kneader/core";
import { Vector3 } from "three";
import { usePreferences } from "../../../app/preferences.ts";
import { clock } from "../../clock.ts";
import { currentDocument } from "../../documents.ts";
import { useSelection } from "../../selection.ts";
import { isRecordingAwaited } from "../../record/handState.ts";
import { recordPull } from "../../record/recordHand.ts";
import { facingPlane } from "./facingPlane.ts";
import { pullGesture } from "./pullGesture.ts";
import type { Press, ViewTool } from "./viewTool.ts";

/** How far a part twists for a pixel to the side. */
const DEGREES_A_PIXEL = 0.5;

/** Parts of the figure are taken hold of and pulled. */
export const pullTool: ViewTool = {
  objects: [],
  hit: (_object, control) => control !== null,
  drag: pullFigure,
  dispose: () => undefined,
};

/** From a press on the figure: the pressed spot follows the pointer in the plane that faces the camera. */
function pullFigure(press: Press): void {
  // A press in the count-in waits for it.
  if (isRecordingAwaited()) {
    recordPull(press);
    return;
  }
  const { control, point, camera, canvas, start, isPlace, ended } = press;
  const shot = currentDocument();
  if (!shot || control === null) return;
  const { frame } = clock;
  const pressed = new Vector3(point.x, point.y, point.z);
  const player = makePlayer(shot);
  player.pose(frame);
  // Of a limb that reaches what it reaches for is pulled.
  const grip = gripFor(player, frame, control, [point.x, point.y, point.z]);
  const goalAt = facingPlane(camera, canvas, pressed);
  pullGesture({
    start,
    frame,
    isAtPlayhead: true,
    control: grip.control,
    values(posed, by, event) {
      // With Ctrl a part turns about its own length, as far as the pointer goes sideways.
      if (event.ctrlKey || event.metaKey) return twistBy(posed, frame, grip.control, (event.clientX - start.clientX) * DEGREES_A_PIXEL);
      const goal = goalAt(event);
      if (!goal) return null;
      const { holdFeet, holdHands, pullBoth } = usePreferences.getState();
      const ends = [...(holdFeet ? limbEnds(shot.rig, "feet") : []), ...(holdHands ? limbEnds(shot.rig, "hands") : [])];
      const { controls } = useSelection.getState();
      const together = controls.includes(control) ? controls.filter((id) => id !== control) : [];
      return pullPose(posed, frame, {
        grip,
        by: grip.control === control && !isPlace ? by : "reach",
        goal,
        together,
        isSymmetric: pullBoth,
        holds: ends.map(({ id }) => id),
      });
    },
    ended,
  });
}
