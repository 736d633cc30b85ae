import * as fc from "fast-check";
import { type Curve, type RunOn, Tangent } from "../../src/curve/curve.ts";
import { insertKeysOn } from "../../src/curve/edit.ts";
import { curveFrom } from "../../src/curve/make.ts";
import { sampleCurve } from "../../src/curve/track.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import { quatAngle } from "../../src/maths/rotation.ts";
import { EVERYTHING, WHOLE_FIGURE } from "../../src/operations/operation.ts";
import { liftKeys } from "../../src/operations/timing/liftKeys.ts";
import { halfAWalk } from "../../../demo/src/shots/halfAWalk.ts";
import { hopAboard } from "../../../demo/src/shots/hopAboard.ts";
import { anyLoop, someTimes } from "../help/random.ts";
import { passOf, smallShot } from "../help/shots.ts";
import { KEY, run, only, curveOf, sizeOf, jumps, runs, repeat, expectSame, unlessRefused } from "../help/promises.ts";

/** A cycle of 24 frames that plays four times. */
const cycle: Curve = {
  ...curveFrom([
    [1, 0],
    [9, 30],
    [25, 0],
  ]),
  runOut: repeat(3),
};

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
    const clip = liftKeys(only(cycle), { ...WHOLE_FIGURE, range: { start: 28, end: 40 } });
    for (let t = 0; t <= 12; t += 0.25) expect(sampleCurve(clip.curves[KEY], t)).toBeCloseTo(sampleCurve(cycle, 28 + t), 9);
  });

  test("passes baked on the keys there are, with a pass keyed in a round, play there as they did at every key", async () => {
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
    const { shot: turned } = await run("reverse", hop, {}, EVERYTHING);
    const { start, end } = hop.range;
    for (const key in hop.base)
      for (let frame = start; frame <= end; frame++)
        expect(sampleCurve(turned.base[key], start + end - frame)).toBeCloseTo(sampleCurve(hop.base[key], frame), 9);
  });
});

test("reversed blocking turns into curves like any other: every control, through the same poses", async () => {
  const { shot: turned } = await run("reverse", await hopAboard(), {}, EVERYTHING);
  const { shot: curves, report } = await run("convert-blocking", turned, { to: "curves" }, EVERYTHING);
  for (const key in turned.base) {
    const curve = curves.base[key];
    if (curve.times.length < 2) continue;
    expect([...curve.kindIn, ...curve.kindOut]).not.toContain(Tangent.stepped);
    for (const time of turned.base[key].times) expect(sampleCurve(curve, time)).toBeCloseTo(sampleCurve(turned.base[key], time), 9);
  }
  expect(report.summary).toMatch(/Turned \d+ curves into curves/);
});
