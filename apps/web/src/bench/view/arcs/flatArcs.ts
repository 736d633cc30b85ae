import { type ArcPath, makePlayer, type Player, type Shot } from "@kneader/core";
import { PerspectiveCamera, Vector3 } from "three";
import { placeCamera, shotCameraOf } from "../cameras.ts";

/** Something that stands before the camera is nearer than this in the picture's own depth. */
const BEHIND = 2;

/** Puts a camera where the shot camera is at a frame, for a picture of some aspect. Null without a shot camera. */
export function shotCameraAt(shot: Shot, aspect: number): ((frame: number) => PerspectiveCamera) | null {
  const camera = new PerspectiveCamera(30, aspect, 0.01, 4000);
  const found = shot.rig.controls.find(({ role }) => role === "camera");
  if (!found) return null;
  const player: Player = makePlayer(shot, { only: [found.id] });
  if (shotCameraOf(shot, player) === undefined) return null;
  return (frame) => {
    player.pose(frame);
    player.readValues(frame);
    placeCamera(camera, "shot", shot, player);
    camera.updateMatrixWorld();
    return camera;
  };
}

/** Where the shot camera sees each place of a path at its own frame: x and y of the picture from −1 to 1, and the depth (2: not at all). */
export function flatPlaces(path: ArcPath, cameraAt: (frame: number) => PerspectiveCamera): Float64Array {
  const flat = new Float64Array(path.places.length);
  const place = new Vector3();
  path.frames.forEach((frame, n) => {
    const camera = cameraAt(frame);
    place.set(path.places[3 * n], path.places[3 * n + 1], path.places[3 * n + 2]);
    const isBefore = place.clone().applyMatrix4(camera.matrixWorldInverse).z < 0;
    place.project(camera);
    flat.set([place.x, place.y, isBefore ? place.z : BEHIND], 3 * n);
  });
  return flat;
}

/** Flat places as they hang before a camera, a little way off, in its own space. */
export function beforeCamera(flat: Float64Array, { fov, aspect, near }: PerspectiveCamera): Float64Array {
  const depth = near * 10;
  const high = Math.tan((fov * Math.PI) / 360) * depth;
  const places = new Float64Array(flat.length);
  for (let i = 0; i < flat.length; i += 3) {
    places[i] = flat[i] * high * aspect;
    places[i + 1] = flat[i + 1] * high;
    places[i + 2] = flat[i + 2] >= BEHIND ? depth : -depth;
  }
  return places;
}
