import { type ArcPath, type Bend, bendsOf, controlById, type Shot } from "@kneader/core";

/** A frame of an arc: where it is, and whether the control has a key there. */
export interface ArcMark {
  readonly frame: number;
  readonly control: string;
  readonly name: string;
  readonly isKey: boolean;
  /** In the world; of flat arcs in the picture: x and y from −1 to 1, and how near. */
  readonly place: readonly [number, number, number];
  readonly isFlat: boolean;
}

/** A bend of an arc that stands out. */
export interface ArcBend extends Bend {
  readonly control: string;
  readonly name: string;
  readonly frame: number;
}

const nameOf = (shot: Shot, control: string) => controlById(shot.rig, control)?.name ?? control;

export function marksOf(
  shot: Shot,
  { control, frames }: ArcPath,
  shown: Float64Array,
  keys: ReadonlySet<number>,
  isFlat: boolean,
): ArcMark[] {
  const name = nameOf(shot, control);
  return Array.from(frames, (frame, n) => ({
    frame,
    control,
    name,
    isKey: keys.has(frame),
    place: [shown[3 * n], shown[3 * n + 1], shown[3 * n + 2]] as const,
    isFlat,
  }));
}

/** The bends of a path: in space, or of a flat one as the picture shows them. */
export function arcBends(shot: Shot, { control, frames, places }: ArcPath, flat: Float64Array | null, aspect: number): ArcBend[] {
  const bends = flat ? bendsOf(inPicture(flat, aspect), 2) : bendsOf(places, 3);
  const name = nameOf(shot, control);
  return bends.map((bend) => ({ ...bend, control, name, frame: frames[bend.at] }));
}

function inPicture(flat: Float64Array, aspect: number): Float64Array {
  const places = new Float64Array((flat.length / 3) * 2);
  for (let n = 0; 3 * n < flat.length; n++) {
    places[2 * n] = flat[3 * n] * aspect;
    places[2 * n + 1] = flat[3 * n + 1];
  }
  return places;
}
