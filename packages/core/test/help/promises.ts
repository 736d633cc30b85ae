import { type Curve, type Key, makeKey, type RunOn, Tangent } from "../../src/curve/curve.ts";
import { sampleCurve } from "../../src/curve/track.ts";
import { KneaderError } from "../../src/errors.ts";
import type { Shot } from "../../src/model/shot.ts";
import { checkSettings, operationById } from "../../src/operations/catalogue.ts";
import { noContext, type Outcome, type Scope, WHOLE_FIGURE } from "../../src/operations/operation.ts";
import { runOperation } from "../../src/operations/runOperation.ts";
import { smallShot } from "./shots.ts";

/*
 * What the operations' help says stays as it was, stays as it was: over random curves (free, broken, weighted, stepped,
 * keyed between frames, with run-ons of every kind), at fractional times and in rounds.
 */

export const KEY = "spine.rotateX";
export const run = (id: string, shot: Shot, settings: object = {}, scope: Partial<Scope> = {}): Promise<Outcome> => {
  const operation = operationById(id);
  return runOperation(operation, shot, { ...WHOLE_FIGURE, ...scope }, checkSettings(operation, settings), noContext);
};
export const only = (curve: Curve, more: Partial<Shot> = {}) => smallShot({ [KEY]: curve }, more);
export const curveOf = (shot: Shot) => shot.base[KEY];
export const within = (range: { start: number; end: number }) => ({ controls: ["spine"], range });

/** A key whose two sides are free and have one slope. */
export const freeKey = (time: number, value: number, slope: number): Key => ({
  ...makeKey(time, value, Tangent.free),
  slopeIn: slope,
  slopeOut: slope,
});

/** How exact a value can be: values, and slopes over the times looked at. */
export const sizeOf = (curve: Curve) =>
  1e-9 * (1 + Math.max(...curve.values.map(Math.abs)) + 100 * Math.max(...curve.slopeIn.map(Math.abs), ...curve.slopeOut.map(Math.abs)));
export const jumps = ({ values, runIn, runOut }: Curve) =>
  (runIn.kind === "repeat" || runOut.kind === "repeat") && Math.abs(values[0] - values[values.length - 1]) > 1e-9;

/** Two curves are one at these times, when looked at `late` frames later in the second. */
export function expectSame(before: Curve, after: Curve, times: readonly number[], late = 0): void {
  const apart = (time: number) => Math.abs(sampleCurve(after, time + late) - sampleCurve(before, time));
  const worst = times.reduce((found, time) => (apart(time) > apart(found) ? time : found), times[0]);
  expect(Number.isNaN(apart(worst)) ? worst : apart(worst)).toBeLessThan(sizeOf(before));
}

export async function unlessRefused(work: () => Promise<Outcome>): Promise<Shot | null> {
  try {
    return (await work()).shot;
  } catch (error) {
    expect(error).toBeInstanceOf(KneaderError);
    return null;
  }
}

export const runs = { numRuns: 100, seed: 11 };
export const repeat = (rounds: number): RunOn => ({ kind: "repeat", rounds });
