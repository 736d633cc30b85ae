import type { Place } from "@kneader/core";
import { type Camera, Plane, Raycaster, Vector2, Vector3 } from "three";

/** Where the pointer is in the plane through a place that faces the camera as it stands now; null where it misses it. */
export function facingPlane(camera: Camera, canvas: HTMLElement, through: Vector3): (event: PointerEvent) => Place | null {
  const facing = new Plane().setFromNormalAndCoplanarPoint(camera.getWorldDirection(new Vector3()), through);
  const ray = new Raycaster();
  return (event) => {
    const box = canvas.getBoundingClientRect();
    const x = ((event.clientX - box.left) / box.width) * 2 - 1;
    const y = 1 - ((event.clientY - box.top) / box.height) * 2;
    ray.setFromCamera(new Vector2(x, y), camera);
    const goal = ray.ray.intersectPlane(facing, new Vector3());
    return goal && [goal.x, goal.y, goal.z];
  };
}
