import * as fc from "fast-check";
import { placesOf, unionOfTimes, wholeFramesOf } from "../../src/curve/timeRows.ts";

const rising = fc.uniqueArray(fc.integer({ min: 0, max: 30 })).map((times) => Float64Array.from(times).sort());

describe("rows of times", () => {
  test("joined, hold each time once and in order", () => {
    fc.assert(
      fc.property(fc.array(rising), (rows) => {
        const expected = [...new Set(rows.flatMap((row) => [...row]))].sort((a, b) => a - b);
        expect([...unionOfTimes(rows)]).toEqual(expected);
      }),
    );
  });

  test("every time of a row is found at its place in the joined one", () => {
    fc.assert(
      fc.property(rising, rising, (a, b) => {
        const all = unionOfTimes([a, b]);
        const found: number[] = [];
        placesOf(a, all, (at, i) => {
          expect(all[at]).toBe(a[i]);
          found.push(i);
        });
        expect(found).toEqual([...a.keys()]);
      }),
    );
  });

  test("on whole frames, keys between frames count at the nearest one, once", () => {
    expect([...wholeFramesOf(Float64Array.of(1, 1.2, 2.6, 3.4, 5))]).toEqual([1, 3, 5]);
    const whole = Float64Array.of(1, 2, 9);
    expect(wholeFramesOf(whole)).toBe(whole);
  });

  test("nothing joined is nothing", () => expect([...unionOfTimes([])]).toEqual([]));
});
