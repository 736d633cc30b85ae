import { apart, lengthOf, type Pair } from "./chains.ts";
import { type Limb, limbs, type Side } from "./limb.ts";
import { pathTo, type Skeleton } from "./skeleton.ts";
import { LEG, type Stance, stanceOf } from "./stance.ts";

/** Which parts of a rest pose are which, told from where things stand alone. */
export interface Body {
  /** From the pelvis to the head, both with. */
  readonly trunk: readonly number[];
  /** Places in the trunk: where the arms leave it, and the head. */
  readonly chest: number;
  readonly head: number;
  /** Several things hang on the head, as ears do; else it may be any of the last of the trunk. */
  readonly isHeadSure: boolean;
  /** What stands above the pelvis, the topmost first. */
  readonly above: readonly number[];
  readonly legs: Readonly<Record<Side, Limb>>;
  readonly arms: Readonly<Record<Side, Limb>> | null;
  /** From the pelvis out and back; may be empty. */
  readonly tail: readonly number[];
  /** The way it looks at rest, as an angle about the vertical in radians: 0 along +Z. */
  readonly facing: number;
  /** Heights at rest, scene units: of the ground it stands on, of the pelvis, of the top. */
  readonly ground: number;
  readonly pelvis: number;
  readonly top: number;
}

/** An arm is at least so long, as a share of the height. */
const ARM = 0.15;

const known = new WeakMap<Skeleton, Body | null>();

/** The body of a skeleton; null when it does not stand on two legs, or on two of four. */
export function bodyOf(skeleton: Skeleton): Body | null {
  let body = known.get(skeleton);
  if (body === undefined) {
    const stance = stanceOf(skeleton);
    body = stance && !stance.others ? find(skeleton, stance) : null;
    known.set(skeleton, body);
  }
  return body;
}

/** Joints within this share of the height of where the legs meet are of the pelvis. */
const PELVIS = 0.12;

/**
 * Where the trunk begins and how it goes up. Mostly both legs and spine hang on the pelvis; where the spine hangs beside a
 * pelvis of the legs' own, both on one root, it begins at that root when that is near by, else at the legs' pelvis.
 */
function trunkFrom(skeleton: Skeleton, pelvis: number, size: number, counts: (i: number) => boolean): readonly number[] {
  const upFrom = (base: number) =>
    pathTo(
      skeleton,
      highest(skeleton, base, (i) => counts(i) && i !== pelvis),
    );
  const own = upFrom(pelvis);
  const rises = (path: readonly number[]) => skeleton.place(path[path.length - 1])[1] > skeleton.place(pelvis)[1] + LEG * size;
  if (rises(own)) return own.slice(own.indexOf(pelvis));
  for (let base = skeleton.parents[pelvis]; base >= 0; base = skeleton.parents[base]) {
    const up = upFrom(base);
    if (!rises(up)) continue;
    const way = up.slice(up.indexOf(base));
    if (apart(skeleton, base, pelvis) < PELVIS * size) return way;
    if (apart(skeleton, way[1], pelvis) < 2 * PELVIS * size) return [pelvis, ...way.slice(1)];
    break;
  }
  return own.slice(own.indexOf(pelvis));
}

function find(skeleton: Skeleton, { own, places, across, pairs, legs, ground, top, size }: Stance): Body {
  const pelvis = legs.fork;
  const legSet = new Set([...legs.left, ...legs.right]);
  const root = trunkRoot(
    skeleton,
    trunkFrom(skeleton, pelvis, size, (i) => own[i] && !legSet.has(i)),
    pelvis,
  );
  const isHigh = ({ fork }: Pair) => places[fork][1] > places[pelvis][1] + 0.1 * size;
  const arms =
    pairs
      .filter(
        ({ left, right, fork, length }) =>
          length > ARM * size &&
          ![...left, ...right].some((i) => legSet.has(i)) &&
          places[fork][1] > places[pelvis][1] - 0.05 * size &&
          isUnder(skeleton, fork, root),
      )
      // Arms leave the trunk above the legs; only where nothing does they may hang where a coat does.
      .sort((a, b) => Number(isHigh(b)) - Number(isHigh(a)) || b.length - a.length)[0] ?? null;
  const armSet = new Set(arms ? [...arms.left, ...arms.right] : []);
  const whole = trunkFrom(skeleton, pelvis, size, (i) => own[i] && !legSet.has(i) && !armSet.has(i));
  const chest = arms ? Math.max(0, whole.indexOf(arms.fork)) : Math.min(1, whole.length - 1);
  const head = headIn(skeleton, whole, chest, own);
  const trunk = whole.slice(0, head + 1);
  const above = pathTo(skeleton, trunk[0]).slice(0, -1);
  const facing = facingOf(skeleton, legs, across);
  const sided = sidedBy(places, across, facing);
  return {
    trunk,
    chest: Math.min(chest, trunk.length - 1),
    head: trunk.length - 1,
    isHeadSure: skeleton.children[trunk[trunk.length - 1]].filter((i) => own[i]).length > 1,
    above,
    legs: limbs(skeleton, sided(legs), size),
    arms: arms ? limbs(skeleton, sided(arms), size) : null,
    tail: tailOf(skeleton, pelvis, own, new Set([...trunk, ...legSet, ...armSet]), size),
    facing,
    ground,
    pelvis: places[pelvis][1],
    top,
  };
}

/** The control on which all of the trunk hangs, and what hangs on it. */
const trunkRoot = (skeleton: Skeleton, trunk: readonly number[], pelvis: number): number =>
  trunk.length > 1 && !isUnder(skeleton, trunk[1], pelvis) ? skeleton.parents[trunk[1]] : pelvis;

const isUnder = (skeleton: Skeleton, i: number, other: number) => pathTo(skeleton, i).includes(other);

/** The highest control below one. */
function highest(skeleton: Skeleton, from: number, counts: (i: number) => boolean): number {
  let best = from;
  const visit = (i: number) => {
    if (skeleton.place(i)[1] > skeleton.place(best)[1]) best = i;
    for (const child of skeleton.children[i]) if (counts(child)) visit(child);
  };
  visit(from);
  return best;
}

/** Where on the way up the head is: the first above the chest on which several things hang, or else the last. */
function headIn(skeleton: Skeleton, whole: readonly number[], chest: number, own: readonly boolean[]): number {
  for (let n = chest + 1; n < whole.length; n++) if (skeleton.children[whole[n]].filter((i) => own[i]).length > 1) return n;
  return whole.length - 1;
}

/** The way a figure looks: where its toes point, or, when it has none, that of +Z (of +X where its sides lie along Z). */
function facingOf(skeleton: Skeleton, { left, right }: Pair, { axis }: { axis: number }): number {
  const forward = axis === 0 ? 2 : 0;
  let sum = 0;
  for (const chain of [left, right]) {
    const low = chain.slice(-2);
    const end = skeleton.controls[chain[chain.length - 1]];
    if (low.length === 2) sum += skeleton.place(low[1])[forward] - skeleton.place(low[0])[forward];
    if (end.tip) sum += end.tip[forward];
  }
  if (axis === 0) return sum < 0 ? Math.PI : 0;
  return sum < 0 ? -Math.PI / 2 : Math.PI / 2;
}

/** Puts a pair's sides where left and right are for who looks that way. */
function sidedBy(places: readonly Float64Array[], { axis }: { axis: number }, facing: number) {
  // Left is the vertical × the way it looks.
  const left = axis === 0 ? Math.cos(facing) : -Math.sin(facing);
  return (pair: Pair): Pair => {
    const [a, b] = [places[pair.left[pair.left.length - 1]], places[pair.right[pair.right.length - 1]]];
    return (a[axis] - b[axis]) * left >= 0 ? pair : { ...pair, left: pair.right, right: pair.left };
  };
}

/** The longest chain from the pelvis that is no limb and no trunk. */
function tailOf(skeleton: Skeleton, pelvis: number, own: readonly boolean[], taken: ReadonlySet<number>, size: number): number[] {
  let best: number[] = [];
  let most = 0.08 * size;
  const visit = (i: number, chain: readonly number[]) => {
    const next = [...chain, i];
    const length = apart(skeleton, pelvis, next[0]) + lengthOf(skeleton, next);
    if (length > most) [best, most] = [next, length];
    for (const child of skeleton.children[i]) if (own[child] && !taken.has(child)) visit(child, next);
  };
  for (const child of skeleton.children[pelvis]) if (own[child] && !taken.has(child)) visit(child, []);
  return best;
}
