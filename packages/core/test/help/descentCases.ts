import { capturedSignal } from "../../../demo/src/shots/capturedSignal.ts";
import { halfAWalk } from "../../../demo/src/shots/halfAWalk.ts";
import type { Box, Valued } from "../../src/maths/quasiNewton.ts";
import { Chance } from "./chance.ts";
import { objectiveOf, shaken } from "./tuned.ts";

/** A function to find the lowest place of, from where, and within what. */
export interface DescentCase {
  readonly name: string;
  readonly ask: Valued;
  readonly start: Float64Array;
  readonly box: Box;
  /** So many evaluations are enough to compare. */
  readonly most: number;
}

const residuals = (parts: (x: Float64Array) => readonly number[]): Valued => {
  const value = (x: Float64Array) => parts(x).reduce((sum, r) => sum + r * r, 0);
  return (x, slope) => {
    for (let i = 0; i < x.length; i++) {
      const h = 1e-6 * Math.max(1, Math.abs(x[i]));
      const [more, less] = [x.slice(), x.slice()];
      more[i] += h;
      less[i] -= h;
      slope[i] = (value(more) - value(less)) / (2 * h);
    }
    return value(x);
  };
};

export const rosenbrock: Valued = ([a, b], slope) => {
  slope[0] = -400 * a * (b - a * a) - 2 * (1 - a);
  slope[1] = 200 * (b - a * a);
  return 100 * (b - a * a) ** 2 + (1 - a) ** 2;
};
export const beale = residuals(([a, b]) => [1.5 - a * (1 - b), 2.25 - a * (1 - b * b), 2.625 - a * (1 - b ** 3)]);
export const powell = residuals(([a, b, c, d]) => [a + 10 * b, Math.sqrt(5) * (c - d), (b - 2 * c) ** 2, Math.sqrt(10) * (a - d) ** 2]);
export const wood = residuals(([a, b, c, d]) => [
  10 * (b - a * a),
  1 - a,
  Math.sqrt(90) * (d - c * c),
  1 - c,
  Math.sqrt(10) * (b + d - 2),
  (b - d) / Math.sqrt(10),
]);

export const boxOf = (size: number, reach = Number.POSITIVE_INFINITY): Box => ({
  low: new Float64Array(size).fill(-reach),
  high: new Float64Array(size).fill(reach),
});

const plain = (name: string, ask: Valued, start: readonly number[], box = boxOf(start.length)): DescentCase => ({
  name,
  ask,
  start: Float64Array.from(start),
  box,
  most: 1000,
});

/** The strain of a demo shot whose keys were moved by chance, as a function of its keys. */
async function strained(name: string, only: readonly string[], reach: number, keep: (key: string) => boolean): Promise<DescentCase> {
  const shot = shaken(name.startsWith("walk") ? await halfAWalk() : await capturedSignal(), new Chance(7), 1);
  const { objective, costs } = objectiveOf(shot, "base", { slopes: true, times: false }, { only, keep });
  const size = objective.variables.length;
  const weights = costs.map(() => 1);
  return {
    name,
    ask: (x, slope) => objective.strain(x, weights, slope),
    start: new Float64Array(size),
    box: boxOf(size, reach),
    most: 60,
  };
}

/** Published test functions, and strains. */
export async function descentCases(): Promise<DescentCase[]> {
  const bounded = { low: Float64Array.of(-10, 1.5), high: Float64Array.of(0.5, 10) };
  const turns = (key: string) => key.includes("rotate");
  return [
    plain("Rosenbrock", rosenbrock, [-1.2, 1]),
    plain("Beale", beale, [1, 1]),
    plain("Powell", powell, [3, -1, 0, 1]),
    plain("Wood", wood, [-3, -1, -3, -1]),
    plain("Rosenbrock within bounds", rosenbrock, [-2, 1.9], bounded),
    await strained("walk, jerk and feet", ["jerk", "feet"], Number.POSITIVE_INFINITY, turns),
    await strained("walk, jerk and feet, within two degrees", ["jerk", "feet"], 2, turns),
    await strained("walk, arcs, spacing, effort", ["arc", "spacing", "effort"], 3, turns),
    await strained("capture, jerk, one arm", ["jerk"], 2, (key) => turns(key) && /^(upper-arm|forearm|hand)-left/.test(key)),
  ];
}
