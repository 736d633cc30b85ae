import { aboveWhere, isOwn, type Skeleton } from "../../figure/anatomy/skeleton.ts";
import type { Found, Standing, Strategy } from "./strategy.ts";

/**
 * The control at the same place in the hierarchy: between two that are matched already, as many levels deep; or the only
 * branch below a matched one that is built like it. Where two branches are built alike (a left and a right arm) the
 * hierarchy cannot tell, and nothing is said.
 */
export const byPlace: Strategy = {
  id: "place",
  title: "by place in the hierarchy",
  find(standing) {
    const found = new Map(standing.found);
    const fresh: Found[] = [];
    const taken = new Set(found.values());
    const take = (from: number, to: number, sure: number) => {
      if (found.has(from) || taken.has(to)) return;
      found.set(from, to);
      taken.add(to);
      fresh.push({ from, to, sure });
    };
    // What is found opens the way to what hangs on it, until nothing more is.
    for (let before = -1; before !== fresh.length; ) {
      before = fresh.length;
      between(standing, found, take);
      below(standing, found, take);
    }
    return fresh;
  },
};

type Take = (from: number, to: number, sure: number) => void;

/** Levels between two matched controls, one below the other: those of one side are those of the other when they are as many. */
function between({ from, to, isOpenFrom, isOpenTo }: Standing, found: ReadonlyMap<number, number>, take: Take): void {
  const reached = new Set(found.values());
  for (const [low, lowTo] of [...found]) {
    const high = aboveWhere(from, low, (i) => found.has(i));
    const highTo = aboveWhere(to, lowTo, (i) => reached.has(i));
    if (high < 0 || found.get(high) !== highTo) continue;
    const mine = levels(from, low, high);
    const theirs = levels(to, lowTo, highTo);
    if (mine.length !== theirs.length || mine.length === 0) continue;
    mine.forEach((i, n) => {
      if (isOpenFrom(i) && isOpenTo(theirs[n])) take(i, theirs[n], 0.8);
    });
  }
}

/** The controls between one and one above it, both left out. */
function levels({ parents }: Skeleton, low: number, high: number): number[] {
  const path: number[] = [];
  for (let at = parents[low]; at >= 0 && at !== high; at = parents[at]) path.push(at);
  return path;
}

/** Branches below matched controls, and those at the top, by how they are built. */
function below({ from, to, isOpenFrom, isOpenTo }: Standing, found: ReadonlyMap<number, number>, take: Take): void {
  const [mine, theirs] = [buildOf(from), buildOf(to)];
  const pairs: (readonly [readonly number[], readonly number[]])[] = [
    [topsOf(from), topsOf(to)],
    ...[...found].map(([i, at]) => [from.children[i], to.children[at]] as const),
  ];
  for (const [heads, others] of pairs) {
    const open = heads.filter((i) => isOpenFrom(i) && !found.has(i));
    const free = others.filter((i) => isOpenTo(i));
    for (const i of open) {
      const alike = free.filter((at) => theirs[at] === mine[i] && to.controls[at].role === from.controls[i].role);
      if (alike.length === 1 && open.filter((one) => mine[one] === mine[i]).length === 1) take(i, alike[0], 0.7);
    }
  }
}

const topsOf = ({ parents, controls }: Skeleton) => controls.flatMap((control, i) => (parents[i] < 0 && isOwn(control) ? [i] : []));

const known = new WeakMap<Skeleton, readonly string[]>();

/** How a branch is built, whatever the order of what hangs on it: "(()(()))". */
function buildOf(skeleton: Skeleton): readonly string[] {
  let builds = known.get(skeleton);
  if (!builds) {
    const made: string[] = new Array(skeleton.controls.length).fill("");
    for (let i = made.length - 1; i >= 0; i--)
      made[i] = `(${skeleton.children[i]
        .map((child) => made[child])
        .sort()
        .join("")})`;
    builds = made;
    known.set(skeleton, builds);
  }
  return builds;
}
