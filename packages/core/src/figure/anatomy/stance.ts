import type { Rig } from "../../model/rig.ts";
import { partnersByPlace } from "../partnersByPlace.ts";
import { axisNumber, findSides } from "../sides.ts";
import { type Pair, pairedEnds } from "./chains.ts";
import { limbs } from "./limb.ts";
import { isOwn, type Skeleton } from "./skeleton.ts";

/** A leg is at least so long, as a share of the height. */
export const LEG = 0.2;

/** What a figure stands on. */
export interface Stance {
  readonly own: readonly boolean[];
  readonly places: readonly Float64Array[];
  readonly across: { readonly axis: number; readonly at: number };
  readonly pairs: readonly Pair[];
  readonly legs: Pair;
  /** The other pair of legs of a figure that stands on four. */
  readonly others: Pair | null;
  readonly ground: number;
  readonly top: number;
  readonly size: number;
}

const known = new WeakMap<Skeleton, Stance | null>();

/** What a skeleton stands on at rest, worked out once for each; null when nothing paired reaches the ground. */
export function stanceOf(skeleton: Skeleton): Stance | null {
  let stance = known.get(skeleton);
  if (stance === undefined) {
    stance = find(skeleton);
    known.set(skeleton, stance);
  }
  return stance;
}

function find(skeleton: Skeleton): Stance | null {
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
  return { own, places, across, pairs, legs, others: otherLegs(skeleton, legs, pairs, ground + 0.15 * size), ground, top, size };
}

/** Legs stand at least so far before or behind others, as a share of their length: what hangs down beside one's own is a coat. */
const STRIDE = 0.5;

/** A second pair that reaches the ground well before or behind the first. */
function otherLegs(skeleton: Skeleton, legs: Pair, pairs: readonly Pair[], low: number): Pair | null {
  const mine = new Set([...legs.left, ...legs.right]);
  const footOf = ({ left, right }: Pair) => middleOf([left, right].map((chain) => skeleton.place(chain[chain.length - 1])));
  const [x, z] = footOf(legs);
  const found = pairs.filter((pair) => {
    if (pair.height >= low || pair.length < STRIDE * legs.length || [...pair.left, ...pair.right].some((i) => mine.has(i))) return false;
    const [u, w] = footOf(pair);
    return Math.hypot(u - x, w - z) > STRIDE * legs.length;
  });
  return found.sort((a, b) => b.length - a.length)[0] ?? null;
}

const middleOf = (places: readonly Float64Array[]) => [0, 2].map((k) => places.reduce((sum, place) => sum + place[k], 0) / places.length);

/** The ends of all legs of a figure that stands on four, by its shape; empty for any other. */
export function fourFeet(skeleton: Skeleton): number[] {
  const stance = stanceOf(skeleton);
  if (!stance?.others) return [];
  return [stance.legs, stance.others].flatMap((pair) =>
    Object.values(limbs(skeleton, pair, stance.size)).map(({ chain, end }) => chain[end]),
  );
}

/** The axis of the world (0 or 2) along which left and right lie, and where its middle is. */
function acrossOf({ controls }: Skeleton): { axis: number; at: number } {
  const rig: Rig = { id: "", name: "", figure: null, controls };
  const told = controls.some(({ id, partner }) => partner !== null && partner !== id && controls.some((one) => one.id === partner));
  const sides = findSides(told ? rig : { ...rig, controls: partnersByPlace(rig) });
  return { axis: axisNumber(sides) === 1 ? 0 : axisNumber(sides), at: sides.at };
}
