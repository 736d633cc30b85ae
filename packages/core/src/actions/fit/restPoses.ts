import { quatFromMatrix, quatMultiply } from "../../maths/rotation.ts";
import { normalise, turnBetween, turnVector } from "../../maths/vector.ts";
import { worldAt } from "../../figure/rigLayout.ts";
import { bodyOf } from "../../figure/anatomy/bodyOf.ts";
import type { Limb } from "../../figure/anatomy/limb.ts";
import type { Skeleton } from "../../figure/anatomy/skeleton.ts";

/** How the rest pose of one figure is laid over that of another. Quaternions as x, y, z, w. */
export interface RestPoses {
  /** Turns the way the one looks into the way the other looks. */
  readonly heading: Float64Array;
  /** By control of the one that takes the motion: the turn that lays its limb at rest over the other's; none: as it rests. */
  readonly limbs: ReadonlyMap<number, Float64Array>;
  /** The largest difference between the directions of limbs, in degrees. */
  readonly apart: number;
}

/** Limbs that lie nearer to each other than this lie alike. */
const ALIKE = 0.5;
/** From so many degrees on rest poses differ so much that turns from rest alone would not look alike. */
export const REST_DIFFERS = 8;

/** Turns in the world at rest, four numbers a control. */
export function restTurns({ controls, worlds }: Skeleton): Float64Array {
  const turns = new Float64Array(4 * controls.length);
  for (let i = 0; i < controls.length; i++) quatFromMatrix(turns, 4 * i, worlds, worldAt(i), 4);
  return turns;
}

/**
 * Compare two rest poses, control by control as they are matched (`found`: by index of the one taken from). Arms and
 * legs are compared by the direction of their bones; hands, with all that hangs on them, go with the forearm. Feet,
 * trunk, head and tail are left as they rest, so that soles stay flat.
 */
export function compareRests(from: Skeleton, to: Skeleton, found: ReadonlyMap<number, number>): RestPoses {
  const heading = headingTurn(bodyOf(from)?.facing ?? 0, bodyOf(to)?.facing ?? 0);
  const limbs = new Map<number, Float64Array>();
  const body = bodyOf(to);
  let apart = 0;
  const back = new Map([...found].map(([i, at]) => [at, i]));
  const lay = ({ chain, root, end }: Limb) => {
    for (let n = root; n < end; n++) {
      const next = chain.slice(n + 1, end + 1).find((at) => back.has(at));
      const turn = next === undefined ? null : boneTurn(from, to, [back.get(chain[n]), back.get(next)], [chain[n], next], heading);
      if (!turn) continue;
      const angle = (2 * Math.acos(Math.min(1, Math.abs(turn[3]))) * 180) / Math.PI;
      apart = Math.max(apart, angle);
      if (angle > ALIKE) limbs.set(chain[n], turn);
    }
  };
  for (const side of ["left", "right"] as const) {
    if (!body) break;
    lay(body.legs[side]);
    if (!body.arms) continue;
    lay(body.arms[side]);
    const { chain, root, end } = body.arms[side];
    const last = chain
      .slice(root, end)
      .reverse()
      .find((i) => back.has(i));
    const turn = last === undefined ? undefined : limbs.get(last);
    if (turn) for (const i of withAllBelow(to, chain[end])) limbs.set(i, turn);
  }
  return { heading, limbs, apart };
}

/** The turn about the vertical from one way of looking (radians) to another. */
export function headingTurn(from: number, to: number): Float64Array {
  const half = (to - from) / 2;
  return half === 0 ? Float64Array.of(0, 0, 0, 1) : Float64Array.of(0, Math.sin(half), 0, Math.cos(half));
}

/** The turn of a bone at rest over the other's; null when either has no length or is not matched. */
function boneTurn(
  from: Skeleton,
  to: Skeleton,
  [a, b]: readonly [number | undefined, number | undefined],
  [c, d]: readonly [number, number],
  heading: Float64Array,
): Float64Array | null {
  if (a === undefined || b === undefined) return null;
  const [mine, theirs] = [wayOf(from, a, b), wayOf(to, c, d)];
  turnVector(mine, 0, heading, 0, mine, 0);
  if (normalise(mine, 0) === 0 || normalise(theirs, 0) === 0) return null;
  const turn = new Float64Array(4);
  turnBetween(turn, 0, theirs, 0, mine, 0);
  return turn;
}

/** From one control to another, at rest. */
export function wayOf(skeleton: Skeleton, a: number, b: number): Float64Array {
  const [p, q] = [skeleton.place(a), skeleton.place(b)];
  return Float64Array.of(q[0] - p[0], q[1] - p[1], q[2] - p[2]);
}

function withAllBelow({ children }: Skeleton, i: number): number[] {
  const all = [i];
  for (let n = 0; n < all.length; n++) all.push(...children[all[n]]);
  return all;
}

/** a⁻¹·b of unit quaternions, into `out`. */
export function turnFrom(out: Float64Array, o: number, a: Float64Array, ao: number, b: Float64Array, bo: number): void {
  inverse[0] = -a[ao];
  inverse[1] = -a[ao + 1];
  inverse[2] = -a[ao + 2];
  inverse[3] = a[ao + 3];
  quatMultiply(out, o, inverse, 0, b, bo);
}

const inverse = new Float64Array(4);
