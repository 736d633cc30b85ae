import { readFileSync } from "node:fs";
import { join } from "node:path";
import { atOnce } from "../../src/inPieces.ts";
import { type Box, descend, type Valued } from "../../src/maths/quasiNewton.ts";
import { beale, boxOf, descentCases, powell, rosenbrock, wood } from "../help/descentCases.ts";

/*
 * Published test functions: Rosenbrock 1960, Beale 1958, Powell 1962 and Wood's, as they stand in Moré, Garbow & Hillstrom,
 * "Testing unconstrained optimization software" (ACM TOMS 7, 1981). Formulas and solutions are from memory.
 */

/** SciPy's L-BFGS-B from the same starts: see reference/descent.py. */
const reference = JSON.parse(readFileSync(join(__dirname, "../../../../reference/descent.json"), "utf8")) as {
  cases: readonly { name: string; value: number; evaluations: number }[];
};

function lowest(ask: Valued, start: readonly number[], box = boxOf(start.length)) {
  const descent = descend(ask, Float64Array.from(start), box, { tolerance: 1e-9 });
  for (let n = 0; n < 500 && atOnce(descent.step()); n++);
  return descent;
}

describe("the lowest place of published test functions", () => {
  test.each<[string, Valued, number[], number[]]>([
    ["Rosenbrock", rosenbrock, [-1.2, 1], [1, 1]],
    ["Beale", beale, [1, 1], [3, 0.5]],
    ["Wood", wood, [-3, -1, -3, -1], [1, 1, 1, 1]],
  ])("%s", (_, ask, start, solution) => {
    const { x, value } = lowest(ask, start);
    expect(value).toBeLessThan(1e-12);
    for (const [i, one] of solution.entries()) expect(Math.abs(x[i] - one)).toBeLessThan(1e-6);
  });

  test("Powell's singular function, whose curvature is gone at its lowest place", () => {
    expect(lowest(powell, [3, -1, 0, 1]).value).toBeLessThan(1e-12);
  });

  test("within bounds: Rosenbrock's with one number kept away from where it would go", () => {
    const box = { low: Float64Array.of(-10, 1.5), high: Float64Array.of(0.5, 10) };
    const { x } = lowest(rosenbrock, [-2, 1.9], box);
    // On the edge b = 1.5 the slope along a is gone where 400a³ − 598a − 2 = 0; of its valleys only the left one is open.
    expect(x[1]).toBe(1.5);
    expect(Math.abs(400 * x[0] ** 3 - 598 * x[0] - 2)).toBeLessThan(1e-5);
    expect(x[0]).toBeLessThan(-1);
  });

  test("many numbers, half of them at their bounds", () => {
    const size = 200;
    const ask: Valued = (x, slope) => {
      let value = 0;
      for (let i = 0; i < size; i++) {
        value += ((1 + i) * (x[i] - 1) ** 2) / 2;
        slope[i] = (1 + i) * (x[i] - 1);
      }
      return value;
    };
    const box: Box = { low: new Float64Array(size).fill(-2), high: Float64Array.from({ length: size }, (_, i) => (i % 2 ? 0.5 : 5)) };
    const descent = lowest(
      ask,
      Array.from({ length: size }, () => -2),
      box,
    );
    for (const [i, one] of descent.x.entries()) expect(one).toBeCloseTo(i % 2 ? 0.5 : 1, 6);
    expect(descent.evaluations).toBeLessThan(160);
  });

  test("bounds that change while it goes: it goes on from where it is, within them", () => {
    const descent = descend(rosenbrock, Float64Array.of(-1.2, 1), boxOf(2));
    for (let n = 0; n < 8; n++) atOnce(descent.step());
    const there = descent.x.slice();
    descent.changed({ low: Float64Array.of(-5, -5), high: Float64Array.of(0.8, 5) });
    for (const [i, one] of descent.x.entries()) expect(one).toBe(Math.min(i === 0 ? 0.8 : 5, there[i]));
    while (atOnce(descent.step()));
    expect(descent.x[0]).toBe(0.8);
    expect(descent.x[1]).toBeCloseTo(0.64, 6);
  });
});

test("as low as SciPy's L-BFGS-B gets from the same start, in at most half as many evaluations more", async () => {
  for (const { name, ask, start, box, most } of await descentCases()) {
    const theirs = reference.cases.find((one) => one.name === name);
    if (!theirs) throw new Error(`${name} is not in reference/descent.json`);
    const descent = descend(ask, start, box, { tolerance: 1e-9 });
    const allowed = Math.min(1.5 * theirs.evaluations, 1.5 * most);
    while (descent.evaluations < allowed && descent.value > theirs.value * 1.01 + 1e-12 && atOnce(descent.step()));
    expect(`${name}: ${descent.value <= theirs.value * 1.01 + 1e-12 ? "as low" : `${descent.value} against ${theirs.value}`}`).toBe(
      `${name}: as low`,
    );
  }
});
