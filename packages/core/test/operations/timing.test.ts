import { type Curve, Tangent } from "../../src/curve/curve.ts";
import { constantCurve, curveFrom } from "../../src/curve/make.ts";
import { sampleCurve } from "../../src/curve/track.ts";
import type { Shot } from "../../src/model/shot.ts";
import { noContext, type Scope, WHOLE_FIGURE } from "../../src/operations/operation.ts";
import { findPoses } from "../../src/operations/poses/poses.ts";
import { reverse } from "../../src/operations/timing/reverse.ts";
import { setGap } from "../../src/operations/timing/setGap.ts";
import { movingShot, passOf, smallShot } from "../help/shots.ts";

const gap = async (shot: Shot, from: number, to: number, frames: number, ripple = true, scope: Scope = WHOLE_FIGURE) =>
  setGap.run(shot, scope, { from, to, gap: frames, ripple }, noContext);

const spine = (pairs: [number, number][]) => smallShot({ "spine.rotateX": curveFrom(pairs) }, { range: { start: 1, end: 75 } });
const times = (shot: Shot, key = "spine.rotateX") => [...shot.base[key].times];

describe("set gap", () => {
  test("keys at 1, 25 and 75 have gaps of 24 and 50; the second gap set to 25 puts the last key at 50 (common practice)", async () => {
    const shot = spine([
      [1, 0],
      [25, 10],
      [75, 0],
    ]);
    expect(findPoses(shot, WHOLE_FIGURE, 0.5).map((pose) => pose.frame)).toEqual([1, 25, 75]);
    const { shot: after } = await gap(shot, 25, 75, 25);
    expect(times(after)).toEqual([1, 25, 50]);
    expect(after.range.end).toBe(50);
  });

  test("everything later shifts along, or stays", async () => {
    const shot = spine([
      [1, 0],
      [11, 10],
      [16, 4],
      [30, 0],
    ]);
    expect(times((await gap(shot, 11, 16, 3)).shot)).toEqual([1, 11, 14, 28]);
    expect(times((await gap(shot, 11, 16, 3, false)).shot)).toEqual([1, 11, 14, 30]);
    expect(times((await gap(shot, 11, 16, 9)).shot)).toEqual([1, 11, 20, 34]);
  });

  test("without ripple a pose cannot go past the next one", async () => {
    const shot = spine([
      [1, 0],
      [11, 10],
      [16, 4],
    ]);
    await expect(gap(shot, 1, 11, 15, false)).rejects.toThrow(/frame 16, on or past the next one at 16/);
  });

  test("keys between the two poses keep their share of the way", async () => {
    const shot = smallShot({
      "spine.rotateX": curveFrom([
        [1, 0],
        [21, 5],
      ]),
      "root.moveX": curveFrom([
        [1, 0],
        [11, 1],
        [21, 2],
      ]),
    });
    const { shot: after, report } = await gap(shot, 1, 21, 10);
    expect(times(after, "root.moveX")).toEqual([1, 6, 11]);
    expect(report.warnings[0]).toMatch(/1 curve\./);
  });

  test("the whole figure takes passes, their ranges, weights and the shot's end along", async () => {
    const pass = passOf(
      "adds",
      {
        "spine.rotateX": curveFrom([
          [13, 0],
          [25, 5],
        ]),
      },
      {
        range: { start: 20, end: 40, easeIn: 2, easeOut: 2 },
        weight: curveFrom([
          [1, 1],
          [30, 0.5],
        ]),
      },
    );
    const shot = movingShot({ passes: [pass] });
    const { shot: after } = await gap(shot, 13, 25, 6);
    expect([...after.passes[0].curves["spine.rotateX"].times]).toEqual([13, 19]);
    expect(after.passes[0].range).toEqual({ start: 20, end: 34, easeIn: 2, easeOut: 2 });
    expect([...after.passes[0].weight.times]).toEqual([1, 24]);
    expect(after.range.end).toBe(43);
  });

  test("only the scope's controls when it is narrowed; the range stays", async () => {
    const shot = movingShot();
    const { shot: after } = await gap(shot, 13, 25, 6, true, { ...WHOLE_FIGURE, controls: ["spine"] });
    expect(times(after)).toEqual([1, 13, 19, 43]);
    expect(after.base["root.moveX"]).toBe(shot.base["root.moveX"]);
    expect(after.range).toEqual(shot.range);
  });

  test("refuses a next pose that is not later, and settings out of range", async () => {
    await expect(gap(movingShot(), 25, 13, 6)).rejects.toThrow(/must come after/);
    for (const bad of [0, -3, 1e9, 2.5, "abc", Number.NaN])
      expect(setGap.settings.safeParse({ from: 1, to: 13, gap: bad, ripple: true }).success).toBe(false);
  });
});

describe("reverse", () => {
  test("plays every curve backward in place, to 1e-9 at every tenth of a frame", async () => {
    const shot = movingShot();
    const { shot: after } = await reverse.run(shot, WHOLE_FIGURE, {}, noContext);
    for (const key in shot.base)
      for (let t = 1; t <= 49; t += 0.1)
        expect(Math.abs(sampleCurve(after.base[key], t) - sampleCurve(shot.base[key], 50 - t))).toBeLessThan(1e-9 * 60);
  });

  test("stepped poses swap places and hold as long as they did", async () => {
    const shot = smallShot({
      "spine.rotateX": curveFrom(
        [
          [1, 0],
          [10, 5],
          [20, 9],
        ],
        Tangent.stepped,
      ),
    });
    const { shot: after } = await reverse.run(shot, { ...WHOLE_FIGURE, range: { start: 1, end: 20 } }, {}, noContext);
    expect([2, 10.5, 11.5, 19].map((t) => sampleCurve(after.base["spine.rotateX"], t))).toEqual([5, 5, 0, 0]);
  });

  test("only the range in scope", async () => {
    const shot = movingShot();
    const { shot: after } = await reverse.run(shot, { ...WHOLE_FIGURE, range: { start: 13, end: 25 } }, {}, noContext);
    const [was, is] = [shot.base["spine.rotateX"], after.base["spine.rotateX"]] as [Curve, Curve];
    for (let t = 13; t <= 25; t += 0.5) expect(sampleCurve(is, t)).toBeCloseTo(sampleCurve(was, 38 - t), 9);
    expect(sampleCurve(is, 1)).toBe(sampleCurve(was, 1));
    expect(sampleCurve(is, 49)).toBe(sampleCurve(was, 49));
  });

  test("says when nothing is in scope", async () => {
    await expect(reverse.run(smallShot(), WHOLE_FIGURE, {}, noContext)).rejects.toThrow(/no curve is in scope/);
    await expect(reverse.run(movingShot(), { ...WHOLE_FIGURE, controls: ["nose"] }, {}, noContext)).rejects.toThrow(/no control "nose"/);
    await expect(reverse.run(movingShot(), { ...WHOLE_FIGURE, layer: "pass-9" }, {}, noContext)).rejects.toThrow(/no pass "pass-9"/);
  });
});

describe("key poses", () => {
  test("are frames that enough moving controls share", () => {
    const shot = movingShot();
    expect(findPoses(shot, WHOLE_FIGURE, 0.9).map((pose) => pose.frame)).toEqual([1, 49]);
    expect(findPoses(shot, WHOLE_FIGURE, 0.6).map((pose) => pose.frame)).toEqual([1, 13, 25, 49]);
    expect(findPoses(shot, { ...WHOLE_FIGURE, controls: ["hand-left"] }, 0.5).map((pose) => pose.frame)).toEqual([1, 13, 49]);
  });

  test("controls that do not move do not count", () => {
    const shot = movingShot();
    const more = { ...shot, base: { ...shot.base, "hand-right.rotateX": constantCurve(3, 7) } };
    expect(findPoses(more, WHOLE_FIGURE, 0)).toEqual(findPoses(shot, WHOLE_FIGURE, 0));
  });
});
