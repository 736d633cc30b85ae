import { type Body, bodyOf } from "../../figure/anatomy/bodyOf.ts";
import type { Limb } from "../../figure/anatomy/limb.ts";
import { isOwn, type Skeleton } from "../../figure/anatomy/skeleton.ts";

/** How many times larger one figure is than another, and by what that was measured. */
export interface SizeRatio {
  readonly ratio: number;
  readonly by: "legs" | "hips" | "size";
}

/** Nearer to 1 than this, two figures are as large as each other. */
const SAME = 1e-6;

/** The size of a figure as a share of another's: by the length of the legs, or else by how far its controls reach at rest. */
export function sizeRatio(from: Skeleton, to: Skeleton): SizeRatio {
  const [mine, theirs] = [bodyOf(from), bodyOf(to)];
  if (mine && theirs) {
    const [a, b] = [legsOf(from, mine), legsOf(to, theirs)];
    if (a > 0 && b > 0) return { ratio: rounded(b / a), by: "legs" };
    const [low, other] = [mine.pelvis - mine.ground, theirs.pelvis - theirs.ground];
    if (low > 0 && other > 0) return { ratio: rounded(other / low), by: "hips" };
  }
  const [a, b] = [reachOf(from, to), reachOf(to, from)];
  return { ratio: a > 0 && b > 0 ? rounded(b / a) : 1, by: "size" };
}

const rounded = (ratio: number) => (Math.abs(ratio - 1) < SAME ? 1 : ratio);

function legsOf(skeleton: Skeleton, { legs }: Body): number {
  const bones = ({ chain, root, bend, end }: Limb) => apart(skeleton, chain[root], chain[bend]) + apart(skeleton, chain[bend], chain[end]);
  return (bones(legs.left) + bones(legs.right)) / 2;
}

function apart(skeleton: Skeleton, a: number, b: number): number {
  const [p, q] = [skeleton.place(a), skeleton.place(b)];
  return Math.hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2]);
}

/** The diagonal of the box in which the controls rest that both have by name, or all of the figure when none is. */
function reachOf(skeleton: Skeleton, other: Skeleton): number {
  const names = new Set(other.controls.map(({ name }) => name));
  const own = skeleton.controls.flatMap((control, i) => (isOwn(control) ? [i] : []));
  const shared = own.filter((i) => names.has(skeleton.controls[i].name));
  const counted = (shared.length > 1 ? shared : own).map((i) => skeleton.place(i));
  return Math.hypot(...[0, 1, 2].map((k) => Math.max(...counted.map((p) => p[k])) - Math.min(...counted.map((p) => p[k]))));
}
