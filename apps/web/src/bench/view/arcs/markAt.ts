import { type Camera, Vector3 } from "three";
import type { ArcMark } from "./arcMarks.ts";

/** A mark is pointed at from this near (pixels); a key's from further off, as that is what is taken hold of. */
const NEAR = 8;
const NEAR_KEY = 14;
/** So much nearer (pixels) a key counts than a frame beside it. */
const KEY_FIRST = 3;
const place = new Vector3();

interface Pointed {
  readonly mark: ArcMark;
  /** Where it is, from the corner of the picture (pixels). */
  readonly x: number;
  readonly y: number;
}

/** The mark nearest to a place on the picture (pixels from its corner), or null where none is near. */
export function markAt(marks: readonly ArcMark[], camera: Camera, width: number, height: number, x: number, y: number): Pointed | null {
  let best: Pointed | null = null;
  let least = Number.POSITIVE_INFINITY;
  for (const mark of marks) {
    place.set(...mark.place);
    if (!mark.isFlat) place.project(camera);
    if (!(place.z <= 1)) continue;
    const at = { x: ((place.x + 1) / 2) * width, y: ((1 - place.y) / 2) * height };
    const away = Math.hypot(at.x - x, at.y - y);
    if (away > (mark.isKey ? NEAR_KEY : NEAR)) continue;
    const counted = away - (mark.isKey ? KEY_FIRST : 0);
    if (counted < least) {
      least = counted;
      best = { mark, ...at };
    }
  }
  return best;
}
