import { constantCurve, makePass, type Shot } from "@kneader/core";
import { demoShots } from "@kneader/demo";
import { differsInWeightOnly } from "../src/bench/differsInWeightOnly.ts";

test("a dragged weight is told from every other change of a shot", async () => {
  const made = await demoShots[0].make();
  const shot: Shot = { ...made, passes: [makePass("a", "A", "adds", { "head.rotateX": constantCurve(3) }), makePass("b", "B", "adds")] };
  const [a, b] = shot.passes;
  const withA = (change: object): Shot => ({ ...shot, passes: [{ ...a, ...change }, b] });
  expect(differsInWeightOnly(withA({ weight: constantCurve(0.4) }), shot)).toBe(true);
  expect(differsInWeightOnly({ ...shot }, shot)).toBe(true);
  for (const other of [
    withA({ curves: {} }),
    withA({ weight: constantCurve(0.4), on: false }),
    withA({ range: { start: 1, end: 9, easeIn: 0, easeOut: 0 } }),
    { ...shot, passes: [a] },
    { ...shot, passes: [b, a] },
    { ...shot, base: {} },
    { ...shot, range: { start: 1, end: 9 } },
  ])
    expect(differsInWeightOnly(other, shot)).toBe(false);
});
