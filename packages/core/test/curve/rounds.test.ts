import * as fc from "fast-check";
import { type Curve, Tangent } from "../../src/curve/curve.ts";
import { clipCurve, insertKeyOn, reverseSpan, setKey } from "../../src/curve/edit.ts";
import { bakeRounds } from "../../src/curve/loop.ts";
import { curveFrom } from "../../src/curve/make.ts";
import { sampleCurve, sampleInto } from "../../src/curve/track.ts";
import { KneaderError } from "../../src/errors.ts";
import { anyLoop, someTimes } from "../help/random.ts";

/** Rounds of both sides that no keys can stand for are refused, and nothing else is. */
function unlessRefused<Result>(work: () => Result): Result | null {
  try {
    return work();
  } catch (error) {
    expect(error).toBeInstanceOf(KneaderError);
    return null;
  }
}

/** Does a round of the curve begin elsewhere than where the one before it ended? Then only whole frames are kept. */
function jumps({ values, runIn, runOut }: Curve): boolean {
  return (runIn.kind === "repeat" || runOut.kind === "repeat") && Math.abs(values[0] - values[values.length - 1]) > 1e-9;
}

function expectSame(after: Curve, before: Curve, from: number, to: number): void {
  const frames = Array.from({ length: Math.floor(to) - Math.ceil(from) + 1 }, (_, n) => Math.ceil(from) + n);
  const size =
    before.values.reduce((most, value) => Math.max(most, Math.abs(value)), 1) +
    before.slopeIn.reduce((m, s) => Math.max(m, Math.abs(s)), 0) * 200;
  const times = jumps(before) ? frames : [...frames, ...someTimes(from, to, 60)];
  const apart = times.map((time) => Math.abs(sampleCurve(after, time) - sampleCurve(before, time)));
  expect(Math.max(0, ...apart)).toBeLessThan(1e-9 * size);
}

const seeded = { numRuns: 100, seed: 7 };

describe("keys in rounds", () => {
  test("a key put anywhere, in any round, changes nothing at any time", () => {
    fc.assert(
      fc.property(anyLoop, fc.integer({ min: -100, max: 180 }), fc.boolean(), (curve, frame, half) => {
        const time = half ? frame + 0.5 : frame;
        const keyed = unlessRefused(() => insertKeyOn(curve, time));
        if (keyed) expectSame(keyed, curve, -120, 200);
      }),
      seeded,
    );
  });

  test("a key with another value in a round leaves what lies further than its neighbours alone", () => {
    const cycle: Curve = {
      ...curveFrom([
        [1, 0],
        [7, 10],
        [13, -5],
        [25, 0],
      ]),
      runOut: { kind: "repeat", rounds: 3 },
    };
    const keyed = setKey(cycle, 36, 40);
    expect(sampleCurve(keyed, 36)).toBe(40);
    for (const time of [1, 5.5, 13, 20, 25, 49, 60.25, 73, 97, 130])
      expect(sampleCurve(keyed, time)).toBeCloseTo(sampleCurve(cycle, time), 9);
  });

  test("baked rounds play as the rounds did, on both sides, at whole frames and, without a jump, at all times", () => {
    fc.assert(
      fc.property(anyLoop, fc.constantFrom<"in" | "out">("in", "out"), fc.integer({ min: 1, max: 4 }), (curve, side, rounds) => {
        const baked = unlessRefused(() => bakeRounds(curve, side, rounds));
        if (baked) expectSame(baked, curve, -150, 250);
      }),
      seeded,
    );
  });

  test("keys keep their times to the last digit when rounds beside them become keys", () => {
    fc.assert(
      fc.property(anyLoop, fc.constantFrom("in", "out"), fc.integer({ min: 1, max: 3 }), (curve, side, rounds) => {
        const baked = unlessRefused(() => bakeRounds(curve, side, rounds));
        if (baked) expect([...baked.times]).toEqual(expect.arrayContaining([...curve.times]));
      }),
      seeded,
    );
  });

  test("a run-in with a jump, and a run-out whose last key is between frames, show every whole frame they showed", () => {
    const open = curveFrom([
      [1, 3],
      [5, 4],
      [9, -2],
      [13, 9],
    ]);
    const runIn: Curve = { ...open, runIn: { kind: "repeat", rounds: 3 } };
    expectSame(bakeRounds(runIn, "in", 3), runIn, -60, 30);
    const between: Curve = {
      ...curveFrom([
        [1, 3],
        [5, 4],
        [12.4, 9],
      ]),
      runOut: { kind: "repeat", rounds: 3 },
    };
    expectSame(bakeRounds(between, "out", 3), between, -60, 80);
  });

  test("thousands of rounds with a jump become keys that show what the rounds showed", () => {
    const jumping = curveFrom([
      [1, 3],
      [3, 4],
      [5, 9],
    ]);
    for (const side of ["in", "out"] as const) {
      const curve: Curve = { ...jumping, [side === "in" ? "runIn" : "runOut"]: { kind: "repeat", rounds: 6000 } };
      expectSame(bakeRounds(curve, side, 6000), curve, -24_100, 24_100);
    }
  });

  test("a part copied out of rounds is the part that played", () => {
    fc.assert(
      fc.property(anyLoop, fc.integer({ min: -60, max: 120 }), fc.integer({ min: 1, max: 40 }), (curve, start, length) => {
        const part = unlessRefused(() => clipCurve(curve, start, start + length));
        if (part) expectSame(part, curve, start, start + length);
      }),
      seeded,
    );
  });
});

describe("turned round in time", () => {
  test("what lies between two frames is the exact mirror image in time, holds and rounds too; turned twice it is what it was", () => {
    fc.assert(
      fc.property(anyLoop, fc.integer({ min: -40, max: 60 }), fc.integer({ min: 2, max: 80 }), (curve, start, length) => {
        const end = start + length;
        const once = unlessRefused(() => reverseSpan(curve, start, end));
        if (!once || jumps(curve)) return;
        const size =
          1e-9 *
          (1 + once.values.reduce((most, value) => Math.max(most, Math.abs(value)), 0) + Math.max(...once.slopeIn.map(Math.abs)) * 100);
        const times = [...someTimes(start, end, 100), ...Array.from({ length: length + 1 }, (_, n) => start + n)];
        for (const time of times) expect(Math.abs(sampleCurve(once, start + end - time) - sampleCurve(curve, time))).toBeLessThan(size);
        const twice = reverseSpan(once, start, end);
        for (const time of times) expect(Math.abs(sampleCurve(twice, time) - sampleCurve(curve, time))).toBeLessThan(size);
      }),
      seeded,
    );
  });

  test("stepped poses: every frame of the mirror image shows the pose that frame showed, the last one too", () => {
    const blocked = curveFrom(
      [
        [1, 0],
        [6, 150],
        [11, -20],
        [16, 70],
      ],
      Tangent.stepped,
    );
    const turned = reverseSpan(blocked, 1, 16);
    const frames = (curve: Curve) => [...sampleInto(curve, 1, 1, new Float64Array(16))];
    expect(frames(turned)).toEqual(frames(blocked).reverse());
    expect(sampleCurve(turned, 1)).toBe(70);
  });

  test("stepped motion to and fro plays baked as it did in rounds", () => {
    const blocked: Curve = {
      ...curveFrom(
        [
          [1, 0],
          [6, 150],
          [11, -20],
          [16, 70],
        ],
        Tangent.stepped,
      ),
      runOut: { kind: "pingpong", rounds: 3 },
    };
    expectSame(bakeRounds(blocked, "out", 3), blocked, 1, 80);
  });
});
