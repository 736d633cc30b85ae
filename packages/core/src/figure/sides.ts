import { figureControls, type Rig, type Sides } from "../model/rig.ts";
import { restWorlds } from "./restPlace.ts";
import { layoutOf, placeAt } from "./rigLayout.ts";

const axes = ["x", "y", "z"] as const;

/** A middle nearer to 0 than this share of the figure's size is taken for 0: limbs are seldom quite even. */
const NEAR = 0.01;
/** An axis must be so many times better than X to be taken in its place. */
const BETTER = 4;

/** The number of an axis: 0, 1, 2. */
export const axisNumber = ({ axis }: Sides): 0 | 1 | 2 => axes.indexOf(axis) as 0 | 1 | 2;

const found = new WeakMap<Rig, Sides>();

/** Where left meets right in a rig's rest pose: as it was set, or found. */
export function sidesOf(rig: Rig): Sides {
  if (rig.sides) return rig.sides;
  const known = found.get(rig) ?? findSides(rig);
  found.set(rig, known);
  return known;
}

/**
 * The axis of the world about which partners rest most evenly, and where on it: in the middle of most of them and of the
 * controls between (the median, so that one uneven limb shifts nothing). Without partners it is x = 0.
 */
export function findSides(rig: Rig): Sides {
  const worlds = restWorlds(rig);
  const { controlIndex } = layoutOf(rig);
  const place = (id: string) => worlds.subarray(placeAt(controlIndex.get(id) as number)).subarray(0, 3);
  const both = figureControls(rig).flatMap(({ id, partner }) =>
    partner !== null && controlIndex.has(partner) ? [[place(id), place(partner)] as const] : [],
  );
  const pairs = both.filter(([a, b]) => a.byteOffset !== b.byteOffset);
  if (pairs.length === 0) return { axis: "x", at: 0 };
  const size = sizeOf(rig);
  const tried = [0, 1, 2].map((k) => {
    const at = medianOf(both.map(([a, b]) => (a[k] + b[k]) / 2));
    let off = 0;
    let apart = 0;
    for (const [a, b] of pairs) {
      for (let j = 0; j < 3; j++) off += Math.abs(j === k ? a[j] + b[j] - 2 * at : a[j] - b[j]);
      apart += Math.abs(a[k] - b[k]);
    }
    return { axis: axes[k], at: Math.abs(at) < NEAR * size ? 0 : at, off: apart > 1e-6 * size ? off : Number.POSITIVE_INFINITY };
  });
  const best = tried.reduce((least, one) => (one.off * BETTER < least.off ? one : least));
  return best.off === Number.POSITIVE_INFINITY ? { axis: "x", at: 0 } : { axis: best.axis, at: best.at };
}

export function medianOf(numbers: readonly number[]): number {
  const sorted = [...numbers].sort((a, b) => a - b);
  const half = sorted.length >> 1;
  return sorted.length % 2 === 1 ? sorted[half] : (sorted[half - 1] + sorted[half]) / 2;
}

/** A figure's rough size: the diagonal of the box its controls rest in, in scene units; 1 when it has none. */
export function sizeOf(rig: Rig): number {
  const worlds = restWorlds(rig);
  const { controlIndex } = layoutOf(rig);
  const places = figureControls(rig).map(({ id }) => placeAt(controlIndex.get(id) as number));
  const sides = [0, 1, 2].map((k) => {
    const along = places.map((at) => worlds[at + k]);
    return Math.max(...along) - Math.min(...along);
  });
  return Math.hypot(...sides) || 1;
}
