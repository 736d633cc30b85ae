import { channelKey, FIELD_OF_VIEW, type Player, restValue, type Shot } from "@kneader/core";
import { Matrix4, type PerspectiveCamera, Vector3 } from "three";
import type { CameraName } from "./cameraNames.ts";
import { framingOf } from "./framing.ts";

const matrix = new Matrix4();

/** Place a camera for a named view. A shot camera control wins; otherwise the figure is framed. */
export function placeCamera(camera: PerspectiveCamera, name: CameraName, shot: Shot, player: Player): void {
  const { centre, radius } = framingOf(shot);
  const [x, y, z] = centre;
  const shotCamera = shotCameraOf(shot, player);
  if (name === "shot" && shotCamera !== undefined) {
    matrix.fromArray(player.worlds, shotCamera * 16);
    matrix.decompose(camera.position, camera.quaternion, new Vector3());
    // The picture is framed for 3:2; a taller view looks wider so that nothing is lost at the sides.
    const degrees = lensOf(shot, player);
    setLens(camera, camera.aspect < 1.1 ? degrees * (1.1 / camera.aspect) : degrees);
    return;
  }
  const straight = name === "front" || name === "side";
  const lens = straight ? 8 : 32;
  const distance = (radius / Math.tan(((lens / 2) * Math.PI) / 180)) * 1.25 * Math.max(1, 1.1 / camera.aspect);
  const away: Record<CameraName, [number, number, number]> = {
    shot: [0.45, 0.18, 0.87],
    free: [0.45, 0.18, 0.87],
    front: [0, 0, 1],
    side: [1, 0, 0],
  };
  // The ferryman looks along the jetty, so his front is the world's +X.
  const turned = shot.set === "landing" && straight;
  const [dx, dy, dz] = turned ? (name === "front" ? [1, 0, 0] : [0, 0, 1]) : away[name];
  camera.position.set(x + dx * distance, y + dy * distance, z + dz * distance);
  camera.lookAt(x, y, z);
  setLens(camera, lens);
}

/** Where the shot camera stands among the player's controls: the first camera there is. */
export function shotCameraOf({ rig }: Shot, { controlIndex }: Pick<Player, "controlIndex">): number | undefined {
  const found = rig.controls.find(({ role }) => role === "camera");
  return found && controlIndex.get(found.id);
}

/** How many degrees the shot camera sees from bottom to top. */
function lensOf({ rig }: Shot, { channelIndex, values }: Player): number {
  const found = rig.controls.find(({ role }) => role === "camera");
  const lens = found && channelIndex.get(channelKey(found.id, FIELD_OF_VIEW));
  const degrees = lens === undefined ? restValue(FIELD_OF_VIEW) : values[lens];
  return Math.min(150, Math.max(1, degrees));
}

function setLens(camera: PerspectiveCamera, degrees: number): void {
  camera.near = Math.max(0.01, camera.position.length() * 0.002);
  camera.far = 4000;
  camera.fov = degrees;
  camera.updateProjectionMatrix();
}
