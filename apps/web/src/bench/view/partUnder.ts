import { type Camera, type Object3D, Raycaster, Vector2 } from "three";

/** Directions in which a spot beside the pointer is looked at. */
const AROUND = 8;

/** Is a place on the picture on something of a figure, or no further from it than this? All in pixels, from the picture's corner. */
export function isPartNear(
  figure: Object3D,
  camera: Camera,
  size: { readonly width: number; readonly height: number },
  at: { readonly x: number; readonly y: number },
  margin = 0,
): boolean {
  const ray = new Raycaster();
  const hits = (x: number, y: number) => {
    ray.setFromCamera(new Vector2((x / size.width) * 2 - 1, 1 - (y / size.height) * 2), camera);
    return ray.intersectObject(figure, true).length > 0;
  };
  if (hits(at.x, at.y)) return true;
  if (margin === 0) return false;
  return Array.from({ length: AROUND }, (_, n) => (n * 2 * Math.PI) / AROUND).some((turn) =>
    hits(at.x + margin * Math.cos(turn), at.y + margin * Math.sin(turn)),
  );
}
