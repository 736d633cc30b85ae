import { normalise, turnBetween, turnVector } from "../../maths/vector.ts";
import { alongChain, sharesAlong } from "../shape/alongChain.ts";
import { type Body, bodyOf } from "../../figure/anatomy/bodyOf.ts";
import type { Limb } from "../../figure/anatomy/limb.ts";
import { headingTurn, wayOf } from "../fit/restPoses.ts";
import { isOwn, type Skeleton } from "../../figure/anatomy/skeleton.ts";
import type { Found, Strategy } from "./strategy.ts";

/**
 * The control of the same part of the body, told from where things stand in the rest pose: which chains are legs and
 * arms, where they bend, which is the trunk, the head, the tail; what is at the ends, by where it lies there. Names and
 * the order of things count for nothing.
 */
export const byShape: Strategy = {
  id: "shape",
  title: "by the shape of the rest pose",
  find({ from, to, isOpenFrom, isOpenTo }) {
    const [mine, theirs] = [bodyOf(from), bodyOf(to)];
    if (!mine || !theirs) return [];
    const found: Found[] = [];
    const put = (i: number, at: number, sure: number) => {
      if (isOpenFrom(i) && isOpenTo(at)) found.push({ from: i, to: at, sure });
    };
    const chains = (a: readonly number[], b: readonly number[]) => {
      const [mineAlong, theirsAlong] = [sharesAlong(from, a), sharesAlong(to, b)];
      for (const [i, j] of alongChain(mineAlong, theirsAlong)) put(a[i], b[j], 0.8 - 0.6 * Math.abs(mineAlong[i] - theirsAlong[j]));
    };
    trunks([from, to], mine, theirs, put, chains);
    for (const side of ["left", "right"] as const) {
      limbs(from, to, mine.legs[side], theirs.legs[side], put, chains);
      if (mine.arms && theirs.arms) limbs(from, to, mine.arms[side], theirs.arms[side], put, chains);
    }
    chains(mine.tail, theirs.tail);
    atEnds(from, to, mine.trunk[mine.head], theirs.trunk[theirs.head], headingTurn(mine.facing, theirs.facing), put);
    return found;
  },
};

type Put = (i: number, at: number, sure: number) => void;
type Chains = (a: readonly number[], b: readonly number[]) => void;

function trunks([from, to]: readonly [Skeleton, Skeleton], mine: Body, theirs: Body, put: Put, chains: Chains): void {
  put(mine.trunk[0], theirs.trunk[0], 0.9);
  put(mine.trunk[mine.chest], theirs.trunk[theirs.chest], 0.85);
  chains(mine.trunk.slice(1, mine.chest), theirs.trunk.slice(1, theirs.chest));
  if (mine.isHeadSure && theirs.isHeadSure) {
    put(mine.trunk[mine.head], theirs.trunk[theirs.head], 0.85);
    chains(mine.trunk.slice(mine.chest + 1, mine.head), theirs.trunk.slice(theirs.chest + 1, theirs.head));
  } else {
    // One of them may end in a hat or a crown: by how far above the chest they are, in lengths of the back.
    const [a, b] = [aboveChest(from, mine), aboveChest(to, theirs)];
    for (const [i, j] of alongChain(a.far, b.far)) put(a.chain[i], b.chain[j], 0.8 - 0.4 * Math.min(1, Math.abs(a.far[i] - b.far[j])));
  }
  // What stands above the pelvis carries the whole: the topmost of both.
  if (mine.above.length > 0 && theirs.above.length > 0) put(mine.above[0], theirs.above[0], 0.7);
}

/** What stands above the chest, and how far along the way it is, in lengths of the back. */
function aboveChest(skeleton: Skeleton, { trunk, chest }: Body): { chain: number[]; far: number[] } {
  const lengths = trunk.map((i, n) => (n === 0 ? 0 : Math.hypot(...wayOf(skeleton, trunk[n - 1], i))));
  const along = lengths.map((_, n) => lengths.slice(0, n + 1).reduce((sum, length) => sum + length, 0));
  const back = along[chest] || 1;
  return { chain: trunk.slice(chest + 1), far: along.slice(chest + 1).map((sum) => (sum - along[chest]) / back) };
}

function limbs(from: Skeleton, to: Skeleton, mine: Limb, theirs: Limb, put: Put, chains: Chains): void {
  put(mine.chain[mine.root], theirs.chain[theirs.root], 0.9);
  put(mine.chain[mine.bend], theirs.chain[theirs.bend], 0.9);
  put(mine.chain[mine.end], theirs.chain[theirs.end], 0.9);
  // What lies before a limb (a collar bone), counted from the limb inward; those at one place with it stand for nothing.
  const inner = (skeleton: Skeleton, { chain, root }: Limb) =>
    chain
      .slice(0, root)
      .filter((i) => !isAt(skeleton, i, chain[root]))
      .reverse();
  const [a, b] = [inner(from, mine), inner(to, theirs)];
  for (let n = 0; n < Math.min(a.length, b.length); n++) put(a[n], b[n], 0.75);
  // Levels within the two bones, as twists are.
  chains(mine.chain.slice(mine.root + 1, mine.bend), theirs.chain.slice(theirs.root + 1, theirs.bend));
  chains(mine.chain.slice(mine.bend + 1, mine.end), theirs.chain.slice(theirs.bend + 1, theirs.end));
  atEnds(from, to, mine.chain[mine.end], theirs.chain[theirs.end], limbTurn(from, to, mine, theirs), put);
}

function isAt(skeleton: Skeleton, i: number, other: number): boolean {
  const [p, q] = [skeleton.place(i), skeleton.place(other)];
  return Math.hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2]) < 1e-9;
}

/** Things at an end that lie this near to each other, as a share of how far they reach, are taken for the same. */
const NEAR = 0.6;

/**
 * What hangs on an end (fingers on a hand, toes on a foot, ears on a head): chains whose last controls lie the most
 * alike from the end, measured by how far the farthest of them reaches.
 */
function atEnds(from: Skeleton, to: Skeleton, mine: number, theirs: number, turn: Float64Array, put: Put): void {
  const [a, b] = [branches(from, mine, turn), branches(to, theirs, NO_TURN)];
  const all = a.flatMap((one, i) => b.map((other, j) => ({ i, j, off: Math.hypot(...one.way.map((x, k) => x - other.way[k])) })));
  const [used, taken] = [new Set<number>(), new Set<number>()];
  for (const { i, j, off } of all.sort((x, y) => x.off - y.off)) {
    if (off > NEAR || used.has(i) || taken.has(j)) continue;
    used.add(i);
    taken.add(j);
    const sure = 0.7 - 0.4 * off;
    const [chain, other] = [a[i].chain, b[j].chain];
    for (let n = 0; n < Math.min(chain.length, other.length); n++) put(chain[n], other[n], sure);
  }
}

interface Branch {
  readonly chain: readonly number[];
  /** From the end to the branch's last control, as a share of the farthest. */
  readonly way: readonly number[];
}

const NO_TURN = Float64Array.of(0, 0, 0, 1);

/** The turn that lays the lower bone of one limb along that of another, so that ends are compared however limbs rest. */
function limbTurn(from: Skeleton, to: Skeleton, mine: Limb, theirs: Limb): Float64Array {
  const way = (skeleton: Skeleton, { chain, bend, end }: Limb) => wayOf(skeleton, chain[bend], chain[end]);
  const [a, b] = [way(from, mine), way(to, theirs)];
  const turn = NO_TURN.slice();
  if (normalise(a, 0) > 0 && normalise(b, 0) > 0) turnBetween(turn, 0, a, 0, b, 0);
  return turn;
}

function branches(skeleton: Skeleton, end: number, turn: Float64Array): Branch[] {
  const found = skeleton.children[end]
    .filter((i) => isOwn(skeleton.controls[i]))
    .map((i) => {
      const chain = [i];
      for (let at = skeleton.children[i][0]; at !== undefined; at = skeleton.children[at][0]) chain.push(at);
      const way = wayOf(skeleton, end, chain[chain.length - 1]);
      turnVector(way, 0, turn, 0, way, 0);
      return { chain, way: [...way] };
    });
  const reach = Math.max(0, ...found.map(({ way }) => Math.hypot(...way)));
  // What stands where the end stands has no place of its own.
  return found.flatMap(({ chain, way }) => (Math.hypot(...way) > 1e-9 * (1 + reach) ? [{ chain, way: way.map((x) => x / reach) }] : []));
}
