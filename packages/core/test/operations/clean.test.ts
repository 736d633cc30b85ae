import * as fc from "fast-check";
import { type Curve, Tangent } from "../../src/curve/curve.ts";
import { insertKeyOn } from "../../src/curve/edit.ts";
import { constantCurve, curveFrom, linearCurve, linearFrame } from "../../src/curve/make.ts";
import { withoutRedundant } from "../../src/curve/redundant.ts";
import { sampleCurve } from "../../src/curve/track.ts";
import { measureDrift } from "../../src/evaluate/drift.ts";
import { quatAngle, quatFromEuler, DEG, rotationOrders } from "../../src/maths/rotation.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import { countKeys, type Shot } from "../../src/model/shot.ts";
import { despike } from "../../src/operations/clean/despike.ts";
import { keyMissing } from "../../src/operations/clean/keyMissing.ts";
import { noContext, type Scope, WHOLE_FIGURE } from "../../src/operations/operation.ts";
import { reduce } from "../../src/operations/clean/reduce.ts";
import { resample } from "../../src/operations/clean/resample.ts";
import { smooth } from "../../src/operations/clean/smooth.ts";
import { untwist } from "../../src/operations/clean/untwist.ts";
import { capturedSignal } from "../../../demo/src/shots/capturedSignal.ts";
import { anyAngle, anyCurve } from "../help/random.ts";
import { captureShot } from "../help/capture.ts";
import { control, movingShot, smallShot } from "../help/shots.ts";

const captured = (count: number, make: (i: number) => number) =>
  linearCurve(
    linearFrame(Float64Array.from({ length: count }, (_, i) => i + 1)),
    Float64Array.from({ length: count }, (_, i) => make(i)),
  );
const noisy = captured(90, (i) => 20 * Math.sin(i / 9) + 0.6 * Math.sin(i * 2.4));
const only = (curve: Curve) => smallShot({ "spine.rotateX": curve }, { range: { start: 1, end: 90 } });
const spine = (shot: Shot) => shot.base["spine.rotateX"];

/** How much neighbouring steps differ: what jitter looks like. */
function roughness({ values }: Curve): number {
  let sum = 0;
  for (let i = 2; i < values.length; i++) sum += Math.abs(values[i] - 2 * values[i - 1] + values[i - 2]);
  return sum / (values.length - 2);
}

describe("smooth", () => {
  const run = (shot: Shot, more: Partial<ReturnType<typeof smooth.settings.parse>> = {}, scope: Scope = WHOLE_FIGURE) =>
    smooth.run(shot, scope, { ...smooth.settings.parse({}), ...more }, noContext);

  test.each(["polynomial", "bell", "lowpass"] as const)("%s takes jitter out, keeps the keys' frames and both ends", async (method) => {
    const { shot, report } = await run(only(noisy), { method, width: 4, cutoff: 3 });
    expect(roughness(spine(shot))).toBeLessThan(roughness(noisy) * 0.45);
    expect([...spine(shot).times]).toEqual([...noisy.times]);
    expect([spine(shot).values[0], spine(shot).values[89]]).toEqual([noisy.values[0], noisy.values[89]]);
    expect(report.drift?.turn.amount).toBeGreaterThan(0.1);
    expect(report.drift?.turn.amount).toBeLessThan(6);
  });

  test("strength 0 changes nothing, 50 % is half the way", async () => {
    expect(spine((await run(only(noisy), { strength: 0 })).shot)).toBe(noisy);
    const [half, full] = [spine((await run(only(noisy), { strength: 50 })).shot), spine((await run(only(noisy))).shot)];
    for (let i = 0; i < 90; i++) expect(half.values[i]).toBeCloseTo((noisy.values[i] + full.values[i]) / 2, 9);
  });

  test("peaks and valleys keep their values when asked", async () => {
    const { shot } = await run(only(noisy), { width: 9, method: "bell", extremes: true });
    const top = noisy.values.indexOf(Math.max(...noisy.values));
    expect(spine(shot).values[top]).toBe(noisy.values[top]);
    expect(spine((await run(only(noisy), { width: 9, method: "bell" })).shot).values[top]).toBeLessThan(noisy.values[top]);
  });

  test("only the keys of the range and of the scope", async () => {
    const { shot } = await run(only(noisy), {}, { ...WHOLE_FIGURE, range: { start: 30, end: 40 } });
    const changed = [...spine(shot).values].flatMap((value, i) => (value === noisy.values[i] ? [] : [i + 1]));
    expect(Math.min(...changed)).toBeGreaterThanOrEqual(30);
    expect(Math.max(...changed)).toBeLessThanOrEqual(40);
  });

  test("a clean, keyed curve is hardly touched", async () => {
    const { report } = await run(movingShot());
    expect(report.drift?.turn.amount).toBeLessThan(4);
  });
});

test("despike mends spikes of the captured shot's curves and leaves the others as they were", async () => {
  const shot = capturedSignal();
  const curve = shot.base["chest.rotateX"];
  const spiked = linearCurve(
    linearFrame(curve.times),
    curve.values.map((value, i) => (i === 50 ? value + 25 : value)),
  );
  const { shot: after, report } = await despike.run(
    { ...shot, base: { ...shot.base, "chest.rotateX": spiked } },
    { ...WHOLE_FIGURE, controls: ["chest"] },
    despike.settings.parse({}),
    noContext,
  );
  expect(report.summary).toMatch(/^Mended 1 spike on 1 curve$/);
  expect(Math.abs(after.base["chest.rotateX"].values[50] - curve.values[50])).toBeLessThan(2);
});

describe("untwist", () => {
  const run = (shot: Shot, solution: "nearest" | "turns" = "nearest") => untwist.run(shot, WHOLE_FIGURE, { solution }, noContext);
  const jump = ({ values }: Curve) => Math.max(...Array.from(values.subarray(1), (value, i) => Math.abs(value - values[i])));

  test.each(rotationOrders)("never changes the rotation at any key, whatever the angles (%s)", async (order) => {
    await fc.assert(
      fc.asyncProperty(fc.array(fc.tuple(anyAngle, anyAngle, anyAngle), { minLength: 2, maxLength: 12 }), async (angles) => {
        const rig = { id: "r", name: "r", figure: null, controls: [control("a", null, [0, 0, 0], { order })] };
        const frame = linearFrame(Float64Array.from(angles, (_, i) => i + 1));
        const base = Object.fromEntries(
          ["X", "Y", "Z"].map((axis, k) => [
            `a.rotate${axis}`,
            linearCurve(
              frame,
              Float64Array.from(angles, (a) => a[k]),
            ),
          ]),
        );
        const shot = smallShot(base, { rig });
        for (const solution of ["nearest", "turns"] as const) {
          const { shot: after } = await run(shot, solution);
          const quat = (from: Shot, i: number) => {
            const q = new Float64Array(4);
            const [x, y, z] = ["X", "Y", "Z"].map((axis) => from.base[`a.rotate${axis}`].values[i] * DEG);
            quatFromEuler(q, 0, x, y, z, order);
            return q;
          };
          angles.forEach((_, i) => {
            expect(quatAngle(quat(shot, i), 0, quat(after, i), 0)).toBeLessThan(1e-5);
          });
          if (solution === "turns") for (const curve of Object.values(after.base)) expect(jump(curve)).toBeLessThanOrEqual(180 + 1e-9);
        }
      }),
      { numRuns: 30 },
    );
  });

  test("360° jumps go, and a curve without any stays the same curve", async () => {
    const wrapped = captured(60, (i) => ((i * 11 + 180) % 360) - 180);
    const { shot } = await run(only(wrapped), "turns");
    for (let i = 0; i < 60; i++) expect(spine(shot).values[i]).toBeCloseTo(i * 11, 9);
    expect(spine((await run(only(noisy), "turns")).shot)).toBe(noisy);
  });

  test("the open capture's flips are cured where whole turns cannot", async () => {
    const shot = captureShot();
    const worst = (s: Shot) =>
      Math.max(
        ...Object.entries(s.base).flatMap(([key, curve]) => (key.includes(".rotate") && curve.times.length > 1 ? [jump(curve)] : [])),
      );
    const turns = worst((await run(shot, "turns")).shot);
    const { shot: both } = await run(shot);
    expect(worst(both)).toBeLessThanOrEqual(turns);
    expect(measureDrift(shot, both, { start: 1, end: 400 }).turn.amount).toBeLessThan(1e-4);
  });

  test("controls whose curves are keyed apart get whole turns only, and are named", async () => {
    const { report } = await run(movingShot());
    expect(report.warnings[0]).toMatch(/Only whole turns on root, spine/);
    await expect(untwist.run(smallShot({ "root.moveX": noisy }), WHOLE_FIGURE, { solution: "turns" }, noContext)).rejects.toThrow(
      /no rotate curve/,
    );
  });
});

describe("idle keys", () => {
  test("those inserted on a curve go again, those that matter stay", () => {
    fc.assert(
      fc.property(anyCurve, fc.array(fc.double({ min: 0.05, max: 0.95, noNaN: true }), { maxLength: 4 }), (curve, shares) => {
        const span = curve.times[curve.times.length - 1] - curve.times[0];
        const more = shares.reduce((c, share) => insertKeyOn(c, curve.times[0] + share * span), curve);
        const fewer = withoutRedundant(more, [...more.times.keys()], 1e-6);
        let off = 0;
        for (let t = curve.times[0] + 1e-3; t < curve.times[0] + span; t += 0.0871) {
          const beside = more.times.some((time) => Math.abs(time - t) < 2e-3);
          if (!beside) off = Math.max(off, Math.abs(sampleCurve(fewer, t) - sampleCurve(curve, t)));
        }
        // A handle of nearly the whole segment makes the curve all but upright: a hair in time is much in value there.
        expect(off).toBeLessThan(5e-3);
      }),
      { numRuns: 60 },
    );
  });

  test("level curves keep one key, straight captured runs their ends", async () => {
    const level = captured(40, () => 3);
    const bent = captured(41, (i) => (i < 20 ? i : 40 - i));
    const shot = smallShot({ "spine.rotateX": level, "spine.rotateY": bent });
    const { shot: after, report } = await reduce.run(shot, WHOLE_FIGURE, { tolerance: 1e-6 }, noContext);
    expect([...after.base["spine.rotateX"].times]).toEqual([1]);
    expect([...after.base["spine.rotateY"].times]).toEqual([1, 21, 41]);
    expect(report.drift?.turn.amount).toBeLessThan(1e-6);
    expect(report.keysAfter).toBe(4);
  });

  test("a hold of 40 000 frames within motion loses its copies, as a short one does", async () => {
    // Key by key, each time over all before it, this would take minutes.
    const long = captured(40_020, (i) => (i < 10 ? i : i < 40_010 ? 10 : i - 40_000));
    const { shot } = await reduce.run(only(long), WHOLE_FIGURE, { tolerance: 1e-6 }, noContext);
    expect([...spine(shot).times]).toEqual([1, 11, 40_011, 40_020]);
  });

  test("holds of stepped poses lose their copies", async () => {
    const steps = curveFrom(
      [
        [1, 0],
        [5, 0],
        [9, 7],
        [13, 7],
        [17, 2],
      ],
      Tangent.stepped,
    );
    const { shot } = await reduce.run(only(steps), WHOLE_FIGURE, { tolerance: 0 }, noContext);
    expect([...spine(shot).times]).toEqual([1, 9, 17]);
  });
});

describe("resample", () => {
  const run = (shot: Shot, more: object, scope: Scope = WHOLE_FIGURE) =>
    resample.run(shot, scope, { ...resample.settings.parse({}), ...more }, noContext);

  test("each few frames, with the curve's values there and both ends", async () => {
    const { shot } = await run(only(noisy), { every: 10 });
    expect([...spine(shot).times]).toEqual([1, 11, 21, 31, 41, 51, 61, 71, 81, 90]);
    for (const t of spine(shot).times) expect(sampleCurve(spine(shot), t)).toBe(sampleCurve(noisy, t));
  });

  test("on every frame the drift is nothing at whole frames", async () => {
    const { report } = await run(movingShot(), { every: 1, kind: "linear" });
    expect(report.drift?.turn.amount).toBeLessThan(1e-5);
  });

  test("at given frames, within a range only", async () => {
    const { shot } = await run(only(noisy), { frames: "20, 33 47" }, { ...WHOLE_FIGURE, range: { start: 10, end: 50 } });
    const times = [...spine(shot).times];
    expect(times.filter((t) => t >= 10 && t <= 50)).toEqual([10, 20, 33, 47, 50]);
    expect(times.filter((t) => t < 10)).toHaveLength(9);
    await expect(run(only(noisy), { frames: "1 two" })).rejects.toThrow(/"two" is not a frame/);
  });
});

describe("keys that are missing", () => {
  const run = (shot: Shot, more: object) => keyMissing.run(shot, WHOLE_FIGURE, { ...keyMissing.settings.parse({}), ...more }, noContext);

  test("are put at the ends of the range and at every pose, no curve changes, who was forgotten is named", async () => {
    const shot = movingShot();
    for (const where of ["ends", "poses"] as const) {
      const { shot: after, report } = await run(shot, { where });
      for (const key in shot.base) {
        expect([...after.base[key].times]).toEqual(expect.arrayContaining(where === "ends" ? [1, 49] : [1, 13, 25, 49]));
        for (let t = 1; t <= 49; t += 0.3)
          expect(Math.abs(sampleCurve(after.base[key], t) - sampleCurve(shot.base[key], t))).toBeLessThan(1e-9);
      }
      expect(report.warnings.join()).toMatch(
        where === "poses" ? /Keys were missing on root, .*Never keyed: hand right/s : /Never keyed: hand right/,
      );
    }
  });

  test("a complete shot says so", async () => {
    const { shot } = await run(movingShot(), { where: "poses" });
    const again = await run(shot, { where: "poses" });
    expect(again.report.summary).toBe("Nothing is missing");
    expect(countKeys(again.shot.base)).toBe(countKeys(shot.base));
  });

  test("a single key holds: keyed at the ends it still does", async () => {
    const { shot } = await run(smallShot({ "spine.rotateX": constantCurve(4, 20) }), { where: "ends" });
    expect([...spine(shot).times]).toEqual([1, 20, 49]);
    const player = makePlayer(shot);
    for (const frame of [1, 10, 33, 49]) {
      player.readValues(frame);
      expect(player.values[player.channelIndex.get("spine.rotateX") as number]).toBeCloseTo(4, 9);
    }
  });
});
