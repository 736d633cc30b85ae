import * as fc from "fast-check";
import type { RunKind } from "../../src/curve/curve.ts";
import { ghostTimes } from "../../src/curve/ghostTimes.ts";
import { curveFrom } from "../../src/curve/make.ts";
import { sampleCurve } from "../../src/curve/track.ts";
import { cycleOf } from "../../src/operations/loops/cycleOf.ts";

const hold = { kind: "hold", rounds: 0 } as const;
const out = (kind: RunKind, rounds = 0) => ({ first: 1, last: 11, runIn: hold, runOut: { kind, rounds } });

test("rounds come again one span later each, the seam once, as many as there are and within the window", () => {
  expect(ghostTimes([1, 4, 11], out("repeat", 2), -50, 100).map(({ time }) => time)).toEqual([14, 21, 24, 31]);
  expect(ghostTimes([1, 4, 11], out("travel"), 12, 26).map(({ time }) => time)).toEqual([14, 21, 24]);
  expect(ghostTimes([1, 4, 11], out("pingpong", 1), 0, 100)).toEqual([
    { time: 18, of: 4 },
    { time: 21, of: 1 },
  ]);
  expect(ghostTimes([1, 4, 11], out("hold"), 0, 100)).toEqual([]);
  expect(ghostTimes([1, 4, 11], { ...out("hold"), runIn: { kind: "repeat", rounds: 1 } }, -50, 5).map(({ time }) => time)).toEqual([
    -9, -6,
  ]);
});

test("a ghost shows what the key it repeats shows, whatever the way of repeating", () => {
  fc.assert(
    fc.property(
      fc.constantFrom("repeat", "pingpong" as const),
      fc.integer({ min: 0, max: 3 }),
      fc.constantFrom("in", "out"),
      (kind, rounds, side) => {
        const run = { kind: kind as RunKind, rounds };
        const curve = {
          ...curveFrom([
            [1, 0],
            [4, 7],
            [9, -3],
            [11, 2],
          ]),
          ...(side === "in" ? { runIn: run } : { runOut: run }),
        };
        const ghosts = ghostTimes(curve.times, { first: 1, last: 11, runIn: curve.runIn, runOut: curve.runOut }, -40, 60);
        expect(ghosts.length).toBeGreaterThan(0);
        for (const { time, of } of ghosts) {
          // Where rounds meet with a jump the frame belongs to the round that ends there.
          const want = (time - 1) % 10 === 0 && kind === "repeat" ? [0, 2] : [sampleCurve(curve, of)];
          expect(want.map((value) => Math.abs(value - sampleCurve(curve, time)) < 1e-9)).toContain(true);
        }
      },
    ),
  );
});

test("the cycle of a shot is what half of its moving curves repeat in step", () => {
  const one = curveFrom([
    [1, 0],
    [11, 3],
  ]);
  const round = { ...one, runOut: { kind: "repeat" as const, rounds: 0 } };
  const travel = { ...one, runOut: { kind: "travel" as const, rounds: 0 } };
  expect(cycleOf({ a: round, b: travel, c: one })).toMatchObject({ first: 1, last: 11 });
  expect(cycleOf({ a: round, b: one, c: one })).toBeNull();
  expect(cycleOf({})).toBeNull();
});
