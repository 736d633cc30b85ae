import { pathTo, type Skeleton } from "./skeleton.ts";

/** Two chains of controls that lie across from each other, from where they part to their ends. */
export interface Pair {
  readonly left: readonly number[];
  readonly right: readonly number[];
  /** The control both hang on. */
  readonly fork: number;
  readonly length: number;
  readonly height: number;
}

/** Ends (what nothing hangs on) that lie across from each other, with the ways to them from where they part. */
export function pairedEnds(skeleton: Skeleton, own: readonly boolean[], { axis, at }: { axis: number; at: number }): Pair[] {
  const ends = skeleton.controls.flatMap((_, i) => (own[i] && skeleton.children[i].every((child) => !own[child]) ? [i] : []));
  const size = Math.max(...ends.map((i) => skeleton.place(i)[1])) - Math.min(...ends.map((i) => skeleton.place(i)[1])) || 1;
  const offSide = (i: number) => skeleton.place(i)[axis] - at;
  const found: Pair[] = [];
  for (const a of ends) {
    if (offSide(a) <= 0.01 * size) continue;
    let best = -1;
    let least = 0.2 * size;
    for (const b of ends) {
      if (offSide(b) >= -0.01 * size) continue;
      const [p, q] = [skeleton.place(a), skeleton.place(b)];
      const apart = Math.hypot(...[0, 1, 2].map((k) => (k === axis ? p[k] + q[k] - 2 * at : p[k] - q[k])));
      if (apart < least) [best, least] = [b, apart];
    }
    if (best < 0) continue;
    const [mine, theirs] = [pathTo(skeleton, a), pathTo(skeleton, best)];
    let shared = 0;
    while (shared < mine.length && mine[shared] === theirs[shared]) shared++;
    if (shared === 0) continue;
    const [left, right] = [mine.slice(shared), theirs.slice(shared)];
    found.push({ left, right, fork: mine[shared - 1], length: lengthOf(skeleton, left), height: skeleton.place(a)[1] });
  }
  return found;
}

export function lengthOf(skeleton: Skeleton, chain: readonly number[]): number {
  let sum = 0;
  for (let n = 1; n < chain.length; n++) sum += apart(skeleton, chain[n - 1], chain[n]);
  return sum;
}

export function apart(skeleton: Skeleton, a: number, b: number): number {
  const [p, q] = [skeleton.place(a), skeleton.place(b)];
  return Math.hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2]);
}
