import { type Control, isScenery, type Rig } from "../model/rig.ts";

type Vector = readonly [number, number, number];

/** An upright plane: a point of it, and its heading, the turn about the vertical (radians) from the plane x = 0. */
export interface UprightPlane {
  readonly origin: Vector;
  readonly heading: number;
}

/** Where a figure is mirrored: in its own middle, so that it keeps place and heading, or in a plane of the scene. */
export type MirrorPlane = "own middle" | UprightPlane;

/** The plane x = 0, for rigs without a middle. */
export const FACING: UprightPlane = { origin: [0, 0, 0], heading: 0 };

/** How little the way something looks counts beside where its sides are. */
const LOOK = 0.01;

/**
 * The upright plane through something's middle, from where its side (+X) and its front (+Z) point: the one whose
 * normal is nearest to its side. Lying on its back it is still told from its sides, lying on a side from its front.
 */
export function planeOf(origin: Vector, side: Vector, front: Vector): UprightPlane {
  // The horizontal unit vector n with the most of (n·side)² − LOOK (n·front)²: an eigenvector of a 2×2 matrix.
  const xx = side[0] * side[0] - LOOK * front[0] * front[0];
  const zz = side[2] * side[2] - LOOK * front[2] * front[2];
  const xz = side[0] * side[2] - LOOK * front[0] * front[2];
  const angle = Math.atan2(2 * xz, xx - zz) / 2;
  // A plane has two normals; the one taken is that of a figure that looks along +Z when its heading is 0.
  const turned = Math.cos(angle) * side[0] + Math.sin(angle) * side[2] < 0 ? angle + Math.PI : angle;
  return { origin, heading: -turned };
}

/** The reflection of a point. */
export function reflect({ origin, heading }: UprightPlane, point: ArrayLike<number>): [number, number, number] {
  const [nx, nz] = [Math.cos(heading), -Math.sin(heading)];
  const off = (point[0] - origin[0]) * nx + (point[2] - origin[2]) * nz;
  return [point[0] - 2 * off * nx, point[1], point[2] - 2 * off * nz];
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
