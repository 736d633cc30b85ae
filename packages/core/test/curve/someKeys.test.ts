import * as fc from "fast-check";
import { constantCurve } from "../../src/curve/make.ts";
import { keysBeside } from "../../src/curve/someKeys.ts";
import { sampleCurve } from "../../src/curve/track.ts";
import { anyLoop, someTimes } from "../help/random.ts";

test("a curve with the keys beside a few times alone plays those as the whole does, in its rounds too", () => {
  let thinned = 0;
  fc.assert(
    fc.property(anyLoop, fc.integer({ min: 1, max: 1e6 }), (curve, seed) => {
      const [first, last] = [curve.times[0], curve.times[curve.times.length - 1]];
      const between = someTimes(first - 2 * (last - first), last + 2 * (last - first), 6, seed);
      for (const time of [...between, first, last, ...curve.times, Math.round(between[0])]) {
        const few = keysBeside(curve, [time]);
        expect(sampleCurve(few, time)).toBe(sampleCurve(curve, time));
        if (few.times.length < curve.times.length) thinned++;
      }
    }),
  );
  expect(thinned).toBeGreaterThan(100);
});

test("a curve of a few keys stays what it is", () => {
  const curve = constantCurve(3, 5);
  expect(keysBeside(curve, [1, 2, 3])).toBe(curve);
});
