import { type Box, descend, type Valued } from "../../src/maths/quasiNewton.ts";

/*
 * Published test functions: Rosenbrock 1960, Beale 1958, Powell 1962, Wood, all as numbered in Moré, Garbow & Hillstrom,
 * "Testing unconstrained optimization software" (ACM TOMS 7, 1981); the bounded one is Rosenbrock's in problem 1 of
 * Hock & Schittkowski 1981. Formulas and solutions are from memory.
 */
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
const rosenbrock: Valued = ([a, b], slope) => {
  slope[0] = -400 * a * (b - a * a) - 2 * (1 - a);
  slope[1] = 200 * (b - a * a);
  return 100 * (b - a * a) ** 2 + (1 - a) ** 2;
};
const beale = residuals(([a, b]) => [1.5 - a * (1 - b), 2.25 - a * (1 - b * b), 2.625 - a * (1 - b ** 3)]);
const powell = residuals(([a, b, c, d]) => [a + 10 * b, Math.sqrt(5) * (c - d), (b - 2 * c) ** 2, Math.sqrt(10) * (a - d) ** 2]);
const wood = residuals(([a, b, c, d]) => [
  10 * (b - a * a),
  1 - a,
  Math.sqrt(90) * (d - c * c),
  1 - c,
  Math.sqrt(10) * (b + d - 2),
  (b - d) / Math.sqrt(10),
]);

const free = (size: number): Box => ({
  low: new Float64Array(size).fill(Number.NEGATIVE_INFINITY),
  high: new Float64Array(size).fill(Number.POSITIVE_INFINITY),
});

function lowest(valued: Valued, start: readonly number[], box = free(start.length)) {
  const descent = descend(valued, Float64Array.from(start), box, { tolerance: 1e-9 });
  for (let n = 0; n < 500 && descent.step(); n++);
  return descent;
}

describe("the lowest place of published test functions", () => {
  test.each<[string, Valued, number[], number[], number]>([
    // The last column: evaluations of SciPy 1.10's L-BFGS-B (m = 10, gtol 1e-9, ftol 0) from the same start; see reference/descent.json.
    ["Rosenbrock", rosenbrock, [-1.2, 1], [1, 1], 1e-6],
    ["Beale", beale, [1, 1], [3, 0.5], 1e-6],
    ["Wood", wood, [-3, -1, -3, -1], [1, 1, 1, 1], 1e-6],
  ])("%s", (_, valued, start, solution, within) => {
    const { x, value } = lowest(valued, start);
    expect(value).toBeLessThan(1e-12);
    for (const [i, one] of solution.entries()) expect(Math.abs(x[i] - one)).toBeLessThan(within);
  });

  test("Powell's singular function, whose curvature is gone at its lowest place", () => {
    const { value } = lowest(powell, [3, -1, 0, 1]);
    expect(value).toBeLessThan(1e-6 ** 2);
  });

  test("within bounds: Rosenbrock's with one number kept away from where it would go", () => {
    const box = { low: Float64Array.of(-10, 1.5), high: Float64Array.of(0.5, 10) };
    const { x } = lowest(rosenbrock, [-2, 1.9], box);
    // The lowest place on the edge b = 1.5, a ≤ 0.5: of both valleys only the left one is open. a solves 400a³ − 598a − 2 = 0.
    expect(x[1]).toBe(1.5);
    expect(Math.abs(400 * x[0] ** 3 - 598 * x[0] - 2)).toBeLessThan(1e-5);
    expect(x[0]).toBeLessThan(-1);
  });

  test("many numbers, half of them at their bounds, in few evaluations", () => {
    const size = 200;
    const valued: Valued = (x, slope) => {
      let value = 0;
      for (let i = 0; i < size; i++) {
        const stiff = 1 + i;
        value += (stiff * (x[i] - 1) ** 2) / 2;
        slope[i] = stiff * (x[i] - 1);
      }
      return value;
    };
    const box = { low: new Float64Array(size).fill(-2), high: Float64Array.from({ length: size }, (_, i) => (i % 2 ? 0.5 : 5)) };
    const descent = lowest(
      valued,
      Array.from({ length: size }, () => -2),
      box,
    );
    for (const [i, one] of descent.x.entries()) expect(one).toBeCloseTo(i % 2 ? 0.5 : 1, 6);
    expect(descent.evaluations).toBeLessThan(160);
  });

  test("bounds that change while it goes: it goes on from where it is, within them", () => {
    const descent = descend(rosenbrock, Float64Array.of(-1.2, 1), free(2));
    for (let n = 0; n < 8; n++) descent.step();
    const there = descent.x.slice();
    descent.changed({ low: Float64Array.of(-5, -5), high: Float64Array.of(0.8, 5) });
    for (const [i, one] of descent.x.entries()) expect(one).toBe(Math.min(i === 0 ? 0.8 : 5, there[i]));
    while (descent.step());
    expect(descent.x[0]).toBe(0.8);
    expect(descent.x[1]).toBeCloseTo(0.64, 6);
  });
});
