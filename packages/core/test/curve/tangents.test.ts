import * as fc from "fast-check";
import reference from "../../../../reference/curves.json";
import { isBroken, keyAt, Tangent, THIRD } from "../../src/curve/curve.ts";
import { curveFrom, curveFromKeys } from "../../src/curve/make.ts";
import { autoEndSlope, autoSlope, settle } from "../../src/curve/tangents.ts";
import { sampleCurve } from "../../src/curve/track.ts";

const pairs = fc
  .array(fc.tuple(fc.integer({ min: 1, max: 15 }), fc.double({ min: -100, max: 100, noNaN: true })), { minLength: 2, maxLength: 12 })
  .map((list) => {
    let time = 0;
    return list.map(([gap, value]) => {
      time += gap;
      return [time, value] as const;
    });
  });

describe("auto tangents", () => {
  test("never overshoot: between two keys the curve stays between their values (Fritsch & Carlson 1980)", () => {
    fc.assert(
      fc.property(pairs, (keys) => {
        const curve = curveFrom(keys);
        for (let i = 0; i + 1 < keys.length; i++) {
          const [low, high] = [Math.min(keys[i][1], keys[i + 1][1]), Math.max(keys[i][1], keys[i + 1][1])];
          for (let s = 0; s <= 1; s += 0.05) {
            const value = sampleCurve(curve, keys[i][0] + s * (keys[i + 1][0] - keys[i][0]));
            expect(value).toBeGreaterThanOrEqual(low - 1e-9);
            expect(value).toBeLessThanOrEqual(high + 1e-9);
          }
        }
      }),
    );
  });

  test("are the slopes and the curve of SciPy's PchipInterpolator (reference/curves.py)", () => {
    const { times, values, slopes, at, expected } = reference.monotone;
    const curve = curveFrom(times.map((time, i) => [time, values[i]] as const));
    slopes.forEach((slope, i) => {
      expect(Math.abs(curve.slopeOut[i] - slope)).toBeLessThan(1e-9);
    });
    at.forEach((time, i) => {
      expect(Math.abs(sampleCurve(curve, time) - expected[i])).toBeLessThan(1e-9);
    });
  });

  test("are level on peaks, valleys and plateaus", () => {
    expect(autoSlope(2, 3, 4, -1)).toBe(0);
    expect(autoSlope(2, 0, 4, 5)).toBe(0);
    expect(autoEndSlope(1, 1, 1, 5)).toBe(0);
    expect(autoEndSlope(1, 1, 1, -9)).toBe(3);
  });

  test("have handles of a third, whatever they had before", () => {
    const key = { ...keyAt(curveFrom([[0, 1]]), 0), weightOut: 0.8, weightIn: 0.1 };
    const curve = curveFromKeys([key, { ...key, time: 5, value: 3 }]);
    expect([...curve.weightIn, ...curve.weightOut]).toEqual([THIRD, THIRD, THIRD, THIRD]);
  });
});

describe("the other kinds", () => {
  const keys = [
    [0, 0],
    [10, 10],
    [30, 0],
  ] as const;

  test("smooth takes the slope from neighbour to neighbour", () => {
    expect([...curveFrom(keys, Tangent.smooth).slopeOut]).toEqual([1, 0, -0.5]);
  });

  test("flat is level", () => {
    expect([...curveFrom(keys, Tangent.flat).slopeIn]).toEqual([0, 0, 0]);
  });

  test("linear points at the neighbour on each side", () => {
    const curve = curveFrom(keys, Tangent.linear);
    expect([...curve.slopeIn]).toEqual([1, 1, -0.5]);
    expect([...curve.slopeOut]).toEqual([1, -0.5, -0.5]);
  });

  test("free keeps what it was given when neighbours move", () => {
    const key = { ...keyAt(curveFrom([[10, 4]]), 0), kindIn: Tangent.free, kindOut: Tangent.free, slopeIn: 2, slopeOut: 2 };
    const curve = curveFromKeys([{ ...key, time: 0, value: 0 }, key]);
    const moved = settle({ ...curve, values: Float64Array.of(50, 4) });
    expect(moved.slopeIn[1]).toBe(2);
  });

  test("a key is broken when its sides differ", () => {
    const plain = keyAt(curveFrom(keys), 1);
    expect(isBroken(plain)).toBe(false);
    expect(isBroken({ ...plain, kindOut: Tangent.flat })).toBe(true);
    expect(isBroken({ ...plain, kindIn: Tangent.free, kindOut: Tangent.free, slopeIn: 1, slopeOut: 2 })).toBe(true);
    expect(isBroken({ ...plain, kindIn: Tangent.free, kindOut: Tangent.free, slopeIn: 2, slopeOut: 2 })).toBe(false);
  });
});
