import * as fc from "fast-check";
import type { Curve } from "../../src/curve/curve.ts";
import { constantCurve, curveFrom } from "../../src/curve/make.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import { quatAngle } from "../../src/maths/rotation.ts";
import { channelKeysOf } from "../../src/model/rig.ts";
import type { Pass, Shot } from "../../src/model/shot.ts";
import { makePass } from "../../src/model/shotFields.ts";
import { envelope } from "../../src/passes/envelope.ts";
import { passKind, passKinds } from "../../src/passes/kinds.ts";
import { anyCurve } from "../help/random.ts";
import { movingShot, passOf, smallShot } from "../help/shots.ts";

const channels = channelKeysOf(smallShot().rig);
const keyedPass: fc.Arbitrary<Pass> = fc
  .record({
    kind: fc.constantFrom("adds", "replaces"),
    compose: fc.constantFrom("channel", "rotation"),
    curves: fc.array(fc.tuple(fc.constantFrom(...channels), anyCurve), { minLength: 1, maxLength: 5 }),
    weight: fc.double({ min: -1, max: 2, noNaN: true }),
    range: fc.option(
      fc.record({ start: fc.integer({ min: 1, max: 20 }), length: fc.integer({ min: 1, max: 30 }), ease: fc.integer({ min: 0, max: 9 }) }),
    ),
    on: fc.boolean(),
  })
  .map(({ kind, compose, curves, weight, range, on }) =>
    passOf(kind as "adds", Object.fromEntries(curves), {
      compose: compose as "channel",
      weight: constantCurve(weight),
      on,
      range: range && { start: range.start, end: range.start + range.length, easeIn: range.ease, easeOut: range.ease },
    }),
  );
const computedPass: fc.Arbitrary<Pass> = fc
  .record({
    kind: fc.constantFrom("follow-through", "lag", "stretch", "tremor", "smooth", "warp", "stepping"),
    members: fc.option(fc.array(fc.constantFrom(...channels), { minLength: 1, maxLength: 6 })),
    weight: fc.double({ min: -1, max: 2, noNaN: true }),
    on: fc.boolean(),
  })
  .map(({ kind, members, weight, on }) => {
    const curves: Record<string, Curve> =
      kind === "warp"
        ? {
            "Warp.frame": curveFrom([
              [1, 1],
              [20, 30],
              [49, 49],
            ]),
          }
        : {};
    return { ...makePass(`pass-${kind}`, kind, kind, curves), members, weight: constantCurve(weight), on };
  });
const anyPass = fc.oneof({ weight: 3, arbitrary: keyedPass }, { weight: 2, arbitrary: computedPass });
const anyStack = fc.array(anyPass, { maxLength: 6 }).map((passes) => passes.map((pass, i) => ({ ...pass, id: `pass-${i}` })));
const frames = [1, 8.5, 20, 33, 49];

function worldsOf(shot: Shot): Float64Array[] {
  const player = makePlayer(shot);
  return frames.map((frame) => {
    player.pose(frame);
    return player.worlds.slice();
  });
}

describe("random stacks", () => {
  test("a pass deleted, switched off or dialled to 0 gives the shot below, bit for bit", () => {
    fc.assert(
      fc.property(anyStack, anyPass, fc.nat(), (stack, pass, at) => {
        const below = movingShot({ passes: stack });
        const place = at % (stack.length + 1);
        const withPass = (p: Pass) => movingShot({ passes: [...stack.slice(0, place), { ...p, id: "extra" }, ...stack.slice(place)] });
        const expected = worldsOf(below);
        expect(worldsOf(withPass({ ...pass, on: false }))).toEqual(expected);
        expect(worldsOf(withPass({ ...pass, weight: constantCurve(0) }))).toEqual(expected);
      }),
      { numRuns: 60 },
    );
  });

  test("with every pass muted base motion plays exactly", () => {
    fc.assert(
      fc.property(anyStack, (stack) => {
        const muted = stack.map((pass) => ({ ...pass, on: false }));
        expect(worldsOf(movingShot({ passes: muted }))).toEqual(worldsOf(movingShot()));
      }),
      { numRuns: 60 },
    );
  });

  test("one player asked for many frames answers as a new player asked for one", () => {
    fc.assert(
      fc.property(anyStack, (stack) => {
        const shot = movingShot({ passes: stack });
        const used = worldsOf(shot);
        frames.forEach((frame, i) => {
          const fresh = makePlayer(shot);
          fresh.pose(frame);
          expect(fresh.worlds).toEqual(used[i]);
        });
      }),
      { numRuns: 40 },
    );
  });

  test("the values read are those of the pose: turned back into rotations they are the same turns", () => {
    fc.assert(
      fc.property(anyStack, (stack) => {
        const shot = movingShot({ passes: stack });
        const [posed, read] = [makePlayer(shot), makePlayer(shot)];
        posed.pose(20);
        read.readValues(20);
        const base = Object.fromEntries([...read.channelIndex].map(([key, i]) => [key, constantCurve(read.values[i])]));
        const again = makePlayer({ ...shot, base, passes: [] });
        again.pose(20);
        for (let i = 0; i < shot.rig.controls.length; i++) expect(quatAngle(posed.turns, i * 4, again.turns, i * 4)).toBeLessThan(1e-4);
      }),
      { numRuns: 60 },
    );
  });
});

describe("kinds of pass", () => {
  test("a replacing pass at full weight shows its own values, whatever is below", () => {
    const own = { "spine.rotateX": constantCurve(33), "spine.rotateY": constantCurve(-12), "spine.rotateZ": constantCurve(5) };
    for (const compose of ["channel", "rotation"] as const) {
      const player = makePlayer(movingShot({ passes: [passOf("replaces", own, { compose })] }));
      const alone = makePlayer(smallShot(own));
      player.pose(20);
      alone.pose(20);
      const i = (player.controlIndex.get("spine") as number) * 4;
      expect(quatAngle(player.turns, i, alone.turns, i)).toBeLessThan(1e-6);
    }
  });

  test("as rotations, half the weight is half the way", () => {
    const turn = { "spine.rotateY": constantCurve(80) };
    const at = (weight: number) => {
      const player = makePlayer(smallShot({}, { passes: [passOf("adds", turn, { compose: "rotation", weight: constantCurve(weight) })] }));
      player.readValues(1);
      return player.values[player.channelIndex.get("spine.rotateY") as number];
    };
    expect(at(0.5)).toBeCloseTo(40, 9);
    expect(at(1.5)).toBeCloseTo(120, 9);
    expect(at(-1)).toBeCloseTo(-80, 9);
  });

  test("each has a title and says what it does", () => {
    for (const kind of passKinds) {
      expect(passKind(kind.id)).toBe(kind);
      expect(kind.help).toMatch(/\.$/);
    }
    expect(passKind("unheard")).toBeUndefined();
  });
});

describe("the envelope of a range", () => {
  const range = { start: 10, end: 30, easeIn: 4, easeOut: 8 };

  test("is nothing outside, everything inside, and rises and falls steadily", () => {
    expect([9.99, 30.01].map((t) => envelope(range, t))).toEqual([0, 0]);
    expect([14, 18, 22].map((t) => envelope(range, t))).toEqual([1, 1, 1]);
    for (let t = 10; t < 14; t += 0.25) expect(envelope(range, t + 0.25)).toBeGreaterThan(envelope(range, t));
    for (let t = 22; t < 30; t += 0.25) expect(envelope(range, t + 0.25)).toBeLessThan(envelope(range, t));
  });

  test("without eases it is hard at both ends, and no range is the whole shot", () => {
    expect([10, 20, 30].map((t) => envelope({ ...range, easeIn: 0, easeOut: 0 }, t))).toEqual([1, 1, 1]);
    expect(envelope(null, -500)).toBe(1);
  });

  test("eases that meet never go past their common height", () => {
    for (let t = 10; t <= 14; t += 0.1) expect(envelope({ start: 10, end: 14, easeIn: 10, easeOut: 10 }, t)).toBeLessThanOrEqual(0.11);
  });
});
