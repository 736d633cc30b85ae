import { apart, type Pair } from "./chains.ts";
import type { Skeleton } from "./skeleton.ts";

export type Side = "left" | "right";

/** A chain of controls that goes out from the trunk, the innermost first. */
export interface Limb {
  readonly chain: readonly number[];
  /** Places in the chain: where it begins to swing (hip, shoulder), bends (knee, elbow) and ends (foot, hand). */
  readonly root: number;
  readonly bend: number;
  readonly end: number;
}

/** Joints nearer to each other than this share of the height stand at one place. */
const ONE_PLACE = 0.004;
/** What a joint within a bone, and a bend there, take from how well it does for a bone. */
const JOINT_WITHIN = 0.7;
const BENT_WITHIN = 4;
/** Several things hang on most hands. */
const FORK = 1.4;

/**
 * Where the chains of two sides swing, bend and end: the three joints between which lie the two longest bones that are
 * about as long as each other and straight in themselves. Chains of as many joints are judged together.
 */
export function limbs(skeleton: Skeleton, { left, right }: Pair, size: number): Record<Side, Limb> {
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
