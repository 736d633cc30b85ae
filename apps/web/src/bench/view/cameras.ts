import { channelKey, FIELD_OF_VIEW, type Player, restValue, type Shot } from "@kneader/core";
import { Matrix4, type PerspectiveCamera, Vector3 } from "three";
import type { CameraName } from "./cameraNames.ts";
import { fitDistance } from "./fitBox.ts";
import { type Framing, framingOf } from "./framing.ts";
import { showZoom, zoomOf } from "./pictureZoom.ts";

const matrix = new Matrix4();

/** Where a camera looks from that the shot does not say: a little from the side and from above. */
const THREE_QUARTERS: readonly [number, number, number] = [0.45, 0.18, 0.87];

/** Place a camera for a named view. A shot camera control wins; otherwise the figure is framed over the whole shot, from where it faces. */
export function placeCamera(camera: PerspectiveCamera, name: CameraName, shot: Shot, player: Player): void {
  const framing = framingOf(shot);
  const shotCamera = shotCameraOf(shot, player);
  if (name === "shot" && shotCamera !== undefined) {
    matrix.fromArray(player.worlds, shotCamera * 16);
    matrix.decompose(camera.position, camera.quaternion, new Vector3());
    // The picture is framed for 3:2; a taller view looks wider so that nothing is lost at the sides.
    const degrees = lensOf(shot, player);
    setLens(camera, camera.aspect < 1.1 ? degrees * (1.1 / camera.aspect) : degrees, framing, shot.set);
  } else {
    const straight = name === "front" || name === "side";
    const lens = straight ? 8 : 32;
    const [fx, , fz] = framing.facing;
    // Its own axes: what it faces is before it, its left beside it.
    const [side, up, before] = straight ? (name === "front" ? [0, 0, 1] : [1, 0, 0]) : THREE_QUARTERS;
    // From the side from which the film looks, where it does from one.
    const beside = straight && shotCamera !== undefined ? sideOfFilm(framing, player.worlds, shotCamera) : 1;
    const away = new Vector3(beside * side * fz + before * fx, up, before * fz - beside * side * fx).normalize();
    const distance = fitDistance(framing.box, away, lens, camera.aspect);
    const centre = new Vector3(...framing.centre);
    camera.position.copy(centre).addScaledVector(away, distance);
    camera.lookAt(centre);
    setLens(camera, lens, framing, shot.set);
  }
  if (name !== "free") showZoom(camera, zoomOf(shot.id, name));
}

/** 1 where the shot camera stands to the left of the way a figure faces, else −1. */
function sideOfFilm({ centre, facing: [fx, , fz] }: Framing, worlds: Float64Array, camera: number): 1 | -1 {
  const at = camera * 16 + 12;
  return (worlds[at] - centre[0]) * fz - (worlds[at + 2] - centre[2]) * fx >= 0 ? 1 : -1;
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

/** The landing's sky is a dome of so many units about the world's middle. */
const SKY = 130;

/** What a camera sees from bottom to top, and from how near to how far: the figure with room around it, however large. */
function setLens(camera: PerspectiveCamera, degrees: number, framing: Framing, set: string | null): void {
  camera.fov = degrees;
  setDepth(camera, framing, set);
}

/** From how near to how far a camera sees: the figure and the room around it, and the set. */
export function setDepth(camera: PerspectiveCamera, { centre, radius }: Framing, set: string | null): void {
  const distance = Math.max(camera.position.distanceTo(new Vector3(...centre)), radius * 0.05);
  camera.near = Math.max(radius * 0.002, distance * 0.002);
  camera.far = distance + Math.max(radius * 60, set === "landing" ? SKY : 0);
  camera.updateProjectionMatrix();
}
