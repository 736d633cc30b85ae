import { type Camera, type PerspectiveCamera, Vector3 } from "three";
import { inShown } from "../pictureZoom.ts";
import type { ArcMark } from "./arcMarks.ts";

/** A mark is pointed at from this near (pixels); a key's from further off, as that is what is taken hold of. */
const NEAR = 8;
const NEAR_KEY = 14;
/** So much nearer (pixels) a key counts than a frame beside it. */
const KEY_FIRST = 3;
/** So much nearer the playhead's own counts than any other: where marks lie together it is meant. */
const PLAYHEAD_FIRST = 7;
/** So much less (pixels) counts a frame for each one it is away from the playhead: of marks on one spot the next one is meant. */
const A_FRAME = 1e-6;
const place = new Vector3();

interface Pointed {
  readonly mark: ArcMark;
  /** Where it is, from the corner of the picture (pixels). */
  readonly x: number;
  readonly y: number;
}

/** The mark meant by a place on the picture (pixels from its corner): the nearest, the playhead's before others; null where none is near. */
export function markAt(
  marks: readonly ArcMark[],
  camera: Camera,
  { width, height }: { readonly width: number; readonly height: number },
  { x, y }: { readonly x: number; readonly y: number },
  playhead: number,
): Pointed | null {
  let best: Pointed | null = null;
  let least = Number.POSITIVE_INFINITY;
  for (const mark of marks) {
    place.set(...mark.place);
    if (!mark.isFlat) place.project(camera);
    else Object.assign(place, inShown(camera as PerspectiveCamera, place.x, place.y));
    if (!(place.z <= 1)) continue;
    const at = { x: ((place.x + 1) / 2) * width, y: ((1 - place.y) / 2) * height };
    const away = Math.hypot(at.x - x, at.y - y);
    if (away > (mark.isKey ? NEAR_KEY : NEAR)) continue;
    const first = mark.frame === playhead ? PLAYHEAD_FIRST : mark.isKey ? KEY_FIRST : 0;
    const counted = away - first + A_FRAME * Math.abs(mark.frame - playhead);
    if (counted < least) {
      least = counted;
      best = { mark, ...at };
    }
  }
  return best;
}
