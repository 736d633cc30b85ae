import * as fc from "fast-check";
import { type Curve, Tangent } from "../../src/curve/curve.ts";
import { constantCurve, curveFrom } from "../../src/curve/make.ts";
import { sampleCurve } from "../../src/curve/track.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import type { Shot } from "../../src/model/shot.ts";
import { favour } from "../../src/operations/values/favour.ts";
import { fitValues } from "../../src/operations/values/fitValues.ts";
import { matchEnds } from "../../src/operations/values/matchEnds.ts";
import { noContext, type Operation, type Scope, EVERYTHING, WHOLE_FIGURE } from "../../src/operations/operation.ts";
import { scaleRig } from "../../src/operations/values/scaleRig.ts";
import { scaleValues } from "../../src/operations/values/scaleValues.ts";
import { shiftValues } from "../../src/operations/values/shiftValues.ts";
import { towardRest } from "../../src/operations/values/towardRest.ts";
import { handOverTheLantern } from "../../../demo/src/shots/handOverTheLantern.ts";
import { anyCurve } from "../help/random.ts";
import { movingShot, passOf, smallShot } from "../help/shots.ts";

async function run<S>(operation: Operation<S>, shot: Shot, settings: Partial<S>, scope: Scope = WHOLE_FIGURE): Promise<Shot> {
  return (await operation.run(shot, scope, { ...operation.settings.parse({}), ...settings }, noContext)).shot;
}
const only = (curve: Curve) => smallShot({ "spine.rotateX": curve });
const spine = (shot: Shot) => shot.base["spine.rotateX"];
const keyed = curveFrom([
  [1, 2],
  [10, 8],
  [20, -4],
  [30, 6],
]);
const values = (shot: Shot) => [...spine(shot).values];

describe("scale values", () => {
  test("−100 % about zero twice is the original, the whole curve, whatever its tangents", async () => {
    await fc.assert(
      fc.asyncProperty(anyCurve, async (curve) => {
        const once = await run(scaleValues, only(curve), { factor: -100 });
        const twice = await run(scaleValues, once, { factor: -100 });
        for (let t = curve.times[0]; t < curve.times[curve.times.length - 1]; t += 0.37) {
          expect(Math.abs(sampleCurve(spine(once), t) + sampleCurve(curve, t))).toBeLessThan(1e-7);
          expect(Math.abs(sampleCurve(spine(twice), t) - sampleCurve(curve, t))).toBeLessThan(1e-7);
        }
      }),
      { numRuns: 40 },
    );
  });

  test.each([
    ["zero", [4, 16, -8, 12]],
    ["first", [2, 14, -10, 10]],
    ["mean", [1, 13, -11, 9]],
    ["frame", [-4, 8, -16, 4]],
    ["value", [-1, 11, -13, 7]],
  ] as const)("200 %% about %s", async (pivot, expected) => {
    expect(values(await run(scaleValues, only(keyed), { factor: 200, pivot, frame: 10, value: 5 }))).toEqual([...expected]);
  });

  test("only the picked keys; 100 % is the very same curve", async () => {
    const scope = { ...WHOLE_FIGURE, keys: { "spine.rotateX": [10] } };
    expect(values(await run(scaleValues, only(keyed), { factor: 50 }, scope))).toEqual([2, 4, -4, 6]);
    expect(spine(await run(scaleValues, only(keyed), { factor: 100 }))).toBe(keyed);
  });
});

describe("shift and fit", () => {
  test("rotations and moves have their own amounts", async () => {
    const shot = smallShot({ "spine.rotateX": keyed, "root.moveX": keyed });
    const after = await run(shiftValues, shot, { rotation: 10, move: -0.5 });
    expect([...after.base["spine.rotateX"].values]).toEqual([12, 18, 6, 16]);
    expect([...after.base["root.moveX"].values]).toEqual([1.5, 7.5, -4.5, 5.5]);
    expect(spine(await run(shiftValues, shot, {}))).toBe(keyed);
  });

  test("fitted, the lowest and highest key are as asked and the shape is the same", async () => {
    const after = await run(fitValues, only(keyed), { low: 0, high: 1 });
    expect(values(after)).toEqual([0.5, 1, 0, 10 / 12].map((v) => expect.closeTo(v, 12)));
    for (let t = 1; t <= 30; t += 0.7) expect(sampleCurve(spine(after), t)).toBeCloseTo((sampleCurve(keyed, t) + 4) / 12, 9);
  });

  test("level curves stay and are counted; an empty range is refused", async () => {
    const { report } = await fitValues.run(only(constantCurve(3)), WHOLE_FIGURE, { low: 0, high: 1 }, noContext);
    expect(report.warnings).toEqual(["1 level curves have no range to fit and stay as they are."]);
    await expect(run(fitValues, only(keyed), { low: 5, high: 5 })).rejects.toThrow(/must be above/);
  });
});

describe("favour", () => {
  const middle = { ...WHOLE_FIGURE, keys: { "spine.rotateX": [10] } };

  test.each([
    [0, 8],
    [50, 2],
    [100, -4],
    [200, -16],
    [-50, 5],
    [-100, 2],
    [-200, -4],
  ])("%p %% puts the key at %p", async (toward, value) => {
    expect(values(await run(favour, only(keyed), { toward }, middle))[1]).toBeCloseTo(value, 12);
  });

  test("a run of picked keys is pulled toward the keys outside it; ends without a neighbour stay", async () => {
    const two = { ...WHOLE_FIGURE, keys: { "spine.rotateX": [10, 20] } };
    expect(values(await run(favour, only(keyed), { toward: 100 }, two))).toEqual([2, 6, 6, 6]);
    const end = { ...WHOLE_FIGURE, keys: { "spine.rotateX": [30] } };
    expect(values(await run(favour, only(keyed), { toward: 100 }, end))).toEqual([2, 8, -4, 6]);
  });
});

describe("toward rest", () => {
  test("100 % is the rest pose, −50 % pushes away, scale rests at one", async () => {
    const shot = smallShot({ "spine.rotateX": keyed, "spine.scaleX": constantCurve(3) }, {});
    const rig = { ...shot.rig, controls: shot.rig.controls.map((c) => ({ ...c, channels: [...c.channels, "scaleX"] })) };
    const rest = await run(towardRest, { ...shot, rig }, { share: 100 });
    expect([...rest.base["spine.rotateX"].values]).toEqual([0, 0, 0, 0].map((v) => expect.closeTo(v, 12)));
    expect(rest.base["spine.scaleX"].values[0]).toBe(1);
    expect(values(await run(towardRest, only(keyed), { share: -50 }))).toEqual([3, 12, -6, 9]);
  });

  test("in an adding pass rest is no change", async () => {
    const shot = movingShot({ passes: [passOf("adds", { "spine.scaleX": constantCurve(0.4) })] });
    const rig = { ...shot.rig, controls: shot.rig.controls.map((c) => ({ ...c, channels: [...c.channels, "scaleX"] })) };
    const after = await run(towardRest, { ...shot, rig }, { share: 50 }, { ...WHOLE_FIGURE, layer: "pass-adds" });
    expect(after.passes[0].curves["spine.scaleX"].values[0]).toBeCloseTo(0.2, 12);
  });
});

describe("match ends", () => {
  const later = { ...WHOLE_FIGURE, range: { start: 20, end: 30 } };

  test("a range starts where the key before it ended, moved as one or fading out", async () => {
    expect(values(await run(matchEnds, only(keyed), { side: "start" }, later))).toEqual([2, 8, 8, 18]);
    expect(values(await run(matchEnds, only(keyed), { side: "start", falloff: true }, later))).toEqual([2, 8, 8, 6]);
  });

  test("a range ends where the next key starts", async () => {
    const early = { ...WHOLE_FIGURE, range: { start: 1, end: 10 } };
    expect(values(await run(matchEnds, only(keyed), { side: "end" }, early))).toEqual([-10, -4, -4, 6]);
  });

  test("a cycle closes: its end comes to its start", async () => {
    const after = values(await run(matchEnds, only(keyed), { side: "both" }));
    expect(after[0]).toBe(2);
    expect(after[3]).toBeCloseTo(2, 12);
  });
});

describe("a rig scaled by five (common practice: move curves × 5 about zero, rotation curves left alone)", () => {
  test("every joint is five times as far, turned as before, with passes and follows", async () => {
    const lantern = await handOverTheLantern();
    const shot = { ...lantern, passes: [passOf("adds", { "hips.moveY": keyed, "chest.rotateX": keyed })] };
    const { shot: after, report } = await scaleRig.run(shot, EVERYTHING, { factor: 5 }, noContext);
    const [a, b] = [makePlayer(shot), makePlayer(after)];
    for (const frame of [1, 27, 40, 84]) {
      a.pose(frame);
      b.pose(frame);
      for (let i = 0; i < shot.rig.controls.length; i++)
        for (let k = 0; k < 15; k++) expect(b.worlds[i * 16 + k]).toBeCloseTo(a.worlds[i * 16 + k] * (k >= 12 ? 5 : 1), 6);
    }
    expect(after.base["chest.rotateX"]).toBe(shot.base["chest.rotateX"]);
    expect(report.summary).toMatch(/^\d+ move curves and \d+ rest places × 5; \d+ other curves left alone/);
  });

  test("there and back is the same motion", async () => {
    const shot = movingShot();
    const back = await run(scaleRig, await run(scaleRig, shot, { factor: 4 }), { factor: 0.25 });
    for (let t = 1; t < 49; t += 1.7)
      expect(sampleCurve(back.base["root.moveX"], t)).toBeCloseTo(sampleCurve(shot.base["root.moveX"], t), 12);
  });

  test("free tangents are scaled with their values", async () => {
    const free = { ...keyed, kindOut: keyed.kindOut.map(() => Tangent.free), kindIn: keyed.kindIn.map(() => Tangent.free) };
    const after = await run(scaleRig, smallShot({ "root.moveX": free }), { factor: 3 });
    for (let t = 1; t < 30; t += 0.9) expect(sampleCurve(after.base["root.moveX"], t)).toBeCloseTo(3 * sampleCurve(free, t), 9);
  });
});
