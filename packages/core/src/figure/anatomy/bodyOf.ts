import { findSides, axisNumber } from "../sides.ts";
import { partnersByPlace } from "../partnersByPlace.ts";
import type { Rig } from "../../model/rig.ts";
import { isOwn, pathTo, type Skeleton } from "./skeleton.ts";

/** A chain of controls that goes out from the trunk, the innermost first. */
export interface Limb {
  readonly chain: readonly number[];
  /** Places in the chain: where it begins to swing (hip, shoulder), bends (knee, elbow) and ends (foot, hand). */
  readonly root: number;
  readonly bend: number;
  readonly end: number;
}

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

type Side = "left" | "right";

/** Joints nearer to each other than this share of the height stand at one place. */
const ONE_PLACE = 0.004;
/** A leg is at least so long, as a share of the height; an arm of the height too. */
const LEG = 0.2;
const ARM = 0.15;

const known = new WeakMap<Skeleton, Body | null>();

/** The body of a skeleton; null when it does not stand on two legs. */
export function bodyOf(skeleton: Skeleton): Body | null {
  let body = known.get(skeleton);
  if (body === undefined) {
    body = find(skeleton);
    known.set(skeleton, body);
  }
  return body;
}

interface Pair {
  readonly left: readonly number[];
  readonly right: readonly number[];
  /** The control both hang on. */
  readonly fork: number;
  readonly length: number;
  readonly height: number;
}

function find(skeleton: Skeleton): Body | null {
  const own = skeleton.controls.map((control) => isOwn(control) && control.role === "figure");
  const places = skeleton.controls.map((_, i) => skeleton.place(i));
  const heights = places.flatMap(([, y], i) => (own[i] ? [y] : []));
  if (heights.length < 5) return null;
  const [ground, top] = [Math.min(...heights), Math.max(...heights)];
  const size = top - ground;
  if (!(size > 0)) return null;
  const across = acrossOf(skeleton);
  const pairs = pairedEnds(skeleton, own, across);
  // The longest chains that reach the ground are the legs.
  const legs = pairs
    .filter(({ length, height }) => length > LEG * size && height < ground + 0.15 * size)
    .sort((a, b) => b.length - a.length)[0];
  if (!legs) return null;
  const pelvis = legs.fork;
  const legSet = new Set([...legs.left, ...legs.right]);
  const arms =
    pairs
      .filter(
        ({ left, right, fork, length }) =>
          length > ARM * size &&
          ![...left, ...right].some((i) => legSet.has(i)) &&
          places[fork][1] > places[pelvis][1] - 0.05 * size &&
          isUnder(skeleton, fork, pelvis),
      )
      .sort((a, b) => b.length - a.length)[0] ?? null;
  const armSet = new Set(arms ? [...arms.left, ...arms.right] : []);
  const trunkEnd = highest(skeleton, pelvis, (i) => own[i] && !legSet.has(i) && !armSet.has(i));
  const up = pathTo(skeleton, trunkEnd);
  const whole = up.slice(up.indexOf(pelvis));
  const chest = arms ? Math.max(0, whole.indexOf(arms.fork)) : Math.min(1, whole.length - 1);
  const head = headIn(skeleton, whole, chest, own);
  const trunk = whole.slice(0, head + 1);
  const above = pathTo(skeleton, pelvis).slice(0, -1);
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

/** The axis of the world (0 or 2) along which left and right lie, and where its middle is. */
function acrossOf({ controls }: Skeleton): { axis: number; at: number } {
  const rig: Rig = { id: "", name: "", figure: null, controls };
  const told = controls.some(({ id, partner }) => partner !== null && partner !== id && controls.some((one) => one.id === partner));
  const sides = findSides(told ? rig : { ...rig, controls: partnersByPlace(rig) });
  return { axis: axisNumber(sides) === 1 ? 0 : axisNumber(sides), at: sides.at };
}

/** Ends (what nothing hangs on) that lie across from each other, with the ways to them from where they part. */
function pairedEnds(skeleton: Skeleton, own: readonly boolean[], { axis, at }: { axis: number; at: number }): Pair[] {
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

function lengthOf(skeleton: Skeleton, chain: readonly number[]): number {
  let sum = 0;
  for (let n = 1; n < chain.length; n++) sum += apart(skeleton, chain[n - 1], chain[n]);
  return sum;
}

function apart(skeleton: Skeleton, a: number, b: number): number {
  const [p, q] = [skeleton.place(a), skeleton.place(b)];
  return Math.hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2]);
}

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

/** What a joint within a bone, and a bend there, take from how well it does for a bone. */
const JOINT_WITHIN = 0.7;
const BENT_WITHIN = 4;
/** Several things hang on most hands. */
const FORK = 1.4;

/**
 * Where the chains of two sides swing, bend and end: the three joints between which lie the two longest bones that are
 * about as long as each other and straight in themselves. Chains of as many joints are judged together.
 */
function limbs(skeleton: Skeleton, { left, right }: Pair, size: number): Record<Side, Limb> {
  const [one, other] = [triplesOf(skeleton, left, size), triplesOf(skeleton, right, size)];
  const alike = left.length === right.length;
  const limb = (chain: readonly number[], own: ReadonlyMap<string, number>, across: ReadonlyMap<string, number>): Limb => {
    let best = `0,${Math.min(1, chain.length - 1)},${chain.length - 1}`;
    let most = -1;
    for (const [triple, worth] of own) {
      const sum = worth + (alike ? (across.get(triple) ?? 0) : 0);
      if (sum > most * (1 + 1e-9)) [best, most] = [triple, sum];
    }
    const [root, bend, end] = best.split(",").map(Number);
    return { chain, root, bend, end };
  };
  return { left: limb(left, one, other), right: limb(right, other, one) };
}

/** How well every three joints of a chain do for where it swings, bends and ends, by their places in it. */
function triplesOf(skeleton: Skeleton, chain: readonly number[], size: number): Map<string, number> {
  const along = [0];
  for (let n = 1; n < chain.length; n++) along.push(along[n - 1] + apart(skeleton, chain[n - 1], chain[n]));
  const isOnePlace = (n: number) => along[n] - along[n - 1] < ONE_PLACE * size;
  /** How well two joints do for the ends of a bone: 1 when it is straight and nothing is between. */
  const bone = (a: number, b: number) => {
    let within = 0;
    for (let n = a + 1; n < b; n++) if (!isOnePlace(n)) within++;
    const straight = apart(skeleton, chain[a], chain[b]) / (along[b] - along[a]);
    return Math.pow(straight, BENT_WITHIN) * Math.pow(JOINT_WITHIN, within);
  };
  const worths = new Map<string, number>();
  for (let a = 0; a < chain.length; a++) {
    // Of joints at one place the last is the one the bone hangs on.
    if (a + 1 < chain.length && isOnePlace(a + 1)) continue;
    for (let b = a + 1; b < chain.length; b++)
      for (let c = b + 1; c < chain.length; c++) {
        // Of joints at one place the first closes the bone.
        if (isOnePlace(c) || isOnePlace(b)) continue;
        const [upper, lower] = [along[b] - along[a], along[c] - along[b]];
        const even = Math.min(upper, lower) / Math.max(upper, lower);
        const fork = skeleton.children[chain[c]].length > 1 ? FORK : 1;
        worths.set(`${a},${b},${c}`, (upper + lower) * even * even * bone(a, b) * bone(b, c) * fork);
      }
  }
  return worths;
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
