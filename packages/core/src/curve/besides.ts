import { Tangent, type Key, makeKey } from "./curve.ts";

/** How far beside a key its slopes are looked at, in frames. */
const BESIDE = 1e-3;
/** Slopes smaller than this are rounding. */
const NOTHING = 1e-9;

/** The times at which a motion is read for the slopes of a key: two before it, two after. */
export const besides = (time: number): readonly [number, number, number, number] => [
  time - 2 * BESIDE,
  time - BESIDE,
  time + BESIDE,
  time + 2 * BESIDE,
];

/**
 * A key with the slopes of a motion from its values beside it (see `besides`): differences to one side, of second order,
 * so that a corner stays one.
 */
export function slopedKey(time: number, value: number, [b2, b1, a1, a2]: ArrayLike<number> & Iterable<number>): Key {
  const clean = (slope: number) => (Math.abs(slope) < NOTHING ? 0 : slope);
  const slopeIn = clean((3 * value - 4 * b1 + b2) / (2 * BESIDE));
  const slopeOut = clean((4 * a1 - a2 - 3 * value) / (2 * BESIDE));
  const isOne = Math.abs(slopeIn - slopeOut) <= 1e-4 * (Math.abs(slopeIn) + Math.abs(slopeOut));
  const both = (a1 - b1) / (2 * BESIDE);
  return { ...makeKey(time, value, Tangent.free), slopeIn: isOne ? clean(both) : slopeIn, slopeOut: isOne ? clean(both) : slopeOut };
}
