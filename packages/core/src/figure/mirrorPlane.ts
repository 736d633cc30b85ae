import { KneaderError } from "../errors.ts";
import { type Control, isScenery, type Rig } from "../model/rig.ts";

type Vector = readonly [number, number, number];

/** A plane in the world: a point of it, and the unit vector that stands on it. */
export interface Plane {
  readonly origin: Vector;
  readonly normal: Vector;
}

/** Where a figure is mirrored: in its own middle, so that it keeps place and heading, or in a plane of the scene. */
export type MirrorPlane = "own middle" | Plane;

/** The plane x = 0, for rigs without a middle. */
export const FACING: Plane = { origin: [0, 0, 0], normal: [1, 0, 0] };

/** A plane through a point whose normal points a way of any length. Errors: `bad-setting` when it points nowhere. */
export function makePlane(origin: Vector, toward: Vector): Plane {
  const length = Math.hypot(...toward);
  if (!(length > 1e-9) || !Number.isFinite(length) || !origin.every(Number.isFinite))
    throw new KneaderError("bad-setting", "The mirror plane has no direction.", "Give it a direction that is not 0 on every axis.");
  return { origin, normal: [toward[0] / length, toward[1] / length, toward[2] / length] };
}

/** The upright plane through a point, turned about the vertical by so many radians from the plane x = 0. */
export function uprightPlane(origin: Vector, heading: number): Plane {
  return { origin, normal: [Math.cos(heading), 0, -Math.sin(heading)] };
}

/** How little the way something looks counts beside where its sides are. */
const LOOK = 0.01;

/**
 * The upright plane through something's middle, from where its side and its front point: the one whose
 * normal is nearest to its side. Lying on its back it is still told from its sides, lying on a side from its front.
 */
export function planeOf(origin: Vector, side: ArrayLike<number>, front: ArrayLike<number>): Plane {
  // The horizontal unit vector n with the most of (n·side)² − LOOK (n·front)²: an eigenvector of a 2×2 matrix.
  const xx = side[0] * side[0] - LOOK * front[0] * front[0];
  const zz = side[2] * side[2] - LOOK * front[2] * front[2];
  const xz = side[0] * side[2] - LOOK * front[0] * front[2];
  return uprightPlane(origin, -Math.atan2(2 * xz, xx - zz) / 2);
}

/** The reflection of a direction. */
export function reflectWay({ normal: [x, y, z] }: Plane, way: ArrayLike<number>): [number, number, number] {
  const off = 2 * (way[0] * x + way[1] * y + way[2] * z);
  return [way[0] - off * x, way[1] - off * y, way[2] - off * z];
}

/** The reflection of a point. */
export function reflect(plane: Plane, point: ArrayLike<number>): [number, number, number] {
  const [ox, oy, oz] = plane.origin;
  const [x, y, z] = reflectWay(plane, [point[0] - ox, point[1] - oy, point[2] - oz]);
  return [ox + x, oy + y, oz + z];
}

/**
 * The top control whose middle is the figure's: the central one with the most controls below it. Hands and feet that
 * stand in the world by themselves are mirrored in its plane. Null when every top control has another one as partner.
 */
export function leaderOf(rig: Rig): Control | null {
  const below = new Map<string, number>();
  const topOf = new Map<string, string>();
  for (const control of rig.controls) {
    const top = control.parent === null ? control.id : (topOf.get(control.parent) ?? control.id);
    topOf.set(control.id, top);
    below.set(top, (below.get(top) ?? 0) + 1);
  }
  let leader: Control | null = null;
  for (const control of rig.controls) {
    if (control.parent !== null || control.partner !== control.id || isScenery(control)) continue;
    if (leader === null || (below.get(control.id) ?? 0) > (below.get(leader.id) ?? 0)) leader = control;
  }
  return leader;
}
