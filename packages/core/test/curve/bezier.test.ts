import bezierEasing from "bezier-easing";
import * as fc from "fast-check";
import { INVERSE_SIZE, solveBezier, solvePrepared, writeInverse } from "../../src/curve/bezier.ts";
import { Tangent } from "../../src/curve/curve.ts";
import { curveFromKeys } from "../../src/curve/make.ts";
import { sampleCurve } from "../../src/curve/track.ts";

const weight = fc.double({ min: 0, max: 1, noNaN: true });

/** x of the Bezier with control points 0, a, b, 1 at u, straight from de Casteljau. */
function xAt(a: number, b: number, u: number): number {
  return 3 * a * u * (1 - u) ** 2 + 3 * b * u * u * (1 - u) + u ** 3;
}

describe("time inversion of weighted handles", () => {
  test("finds the u of any x to 1e-9 of the segment", () => {
    fc.assert(
      fc.property(weight, weight, fc.double({ min: 0, max: 1, noNaN: true }), (a, b, x) => {
        const u = solveBezier(a, b, x);
        expect(u).toBeGreaterThanOrEqual(0);
        expect(u).toBeLessThanOrEqual(1);
        expect(Math.abs(xAt(a, b, u) - x)).toBeLessThan(1e-9);
        const inverse = new Float64Array(INVERSE_SIZE + 1);
        writeInverse(inverse, 1, a, b);
        const quick = solvePrepared(inverse, 1, x);
        expect(quick).toBeGreaterThanOrEqual(0);
        expect(quick).toBeLessThanOrEqual(1);
        expect(Math.abs(xAt(a, b, quick) - x)).toBeLessThan(1e-9);
      }),
      { numRuns: 2000 },
    );
  });

  test("the hardest handles: time nearly stands still", () => {
    for (const [a, b] of [
      [1, 0],
      [0, 1],
      [1, 1],
      [0, 0],
      [0.999, 0.001],
    ])
      for (let x = 0; x <= 1; x += 1 / 512) expect(Math.abs(xAt(a, b, solveBezier(a, b, x)) - x)).toBeLessThan(1e-9);
  });

  test("a segment is the timing function cubic-bezier() of W3C CSS Easing level 1, as bezier-easing works it out", () => {
    // The named functions "ease" and "ease-in-out" of that standard, and two more.
    for (const [x1, y1, x2, y2] of [
      [0.25, 0.1, 0.25, 1],
      [0.42, 0, 0.58, 1],
      [0.9, 0.3, 0.2, 0.7],
      [0.05, 0.6, 0.95, 0.4],
    ]) {
      const easing = bezierEasing(x1, y1, x2, y2);
      const key = { kindIn: Tangent.free, kindOut: Tangent.free };
      const curve = curveFromKeys([
        { ...key, time: 0, value: 0, slopeIn: 0, slopeOut: y1 / x1, weightIn: 1 / 3, weightOut: x1 },
        { ...key, time: 1, value: 1, slopeIn: (1 - y2) / (1 - x2), slopeOut: 0, weightIn: 1 - x2, weightOut: 1 / 3 },
      ]);
      // bezier-easing itself is good to about 1e-6.
      for (let x = 0; x <= 1; x += 1 / 64) expect(Math.abs(sampleCurve(curve, x) - easing(x))).toBeLessThan(2e-6);
    }
  });
});
