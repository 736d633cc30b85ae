import { constantCurve, emptyShot, type Outcome, type Shot } from "@kneader/core";
import { painted, wiped } from "../src/bench/tune/brush.ts";
import { badness, sayChange, sumOf, worstOf } from "../src/bench/tune/strainRows.ts";
import { colourFor } from "../src/bench/rack/strain/drawStrain.ts";
import { packInterim, unpackInterim } from "../src/workers/interim.ts";

describe("painting how closely a motion stays", () => {
  const span = (start: number, end: number, closeness: number) => ({ start, end, closeness });

  test("a stroke covers what is under it and joins with its like", () => {
    const first = painted([], span(10, 20, 100));
    expect(painted(first, span(15, 17, 1))).toEqual([span(10, 14, 100), span(15, 17, 1), span(18, 20, 100)]);
    expect(painted(first, span(21, 30, 100))).toEqual([span(10, 30, 100)]);
    expect(painted(first, span(5, 40, 0))).toEqual([span(5, 40, 0)]);
  });

  test("wiped off, what is outside stays", () => {
    expect(wiped([span(10, 20, 100)], { start: 12, end: 13 })).toEqual([span(10, 11, 100), span(14, 20, 100)]);
    expect(wiped([span(10, 20, 100)], { start: 1, end: 9 })).toEqual([span(10, 20, 100)]);
    expect(wiped([span(10, 20, 100)], { start: 10, end: 20 })).toEqual([]);
  });
});

describe("strain as it is shown", () => {
  const row = (cost: string, weight: number, after: number[]) => ({
    cost,
    weight,
    seen: 2,
    before: Float64Array.from(after, (one) => 2 * one),
    after: Float64Array.from(after),
  });

  test("the sum counts what has a weight, by it, as shares of what is just seen", () => {
    const strain = { start: 1, rows: [row("jerk", 3, [0, 2, 4]), row("feet", 1, [2, 2, 2]), row("arc", 0, [99, 99, 99])] };
    const sum = sumOf(strain, "after");
    expect(sum[0]).toBeCloseTo(Math.sqrt(1 / 4), 12);
    expect(sum[1]).toBeCloseTo(1, 12);
    expect(sum[2]).toBeCloseTo(Math.sqrt((3 * 4 + 1) / 4), 12);
    expect(worstOf(sum)).toBe(2);
    expect(sayChange(strain.rows[0])).toBe("−50 %");
    expect(sayChange(row("feet", 1, [0, 0]))).toBe("");
  });

  test("more strain is never paler", () => {
    const shades = [0, 0.5, 1, 2, 5, 10, 50].map((strain) => badness(strain, 1));
    for (let n = 1; n < shades.length; n++) expect(shades[n]).toBeGreaterThan(shades[n - 1]);
    expect(colourFor(0, "light")).toBe("rgb(247 238 228)");
    expect(colourFor(1, "light")).toBe("rgb(138 46 92)");
  });
});

test("what work has so far arrives with its changed curves, the others being the very same", () => {
  const before: Shot = emptyShot({
    id: "s",
    name: "S",
    rig: { id: "r", name: "R", controls: [], figure: null },
    range: { start: 1, end: 9 },
    unitMetres: 1,
    base: { a: constantCurve(1), b: constantCurve(2) },
  });
  const report = { summary: "Tuned 1 key" } as Outcome["report"];
  const sofar = { shot: { ...before, base: { ...before.base, b: constantCurve(3) } }, report };
  const { shot, report: said } = unpackInterim(before, structuredClone(packInterim(before, sofar)));
  expect(shot.base.a).toBe(before.base.a);
  expect(shot.base.b.values[0]).toBe(3);
  expect(said.summary).toBe("Tuned 1 key");
  expect(unpackInterim(before, packInterim(before, { shot: before, report })).shot).toBe(before);
});
