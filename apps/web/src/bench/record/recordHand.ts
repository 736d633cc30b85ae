import { gripFor, limbEnds, pullPose } from "@kneader/core";
import { Vector3 } from "three";
import { usePreferences } from "../../app/preferences.ts";
import { clock } from "../clock.ts";
import { useDocuments } from "../documents.ts";
import { useSelection } from "../selection.ts";
import { facingPlane } from "../view/tools/facingPlane.ts";
import type { Press } from "../view/tools/viewTool.ts";
import { pairValues } from "./pairValues.ts";
import { isRecording, useRecorder } from "./handState.ts";
import { hear } from "./recorder.ts";

/** So many pixels of the mouse count as a stick pushed all the way. */
const BREADTH = 200;

/** Follow the pointer from a press in the view while it plays; what it does is heard at the screen's rate. */
function follow(start: PointerEvent, moved: (event: PointerEvent) => void, ended: () => void): void {
  const up = () => {
    window.removeEventListener("pointermove", moved);
    window.removeEventListener("pointerup", up);
    window.removeEventListener("pointercancel", up);
    hear(null);
    ended();
  };
  window.addEventListener("pointermove", moved);
  window.addEventListener("pointerup", up);
  window.addEventListener("pointercancel", up);
  moved(start);
}

/**
 * Begin with a press once it is recorded: at once, or, pressed while it is counted in, when the count is over and the button still
 * down. What follows then begins where the pointer has come to.
 */
function onceRecording(start: PointerEvent, begin: (from: PointerEvent) => void, ended: () => void): void {
  if (isRecording()) {
    begin(start);
    return;
  }
  let last = start;
  const moved = (event: PointerEvent) => {
    last = event;
  };
  const stop = () => {
    unsubscribe();
    window.removeEventListener("pointermove", moved);
    window.removeEventListener("pointerup", letGo);
    window.removeEventListener("pointercancel", letGo);
  };
  const letGo = () => {
    stop();
    ended();
  };
  const unsubscribe = useRecorder.subscribe(({ state }) => {
    if (state === "counting") return;
    stop();
    // What it is drawn with is there a moment later.
    if (state === "recording") queueMicrotask(() => begin(last));
    else ended();
  });
  window.addEventListener("pointermove", moved);
  window.addEventListener("pointerup", letGo);
  window.addEventListener("pointercancel", letGo);
}

/** From a press anywhere in the view: two channels follow the mouse across and up, a third the pressure of a pen. */
export function recordPair(pressed: PointerEvent): void {
  onceRecording(pressed, followPair, () => undefined);
}

function followPair(start: PointerEvent): void {
  follow(
    start,
    (event) => {
      const values = pairValues(
        (event.clientX - start.clientX) / BREADTH,
        (start.clientY - event.clientY) / BREADTH,
        event.pointerType === "pen" ? event.pressure : null,
      );
      hear(() => values, event.timeStamp);
    },
    () => undefined,
  );
}

/** From a press on a part of the figure: it follows the pointer in the plane that faces the camera, over the motion that plays on. */
export function recordPull(press: Press): void {
  onceRecording(press.start, (start) => followPull({ ...press, start }), press.ended);
}

function followPull({ control, point, camera, canvas, start, ended }: Press): void {
  const player = useDocuments.getState().live?.player;
  if (control === null || !player) {
    ended();
    return;
  }
  const pressed = new Vector3(point.x, point.y, point.z);
  player.pose(clock.frame);
  const grip = gripFor(player, clock.frame, control, [point.x, point.y, point.z]);
  const goalAt = facingPlane(camera, canvas, pressed);
  const { controls } = useSelection.getState();
  const together = controls.includes(control) ? controls.filter((id) => id !== control) : [];
  follow(
    start,
    (event) => {
      const goal = goalAt(event);
      if (!goal) return;
      const { pullBy, holdFeet, holdHands, pullBoth } = usePreferences.getState();
      hear((below, frame) => {
        const ends = [...(holdFeet ? limbEnds(below.shot.rig, "feet") : []), ...(holdHands ? limbEnds(below.shot.rig, "hands") : [])];
        const wanted = pullPose(below, frame, {
          grip,
          by: grip.control !== control ? "reach" : event.altKey ? (pullBy === "turn" ? "reach" : "turn") : pullBy,
          goal,
          together,
          isSymmetric: pullBoth,
          holds: ends.map(({ id }) => id),
        });
        below.readValues(frame);
        return Object.fromEntries(
          Object.entries(wanted).map(([key, value]) => [key, value - below.values[below.channelIndex.get(key) as number]]),
        );
      }, event.timeStamp);
    },
    ended,
  );
}
