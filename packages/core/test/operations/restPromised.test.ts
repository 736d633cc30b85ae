import * as fc from "fast-check";
import { type Curve, type RunOn, Tangent } from "../../src/curve/curve.ts";
import { constantCurve, curveFrom, curveFromKeys } from "../../src/curve/make.ts";
import { sampleCurve } from "../../src/curve/track.ts";
import { addFollow, followOffset } from "../help/follows.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import type { Shot } from "../../src/model/shot.ts";
import { WHOLE_FIGURE } from "../../src/operations/operation.ts";
import { anyCurve, someTimes } from "../help/random.ts";
import { passFor, played } from "../help/passes.ts";
import { passOf, smallShot } from "../help/shots.ts";
import { KEY, run, only, curveOf, within, freeKey, sizeOf, runs, expectSame } from "../help/promises.ts";

describe("hold, frames in and gaps", () => {
  test("a hold keeps the motion on both sides, whatever the tangents", async () => {
    await fc.assert(
      fc.asyncProperty(anyCurve, fc.integer({ min: 1, max: 120 }), fc.integer({ min: 1, max: 20 }), async (curve, at, frames) => {
        const { shot } = await run("insert-hold", only(curve), { at, frames });
        expectSame(curve, curveOf(shot), someTimes(-10, at, 40));
        expectSame(curve, curveOf(shot), someTimes(at + 1e-6, 220, 40), frames);
        for (const time of someTimes(at, at + frames, 10))
          expect(Math.abs(sampleCurve(curveOf(shot), time) - sampleCurve(curve, at))).toBeLessThan(sizeOf(curve));
      }),
      runs,
    );
  });

  test("frames put in or taken out change nothing before the frame, and move what comes from the next key on", async () => {
    await fc.assert(
      fc.asyncProperty(anyCurve, fc.integer({ min: 1, max: 120 }), fc.integer({ min: -12, max: 20 }), async (curve, at, frames) => {
        fc.pre(frames !== 0);
        const { shot } = await run("insert-frames", only(curve), { at, frames });
        expectSame(curve, curveOf(shot), someTimes(-10, at, 40));
        const next = curve.times.find((time) => time > at + Math.max(0, -frames) + 1e-6);
        if (next !== undefined) expectSame(curve, curveOf(shot), someTimes(next, 220, 40), frames);
      }),
      runs,
    );
  });

  test("free tangents turn with a gap: a top of 37.5° stays one", async () => {
    const arch = curveFromKeys([freeKey(1, 0, 15), freeKey(11, 0, -15)]);
    const top = (curve: Curve) => Math.max(...someTimes(1, 40, 4000).map((t) => sampleCurve(curve, t)));
    expect(top(arch)).toBeCloseTo(37.5, 2);
    const wide = await run("set-gap", only(arch), { from: 1, to: 11, gap: 16 });
    expect(top(curveOf(wide.shot))).toBeCloseTo(37.5, 2);
    const stays = await run("set-gap", only(arch), { from: 1, to: 11, gap: 5, ripple: false });
    expect(top(curveOf(stays.shot))).toBeCloseTo(37.5, 2);
  });
});

describe("a marked range is sealed", () => {
  const range = { start: 20, end: 50 };

  test.each<[string, object]>([
    ["resample", { every: 3 }],
    ["resample", { every: 2, kind: "stepped" }],
    ["simplify", { rotation: 20, extremes: false }],
    ["simplify", { rotation: 20, tangents: "broken", together: "curve" }],
  ])("%s leaves everything outside it as it was, bit for bit (%j)", async (id, settings) => {
    await fc.assert(
      fc.asyncProperty(anyCurve, async (given) => {
        // Keys on all frames in the range, so that there is something to do.
        const curve = curveOf((await run("resample", only(given), { every: 1, kind: "linear" })).shot);
        const after = curveOf((await run(id, only(curve), settings, within(range))).shot);
        for (const time of [...someTimes(-20, 20, 100), 20, 50, ...someTimes(50, 120, 100)])
          expect(sampleCurve(after, time)).toBe(sampleCurve(curve, time));
      }),
      { ...runs, numRuns: 60 },
    );
  });

  test("stagger moves what is inside it and nothing outside, and says what would have left it", async () => {
    const keys = curveFrom(
      [
        [1, 0],
        [20, 5],
        [30, 40],
        [48, -10],
        [60, 3],
      ],
      Tangent.smooth,
    );
    const shot = smallShot({ "spine.rotateX": keys, "arm-left.rotateX": keys, "arm-right.rotateX": keys });
    const { shot: after, report } = await run("stagger", shot, { frames: 3 }, { controls: ["spine", "arm-left", "arm-right"], range });
    for (const key in shot.base)
      for (const time of [...someTimes(-20, 20, 100), ...someTimes(50, 120, 100)])
        expect(sampleCurve(after.base[key], time)).toBeCloseTo(sampleCurve(keys, time), 10);
    expect([...after.base["arm-left.rotateX"].times]).toEqual([1, 20, 33, 50, 60]);
    expect(sampleCurve(after.base["arm-left.rotateX"], 33)).toBe(40);
    expect(report.warnings).toEqual(["2 keys would have gone past the end of the range and are left out."]);
  });

  test("keys pasted with insertion leave their neighbours' tangents alone", async () => {
    const keys = curveFrom(
      [
        [1, 0],
        [10, 20],
        [20, 50],
        [30, 10],
        [40, 0],
      ],
      Tangent.smooth,
    );
    const shot = only(keys);
    const { liftKeys } = await import("../../src/operations/timing/liftKeys.ts");
    const copied = liftKeys(shot, { ...WHOLE_FIGURE, range: { start: 1, end: 10 } });
    const { shot: after } = await run("paste-keys", shot, { keys: copied, at: 20, place: "insert" });
    expectSame(keys, curveOf(after), someTimes(-5, 10, 40));
    expectSame(keys, curveOf(after), someTimes(30, 60, 40), 9);
  });
});

describe("values", () => {
  const level = curveFromKeys(
    [1, 11, 21].map((time, i) => ({
      time,
      value: i === 1 ? 0 : 0,
      slopeIn: 4,
      slopeOut: -3,
      weightIn: 1 / 3,
      weightOut: 1 / 3,
      kindIn: Tangent.free,
      kindOut: Tangent.free,
    })),
  );

  test.each<[string, object]>([
    ["scale-values", { factor: 0 }],
    ["toward-rest", { share: 100 }],
  ])("%s to nothing leaves no bump", async (id, settings) => {
    const after = curveOf((await run(id, only(level), settings)).shot);
    for (const time of someTimes(-5, 40, 100)) expect(sampleCurve(after, time)).toBe(0);
  });

  test("a rig made five times bigger has a tremor five times as large", async () => {
    const shot = only(constantCurve(0), { passes: [passFor("tremor", { rotate: 2, move: 0.1 })] });
    const { shot: after } = await run("scale-rig", shot, { factor: 5 });
    expect(after.passes[0].settings).toMatchObject({ rotate: 2, move: 0.5 });
  });

  test("a key put into a curve that goes straight on leaves its end alone", async () => {
    await fc.assert(
      fc.asyncProperty(anyCurve, fc.integer({ min: -30, max: 150 }), async (given, frame) => {
        const straight: RunOn = { kind: "straight", rounds: 0 };
        const curve = { ...given, runIn: straight, runOut: straight };
        const { shot } = await run("key-missing", only(curve), { where: "frame", frame });
        expectSame(curve, curveOf(shot), someTimes(-100, 250, 60));
      }),
      runs,
    );
  });

  test("straight run-ons and the settings of computed passes keep their shape when time is scaled", async () => {
    const line: Curve = { ...curveFromKeys([freeKey(1, 0, 2), freeKey(11, 20, 2)]), runOut: { kind: "straight", rounds: 0 } };
    const setting = curveFromKeys([freeKey(1, 0, 3), freeKey(21, 10, -3)]);
    const shot = only(line, { passes: [passFor("lag", { frames: 3 }, { curves: { "Lag.frames": setting } })] });
    const { shot: after } = await run("scale-time", shot, { factor: 200, pivot: 1, wholeFrames: false });
    for (const time of [5, 11, 30, 90]) expect(sampleCurve(curveOf(after), 1 + (time - 1) * 2)).toBeCloseTo(sampleCurve(line, time), 6);
    for (const time of [1, 4, 9.5, 15, 21])
      expect(sampleCurve(after.passes[0].curves["Lag.frames"], 1 + (time - 1) * 2)).toBeCloseTo(sampleCurve(setting, time), 6);
  });
});

describe("baking passes", () => {
  const base = curveFrom([
    [-9, 1],
    [1, 0],
    [10.4, 10],
    [25, 0],
    [70, 8],
  ]);
  const adds = (id: string, value: number, more: object = {}) => passOf("adds", { [KEY]: constantCurve(value) }, { id, name: id, ...more });
  const resultAt = (shot: Shot, time: number) => {
    const player = makePlayer(shot);
    player.readValues(time);
    return player.values[player.channelIndex.get(KEY) as number];
  };

  test("keys between frames and outside the range get what is due there (30 at frame 10.4)", async () => {
    const shot = only(base, { passes: [adds("more", 20)] });
    const { shot: after } = await run("bake-passes", shot, { keys: "existing" });
    expect(sampleCurve(curveOf(after), 10.4)).toBeCloseTo(30, 9);
    for (const time of base.times) expect(sampleCurve(curveOf(after), time)).toBeCloseTo(resultAt(shot, time), 9);
  });

  test.each(["every", "fewest"])("keys outside the range stay, with what is due, when baked on %s frames", async (keys) => {
    const shot = only(base, { passes: [adds("more", 20)] });
    const { shot: after } = await run("bake-passes", shot, { keys });
    expect(sampleCurve(curveOf(after), -9)).toBeCloseTo(21, 6);
    expect(sampleCurve(curveOf(after), 70)).toBeCloseTo(28, 6);
    for (let frame = 1; frame <= 49; frame++)
      expect(Math.abs(sampleCurve(curveOf(after), frame) - resultAt(shot, frame))).toBeLessThan(0.1 + 1e-9);
  });

  test.each(["base", "pass"])(
    "what a solo kept from being heard is not heard after it was baked into %s, and that is said",
    async (into) => {
      const shot = only(base, { passes: [adds("heard", 20, { solo: true }), adds("muted by the solo", 100)] });
      const before = played(shot, KEY);
      const { shot: after, report } = await run("bake-passes", shot, { keys: "every", into });
      played(after, KEY).forEach((value, n) => {
        expect(value).toBeCloseTo(before[n], 6);
      });
      expect(report.warnings.join()).toMatch(/Not heard because of a solo, and off now so that it stays so: muted by the solo/);
    },
  );

  test("a follower's keys outside the range stay, where the follower then was", async () => {
    const shot = smallShot({
      "hand-right.moveX": curveFrom([
        [-10, 0.1],
        [1, 0],
        [49, 0.2],
        [70, 0.5],
      ]),
      "arm-left.rotateZ": curveFrom([
        [-10, 0],
        [70, 80],
      ]),
    });
    const offset = followOffset(shot, "hand-right", "hand-left", 1);
    const following = addFollow(shot, {
      id: "f",
      control: "hand-right",
      target: "hand-left",
      position: true,
      rotation: true,
      strength: constantCurve(1),
      offset,
      on: true,
    });
    const { shot: after } = await run("bake-down", following, { keys: "every" });
    const [a, b] = [makePlayer(following), makePlayer(after)];
    const i = a.controlIndex.get("hand-right") as number;
    for (const frame of [-10, 1, 20, 49, 70]) {
      a.pose(frame);
      b.pose(frame);
      for (let k = 0; k < 16; k++) expect(b.worlds[i * 16 + k]).toBeCloseTo(a.worlds[i * 16 + k], 6);
    }
  });
});
