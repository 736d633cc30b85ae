import { arcGrip, type Grip, gripFor, leaderOf, makePlayer, type Player, type PullBy, pullTo, type Shot } from "@kneader/core";
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
  const standing = makePlayer(shot);
  pullGesture({
    start,
    frame: mark.frame,
    isAtPlayhead: false,
    control: leaderOf(standing, mark.frame, mark.control) ?? mark.control,
    values(player, wish, event) {
      const goal = goalAt(event);
      if (!goal) return null;
      player.pose(mark.frame);
      player.readValues(mark.frame);
      const { grip, by } = arcGripAt(player, mark, wish);
      return pullTo(player, mark.frame, grip, by, goal);
    },
    ended: () => undefined,
  });
}

/** What is pulled so that the control goes along: of a limb that reaches what it reaches for. */
function arcGripAt(player: Player, { control, frame }: ArcMark, wish: PullBy): { readonly grip: Grip; readonly by: PullBy } {
  if (leaderOf(player, frame, control) === null) return arcGrip(player, control, wish);
  const at = (player.controlIndex.get(control) as number) * 16 + 12;
  return { grip: gripFor(player, frame, control, [player.worlds[at], player.worlds[at + 1], player.worlds[at + 2]]), by: "reach" };
}

function placeAt(shot: Shot, { control, frame }: ArcMark): Vector3 {
  const player = makePlayer(shot, { only: [control] });
  player.pose(frame);
  return new Vector3().fromArray(player.worlds, (player.controlIndex.get(control) as number) * 16 + 12);
}
