import { type Box3, Vector3 } from "three";

/** The eight corners of a box. */
export function cornersOf({ min, max }: Box3): Vector3[] {
  return Array.from({ length: 8 }, (_, n) => new Vector3(n & 1 ? max.x : min.x, n & 2 ? max.y : min.y, n & 4 ? max.z : min.z));
}

/** Room left around what is fitted. */
const MARGIN = 1.1;

/**
 * How far from the middle of a box a camera stands that looks at it from a direction (unit vector from the middle to the camera), so
 * that all corners are in its picture; `degrees` is what it sees from bottom to top, up is the world's Y.
 */
export function fitDistance(box: Box3, away: Vector3, degrees: number, aspect: number): number {
  const centre = box.getCenter(new Vector3());
  const right = new Vector3(0, 1, 0).cross(away);
  if (right.lengthSq() < 1e-9) right.set(1, 0, 0);
  right.normalize();
  const up = away.clone().cross(right);
  const high = Math.tan((degrees * Math.PI) / 360);
  let distance = 0;
  for (const corner of cornersOf(box)) {
    corner.sub(centre);
    const toward = corner.dot(away);
    distance = Math.max(
      distance,
      toward + (MARGIN * Math.abs(corner.dot(up))) / high,
      toward + (MARGIN * Math.abs(corner.dot(right))) / (high * aspect),
    );
  }
  return Math.max(distance, box.getSize(right).length() * 1e-3, 1e-6);
}
