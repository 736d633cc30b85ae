import * as fc from "fast-check";
import { type Curve, type Key, makeKey, type RunOn, Tangent } from "../../src/curve/curve.ts";
import { insertKeysOn } from "../../src/curve/edit.ts";
import { constantCurve, curveFrom, curveFromKeys } from "../../src/curve/make.ts";
import { sampleCurve } from "../../src/curve/track.ts";
import { KneaderError } from "../../src/errors.ts";
import { addFollow, followOffset } from "../help/follows.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import { quatAngle } from "../../src/maths/rotation.ts";
import type { Shot } from "../../src/model/shot.ts";
import { checkSettings, operationById } from "../../src/operations/catalogue.ts";
import { noContext, type Outcome, type Scope, WHOLE_FIGURE } from "../../src/operations/operation.ts";
import { runOperation } from "../../src/operations/runOperation.ts";
import { halfAWalk } from "../../../demo/src/shots/halfAWalk.ts";
import { hopAboard } from "../../../demo/src/shots/hopAboard.ts";
import { anyCurve, anyLoop, someTimes } from "../help/random.ts";
import { passFor, played } from "../help/passes.ts";
import { passOf, smallShot } from "../help/shots.ts";

/*
 * What the operations' help says stays as it was, stays as it was: over random curves (free, broken, weighted, stepped,
 * keyed between frames, with run-ons of every kind), at fractional times and in rounds.
 */

const KEY = "spine.rotateX";
const run = (id: string, shot: Shot, settings: object = {}, scope: Partial<Scope> = {}): Promise<Outcome> => {
  const operation = operationById(id);
  return runOperation(operation, shot, { ...WHOLE_FIGURE, ...scope }, checkSettings(operation, settings), noContext);
};
const only = (curve: Curve, more: Partial<Shot> = {}) => smallShot({ [KEY]: curve }, more);
const curveOf = (shot: Shot) => shot.base[KEY];
const within = (range: { start: number; end: number }) => ({ controls: ["spine"], range });

/** A key whose two sides are free and have one slope. */
const freeKey = (time: number, value: number, slope: number): Key => ({
  ...makeKey(time, value, Tangent.free),
  slopeIn: slope,
  slopeOut: slope,
});

/** How exact a value can be: values, and slopes over the times looked at. */
const sizeOf = (curve: Curve) =>
  1e-9 * (1 + Math.max(...curve.values.map(Math.abs)) + 100 * Math.max(...curve.slopeIn.map(Math.abs), ...curve.slopeOut.map(Math.abs)));
const jumps = ({ values, runIn, runOut }: Curve) =>
  (runIn.kind === "repeat" || runOut.kind === "repeat") && Math.abs(values[0] - values[values.length - 1]) > 1e-9;

/** Two curves are one at these times, when looked at `late` frames later in the second. */
function expectSame(before: Curve, after: Curve, times: readonly number[], late = 0): void {
  for (const time of times) expect(Math.abs(sampleCurve(after, time + late) - sampleCurve(before, time))).toBeLessThan(sizeOf(before));
}

async function unlessRefused(work: () => Promise<Outcome>): Promise<Shot | null> {
  try {
    return (await work()).shot;
  } catch (error) {
    expect(error).toBeInstanceOf(KneaderError);
    return null;
  }
}

const runs = { numRuns: 150, seed: 11 };
const repeat = (rounds: number): RunOn => ({ kind: "repeat", rounds });

describe("rounds", () => {
  test("a walk that repeats and travels three times, keyed at both ends of the shot, plays as it did", async () => {
    const walk = await halfAWalk();
    const { shot } = await run("run-on", walk, { kind: "travel", rounds: 3 });
    const { shot: keyed, report } = await run("key-missing", shot, {});
    expect(report.drift?.turn.amount ?? 0).toBeLessThan(1e-6);
    for (const key in shot.base) expectSame(shot.base[key], keyed.base[key], someTimes(shot.range.start - 20, shot.range.end + 20, 1000));
  });

  test("keying what is missing changes no curve, in no round", async () => {
    await fc.assert(
      fc.asyncProperty(anyLoop, fc.integer({ min: -60, max: 160 }), async (curve, frame) => {
        const after = await unlessRefused(() => run("key-missing", only(curve), { where: "frame", frame }));
        if (after && !jumps(curve)) expectSame(curve, curveOf(after), someTimes(-100, 200, 1000));
      }),
      runs,
    );
  });

  test("hold and frames put into a round do what they say there, and the report says that rounds became keys", async () => {
    const cycle: Curve = {
      ...curveFrom([
        [1, 0],
        [9, 30],
        [25, 0],
      ]),
      runOut: repeat(3),
    };
    const held = await run("insert-hold", only(cycle), { at: 40, frames: 6 });
    for (let t = 40; t <= 46; t += 0.5) expect(sampleCurve(curveOf(held.shot), t)).toBeCloseTo(sampleCurve(cycle, 40), 9);
    expectSame(cycle, curveOf(held.shot), someTimes(1, 40, 50));
    expectSame(cycle, curveOf(held.shot), someTimes(40.01, 97, 50), 6);
    expect(held.report.notes).toContain("Rounds of 1 curve became keys, so that only what was meant changes.");
    const longer = await run("insert-frames", only(cycle), { at: 33, frames: 5 });
    expectSame(cycle, curveOf(longer.shot), someTimes(-5, 33, 50));
    expectSame(cycle, curveOf(longer.shot), someTimes(49.5, 97, 50), 5);
    // In the cycle itself the rounds follow, and that is said too.
    const { report } = await run("insert-hold", only(cycle), { at: 9, frames: 6 });
    expect(report.notes).toContain("1 curve repeats, and the rounds follow the keys.");
  });

  test("simplify keeps each cycle's length, and its tolerance over every round, travelling ones too", async () => {
    const noisy = (last: number, step: number, rounds: number, kind: RunOn["kind"]): Curve => ({
      ...curveFrom(
        Array.from({ length: last }, (_, i) => [i + 1, step * i + 20 * Math.sin(i / 4) + Math.sin(i * 7)] as const),
        Tangent.linear,
      ),
      runOut: { kind, rounds },
    });
    const shot = smallShot(
      {
        "spine.rotateX": noisy(25, 0.1, 9, "repeat"),
        "spine.rotateY": noisy(104, 0, 2, "repeat"),
        "spine.rotateZ": noisy(25, 1.3, 20, "travel"),
      },
      { range: { start: 1, end: 300 } },
    );
    const { shot: after } = await run("simplify", shot, { rotation: 1, together: "control", extremes: false });
    for (const key in shot.base) {
      const [a, b] = [shot.base[key], after.base[key]];
      expect(b.times.length).toBeLessThan(a.times.length);
      expect([b.times[0], b.times[b.times.length - 1]]).toEqual([a.times[0], a.times[a.times.length - 1]]);
      for (let t = 1; t <= 500; t++) expect(Math.abs(sampleCurve(a, t) - sampleCurve(b, t))).toBeLessThanOrEqual(1 + 1e-6);
    }
  });

  test("a copy of some frames of a round is what played there", async () => {
    const cycle: Curve = {
      ...curveFrom([
        [1, 0],
        [9, 30],
        [25, 0],
      ]),
      runOut: repeat(3),
    };
    const { liftKeys } = await import("../../src/operations/timing/liftKeys.ts");
    const clip = liftKeys(only(cycle), { ...WHOLE_FIGURE, range: { start: 28, end: 40 } });
    for (let t = 0; t <= 12; t += 0.25) expect(sampleCurve(clip.curves[KEY], t)).toBeCloseTo(sampleCurve(cycle, 28 + t), 9);
  });

  test("passes baked on the keys there are, with a pass keyed in a round, play there as they did at every key", async () => {
    const cycle: Curve = {
      ...curveFrom([
        [1, 0],
        [9, 30],
        [25, 0],
      ]),
      runOut: repeat(3),
    };
    const pass = passOf("adds", {
      [KEY]: curveFrom([
        [1, 0],
        [40, 49.6],
        [60, 0],
      ]),
    });
    const shot = only(cycle, { passes: [pass], range: { start: 1, end: 97 } });
    const { shot: after } = await run("bake-passes", shot, { keys: "existing" });
    for (const time of curveOf(after).times)
      expect(sampleCurve(curveOf(after), time)).toBeCloseTo(sampleCurve(cycle, time) + sampleCurve(pass.curves[KEY], time), 6);
    expect([...curveOf(after).times]).toEqual(expect.arrayContaining([33, 40, 57, 60, 81]));
  });
});

describe("cleaning", () => {
  test("idle keys go from curves with rounds, and what plays stays within the tolerance, in every round", async () => {
    let gone = 0;
    await fc.assert(
      fc.asyncProperty(anyLoop, async (given) => {
        // Keys that change nothing, so that there is something to take out.
        const curve = insertKeysOn(
          given,
          [...given.times].slice(1).map((time, i) => (time + given.times[i]) / 2),
        );
        const tolerance = 1e-4;
        const after = curveOf((await run("reduce", only(curve), { tolerance })).shot);
        gone += curve.times.length - after.times.length;
        for (const time of someTimes(-100, 250, 300))
          expect(Math.abs(sampleCurve(after, time) - sampleCurve(curve, time))).toBeLessThan(20 * tolerance + sizeOf(curve));
      }),
      runs,
    );
    expect(gone).toBeGreaterThan(100);
  });

  test("untwisted, the rotation at every key is what it was, in rounds that repeat and travel too", async () => {
    const angles = fc.array(fc.double({ min: -900, max: 900, noNaN: true }), { minLength: 4, maxLength: 4 });
    await fc.assert(
      fc.asyncProperty(
        angles,
        angles,
        angles,
        fc.constantFrom("hold", "repeat", "travel") as fc.Arbitrary<RunOn["kind"]>,
        async (x, y, z, kind) => {
          const curve = (values: number[]): Curve => ({
            ...curveFrom(
              values.map((value, i) => [1 + 8 * i, value] as const),
              Tangent.linear,
            ),
            runOut: { kind, rounds: 2 },
          });
          const shot = smallShot({ "spine.rotateX": curve(x), "spine.rotateY": curve(y), "spine.rotateZ": curve(z) });
          const { shot: after } = await run("untwist", shot);
          const [a, b] = [makePlayer(shot), makePlayer(after)];
          for (const frame of [1, 9, 17, 25, 33, 41, 49, 57, 65, 73]) {
            a.pose(frame);
            b.pose(frame);
            for (let i = 0; i < shot.rig.controls.length; i++) expect(quatAngle(a.turns, i * 4, b.turns, i * 4)).toBeLessThan(1e-5);
          }
        },
      ),
      runs,
    );
  });
});

describe("turning round", () => {
  test("the blocked hop reversed shows at every frame what the mirrored frame showed, the last pose too", async () => {
    const hop = await hopAboard();
    const { shot: turned } = await run("reverse", hop);
    const { start, end } = hop.range;
    for (const key in hop.base)
      for (let frame = start; frame <= end; frame++)
        expect(sampleCurve(turned.base[key], start + end - frame)).toBeCloseTo(sampleCurve(hop.base[key], frame), 9);
  });
});

test("reversed blocking turns into curves like any other: every control, through the same poses", async () => {
  const { shot: turned } = await run("reverse", await hopAboard());
  const { shot: curves, report } = await run("convert-blocking", turned, { to: "curves" });
  for (const key in turned.base) {
    const curve = curves.base[key];
    if (curve.times.length < 2) continue;
    expect([...curve.kindIn, ...curve.kindOut]).not.toContain(Tangent.stepped);
    for (const time of turned.base[key].times) expect(sampleCurve(curve, time)).toBeCloseTo(sampleCurve(turned.base[key], time), 9);
  }
  expect(report.summary).toMatch(/Turned \d+ curves into curves/);
});

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
    const { shot: after } = await run("bake-follow", following);
    const [a, b] = [makePlayer(following), makePlayer(after)];
    const i = a.controlIndex.get("hand-right") as number;
    for (const frame of [-10, 1, 20, 49, 70]) {
      a.pose(frame);
      b.pose(frame);
      for (let k = 0; k < 16; k++) expect(b.worlds[i * 16 + k]).toBeCloseTo(a.worlds[i * 16 + k], 6);
    }
  });
});
