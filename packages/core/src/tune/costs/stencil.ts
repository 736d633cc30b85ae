import type { FigureMotion } from "../figureMotion.ts";

/** Some frames before and after one, weighed and added: a difference of a path. */
export interface Stencil {
  /** Where it begins, from the frame it stands for. */
  readonly from: number;
  readonly weights: readonly number[];
}

export const SECOND: Stencil = { from: -1, weights: [1, -2, 1] };
export const THIRD: Stencil = { from: -1, weights: [-1, 3, -3, 1] };
/** How far a place is from where the two on either side of it would have it (their cubic): a fourth difference. */
export const OFF: Stencil = { from: -2, weights: [1 / 6, -4 / 6, 1, -4 / 6, 1 / 6] };

/** Does the stencil lie within so many frames there? */
export const fits = ({ from, weights }: Stencil, frame: number, count: number): boolean =>
  frame + from >= 0 && frame + from + weights.length <= count;

const pointsIn = ({ places, count }: FigureMotion): number => places.length / (3 * count);

/** The difference of a point's path at a frame. */
export function differ(out: Float64Array, motion: FigureMotion, point: number, frame: number, { from, weights }: Stencil): void {
  const points = pointsIn(motion);
  out.fill(0);
  for (let w = 0; w < weights.length; w++) {
    const at = ((frame + from + w) * points + point) * 3;
    for (let k = 0; k < 3; k++) out[k] += weights[w] * motion.places[at + k];
  }
}

/** Something changes by `by` with that difference: what it means for the places. */
export function handOn(slope: FigureMotion, point: number, frame: number, { from, weights }: Stencil, by: Float64Array): void {
  const points = pointsIn(slope);
  for (let w = 0; w < weights.length; w++) {
    const at = ((frame + from + w) * points + point) * 3;
    for (let k = 0; k < 3; k++) slope.places[at + k] += weights[w] * by[k];
  }
}

/** A weighed point. */
export interface Weighed {
  readonly point: number;
  readonly share: number;
}

/**
 * The squares of a difference of some paths, over `seen` squared, meant over the frames at which there is one; shares of
 * the points add up to 1. Strains are the roots of the weighed squares. See `Judge.judge`.
 */
export function judgeStencil(
  paths: readonly Weighed[],
  stencil: Stencil,
  seen: number,
  motion: FigureMotion,
  strain: Float64Array,
  slope: FigureMotion | null,
  weight: number,
): number {
  const { count } = motion;
  const frames = Math.max(1, count - stencil.weights.length + 1);
  const off = new Float64Array(3);
  const by = new Float64Array(3);
  let sum = 0;
  for (let f = 0; f < count; f++) {
    strain[f] = 0;
    if (!fits(stencil, f, count)) continue;
    let squares = 0;
    for (const { point, share } of paths) {
      differ(off, motion, point, f, stencil);
      squares += share * (off[0] ** 2 + off[1] ** 2 + off[2] ** 2);
      if (!slope) continue;
      for (let k = 0; k < 3; k++) by[k] = (weight * share * 2 * off[k]) / (seen * seen * frames);
      handOn(slope, point, f, stencil, by);
    }
    strain[f] = Math.sqrt(squares);
    sum += squares;
  }
  return sum / (seen * seen * frames);
}

/** Of some points the one whose difference is largest at a frame, and how large it is; null at a frame that has none. */
export function worstOf<Named extends { readonly point: number }>(
  paths: readonly Named[],
  stencil: Stencil,
  motion: FigureMotion,
  frame: number,
): { readonly one: Named; readonly amount: number } | null {
  if (!fits(stencil, frame, motion.count)) return null;
  const off = new Float64Array(3);
  let worst: { one: Named; amount: number } | null = null;
  for (const one of paths) {
    differ(off, motion, one.point, frame, stencil);
    const amount = Math.hypot(off[0], off[1], off[2]);
    if (!worst || amount > worst.amount) worst = { one, amount };
  }
  return worst;
}
