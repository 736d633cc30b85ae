import { curveFrom, linearCurve, linearFrame, setHandle, setTangents, Tangent } from "@kneader/core";
import {
  type CurveAxes,
  curvePoints,
  handleAt,
  handlePlace,
  hitKey,
  keysInBox,
  keysInSight,
  markOf,
  valueRange,
} from "../src/bench/rack/curves/curveView.ts";
import { xOf } from "../src/bench/timeAxis.ts";
import { yOf } from "../src/bench/rack/curves/valueAxis.ts";

const axes: CurveAxes = { start: 0, end: 100, width: 1000, low: -10, high: 10, height: 400 };
const curve = curveFrom([
  [10, 0],
  [30, 8],
  [70, -6],
  [90, 2],
]);
const dense = linearCurve(
  linearFrame(Float64Array.from({ length: 20000 }, (_, i) => i)),
  Float64Array.from({ length: 20000 }, (_, i) => 5 * Math.sin(i / 3)),
);

describe("points of a curve", () => {
  test("follow the curve at each pixel step", () => {
    const points = curvePoints(curve, axes);
    for (let i = 0; i < points.length; i += 2) {
      if (Math.abs(points[i] - 300) < 0.5) expect(points[i + 1]).toBeCloseTo(yOf(axes, 8), 6);
    }
    expect(points.every(Number.isFinite)).toBe(true);
  });

  test("where keys are denser than pixels each column goes from its lowest to its highest value", () => {
    const wide = { ...axes, end: 20000 };
    const points = curvePoints(dense, wide);
    expect(points.length).toBeLessThan(2200);
    const ys = [...points].filter((_, i) => i % 2 === 1);
    expect(Math.min(...ys)).toBeCloseTo(yOf(wide, 5), 0);
    expect(Math.max(...ys)).toBeCloseTo(yOf(wide, -5), 0);
  });
});

describe("keys in sight", () => {
  test("only those within the frames shown", () => {
    expect(keysInSight(curve, { ...axes, start: 25, end: 75 })).toMatchObject({ from: 1, to: 3 });
  });

  test("none where they stand too close to be told apart", () => {
    expect(keysInSight(dense, { ...axes, end: 20000 })).toBeNull();
    expect(keysInSight(dense, { ...axes, end: 50 })).not.toBeNull();
  });
});

describe("picking", () => {
  const curves = [{ key: "a.rotateX", curve }];

  test("the nearest key within reach", () => {
    expect(hitKey(curves, xOf(axes, 30) + 4, yOf(axes, 8) - 3, axes)).toEqual({ key: "a.rotateX", index: 1 });
    expect(hitKey(curves, xOf(axes, 30) + 40, yOf(axes, 8), axes)).toBeNull();
  });

  test("keys in a box drawn either way", () => {
    const [x0, y0, x1, y1] = [xOf(axes, 20), yOf(axes, 9), xOf(axes, 80), yOf(axes, -7)];
    expect(keysInBox(curves, { x0, y0, x1, y1 }, axes)).toEqual({ "a.rotateX": [30, 70] });
    expect(keysInBox(curves, { x0: x1, y0: y1, x1: x0, y1: y0 }, axes)).toEqual({ "a.rotateX": [30, 70] });
    expect(keysInBox(curves, { x0: 0, y0: 0, x1: 5, y1: 5 }, axes)).toEqual({});
  });
});

describe("handles", () => {
  test("a handle put where it stands is the handle it was", () => {
    for (const side of ["in", "out"] as const) {
      const place = handlePlace(curve, 1, side, axes);
      if (!place) throw new Error("no handle");
      const { slope, weight } = handleAt(curve, 1, side, place.x, place.y, axes);
      expect(slope).toBeCloseTo(side === "in" ? curve.slopeIn[1] : curve.slopeOut[1], 9);
      expect(weight).toBeCloseTo(1 / 3, 9);
    }
  });

  test("dragged past the key it stays on its own side", () => {
    const { weight } = handleAt(curve, 1, "out", xOf(axes, 12), yOf(axes, 0), axes);
    expect(weight).toBeGreaterThan(0);
  });

  test("there is none before the first key, after the last, or across a step", () => {
    expect(handlePlace(curve, 0, "in", axes)).toBeNull();
    expect(handlePlace(curve, 3, "out", axes)).toBeNull();
    expect(handlePlace(setTangents(curve, [1], Tangent.stepped, "both"), 1, "out", axes)).toBeNull();
  });
});

test("the shape of a key tells its tangent", () => {
  const kinds = ["auto", "smooth", "flat", "linear", "stepped", "free"] as const;
  for (const kind of kinds) expect(markOf(setTangents(curve, [1], Tangent[kind], "both"), 1)).toBe(kind);
  expect(markOf(setHandle(curve, 1, "out", 3, 0.3, false), 1)).toBe("broken");
  expect(markOf(setTangents(curve, [1], Tangent.flat, "in"), 1)).toBe("broken");
});

test("the range of values has a margin, and an empty tray has one too", () => {
  const { low, high } = valueRange([curve], 0, 100);
  expect(low).toBeLessThan(-6);
  expect(high).toBeGreaterThan(8);
  expect(valueRange([], 0, 1)).toEqual({ low: -1, high: 1 });
});
