import reference from "../../../../reference/splines.json";
import { smoothingSpline } from "../../src/curve/fit/smoothingSpline.ts";

// SciPy's make_smoothing_spline, which solves the same problem in another way (B-splines).
test.each(reference.splines)("as SciPy has it: λ $lambda, weighted $weighted", ({ lambda, weighted, expected }) => {
  const smooth = smoothingSpline(reference.times, reference.values, lambda, weighted ? reference.weights : undefined);
  expected.forEach((value, i) => {
    expect(smooth[i]).toBeCloseTo(value, 7);
  });
});

test("without smoothing, and of fewer than three, everything stays; a straight line stays one", () => {
  expect([...smoothingSpline([1, 2, 5], [3, 1, 4], 0)]).toEqual([3, 1, 4]);
  expect([...smoothingSpline([1, 2], [3, 1], 10)]).toEqual([3, 1]);
  smoothingSpline([0, 1, 4, 9], [1, 3, 9, 19], 100).forEach((value, i) => {
    expect(value).toBeCloseTo([1, 3, 9, 19][i], 12);
  });
});

test("the more smoothing the less bending, down to the straight line of least squares", () => {
  const times = [0, 1, 2, 3, 4, 5];
  const values = [0, 2, -1, 3, 0, 4];
  const bending = (smooth: Float64Array) => smooth.slice(2).reduce((sum, v, i) => sum + Math.abs(v - 2 * smooth[i + 1] + smooth[i]), 0);
  const rows = [0.1, 1, 10, 1e7].map((lambda) => bending(smoothingSpline(times, values, lambda)));
  expect([...rows].sort((a, b) => b - a)).toEqual(rows);
  expect(rows[3]).toBeLessThan(1e-5);
});
