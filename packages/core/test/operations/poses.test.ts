import { curveFrom } from "../../src/curve/make.ts";
import { sampleCurve } from "../../src/curve/track.ts";
import type { Shot } from "../../src/model/shot.ts";
import { checkSettings } from "../../src/operations/catalogue.ts";
import { movePose } from "../../src/operations/timing/movePose.ts";
import { noContext, type Operation, type Scope, WHOLE_FIGURE } from "../../src/operations/operation.ts";
import { pastePose } from "../../src/operations/poses/pastePose.ts";
import { removePoses } from "../../src/operations/poses/removePoses.ts";
import { setGap } from "../../src/operations/timing/setGap.ts";
import { swapPoses } from "../../src/operations/poses/swapPoses.ts";
import { movingShot, smallShot } from "../help/shots.ts";

const run = async <Settings>(operation: Operation<Settings>, shot: Shot, settings: object, scope: Partial<Scope> = {}) =>
  operation.run(shot, { ...WHOLE_FIGURE, ...scope }, checkSettings(operation as Operation, settings) as Settings, noContext);

/** Four poses with a breakdown key between the second and the third on one curve. */
const posed = (more: Partial<Shot> = {}) =>
  smallShot(
    {
      "spine.rotateX": curveFrom([
        [1, 0],
        [11, 10],
        [16, 14],
        [21, 20],
        [31, 30],
      ]),
      "arm-left.rotateZ": curveFrom([
        [1, 0],
        [11, -10],
        [21, -20],
        [31, -30],
      ]),
    },
    { range: { start: 1, end: 31 }, ...more },
  );
const marks = { poseMarks: [{ frame: 11, name: "Crouch", colour: null }] };

describe("moving a pose", () => {
  test("it goes between its neighbours; keys in between keep their share of the way and later poses stay", async () => {
    const { shot } = await run(movePose, posed(marks), { at: 11, to: 7, share: 100 });
    expect([...shot.base["arm-left.rotateZ"].times]).toEqual([1, 7, 21, 31]);
    expect([...shot.base["spine.rotateX"].times]).toEqual([1, 7, 14, 21, 31]);
    expect(shot.poseMarks[0].frame).toBe(7);
    expect(shot.range.end).toBe(31);
  });

  test("with ripple the later ones go along and the shot grows, which is said", async () => {
    const { shot, report } = await run(movePose, posed(), { at: 11, to: 15, ripple: true, share: 100 });
    expect([...shot.base["arm-left.rotateZ"].times]).toEqual([1, 15, 25, 35]);
    expect(report.notes).toEqual(["The shot now ends at frame 35."]);
  });

  test("the last pose may go past the end, the first one before the others", async () => {
    const { shot } = await run(movePose, posed(), { at: 31, to: 40 });
    expect([...shot.base["arm-left.rotateZ"].times]).toEqual([1, 11, 21, 40]);
    expect(shot.range.end).toBe(40);
    const { shot: first } = await run(movePose, posed(), { at: 1, to: 5 });
    expect([...first.base["arm-left.rotateZ"].times]).toEqual([5, 11, 21, 31]);
  });

  test.each([
    [{ at: 11, to: 21, share: 100 }, /on or past the pose at frame 21/],
    [{ at: 11, to: 1 }, /on or past the pose at frame 1/],
    [{ at: 12, to: 14 }, /no key pose at frame 12/],
  ])("%p is refused", async (settings, message) => {
    await expect(run(movePose, posed(), settings)).rejects.toThrow(message as RegExp);
  });
});

describe("removing poses", () => {
  test("their keys go, the others stay; a curve keeps its last key", async () => {
    const { shot } = await run(removePoses, posed(marks), { frames: [11, 21] });
    expect([...shot.base["arm-left.rotateZ"].times]).toEqual([1, 31]);
    expect([...shot.base["spine.rotateX"].times]).toEqual([1, 16, 31]);
    expect(shot.poseMarks).toEqual([]);
    const { shot: bare } = await run(removePoses, posed(), { frames: [1, 11, 21, 31] });
    expect([...bare.base["arm-left.rotateZ"].times]).toEqual([1]);
  });

  test("frames without keys and no frames at all are refused", async () => {
    await expect(run(removePoses, posed(), { frames: [5] })).rejects.toThrow(/no key at frame 5/);
    await expect(run(removePoses, posed(), {})).rejects.toThrow(/no frame is given/);
  });
});

describe("swapping poses", () => {
  test("twice is the original; narrowed by scope the rest stays", async () => {
    const shot = movingShot();
    const { shot: once } = await run(swapPoses, shot, { one: 1, other: 25 });
    for (const key in shot.base) {
      expect(sampleCurve(once.base[key], 1)).toBeCloseTo(sampleCurve(shot.base[key], 25), 12);
      expect(sampleCurve(once.base[key], 25)).toBeCloseTo(sampleCurve(shot.base[key], 1), 12);
    }
    const { shot: twice } = await run(swapPoses, once, { one: 25, other: 1 });
    for (const key in shot.base)
      for (const frame of [1, 25]) expect(sampleCurve(twice.base[key], frame)).toBeCloseTo(sampleCurve(shot.base[key], frame), 12);
    const { shot: spine } = await run(swapPoses, shot, { one: 1, other: 25 }, { controls: ["spine"] });
    expect(spine.base["root.moveX"]).toBe(shot.base["root.moveX"]);
    await expect(run(swapPoses, shot, { one: 5, other: 5 })).rejects.toThrow(/both are the pose of frame 5/);
  });
});

test("names of poses go along with gaps, whether later poses ripple or stay", async () => {
  const rippled = await run(setGap, posed(marks), { from: 1, to: 11, gap: 4 });
  expect(rippled.shot.poseMarks[0].frame).toBe(5);
  const kept = await run(setGap, posed(marks), { from: 1, to: 11, gap: 6, ripple: false });
  expect(kept.shot.poseMarks[0].frame).toBe(7);
});

describe("pasting mirrored onto what has no keys yet", () => {
  const onlyLeft = smallShot({
    "arm-left.rotateZ": curveFrom([
      [1, -60],
      [13, 10],
    ]),
    "spine.rotateX": curveFrom([
      [1, 0],
      [13, 5],
    ]),
  });

  test("the other side is keyed although it had no curve, for the figure as a whole", async () => {
    const { shot, report } = await run(pastePose, onlyLeft, { from: 1, to: 25, mirrored: true });
    expect(sampleCurve(shot.base["arm-right.rotateZ"], 25)).toBeCloseTo(60, 9);
    expect(sampleCurve(shot.base["arm-left.rotateZ"], 25)).toBeCloseTo(0, 9);
    expect(report.warnings).toEqual([]);
  });

  test("what cannot follow is seen in the result and said: the other arm is locked", async () => {
    const locked = { ...onlyLeft, locked: ["arm-right.rotateZ"] };
    const { report } = await run(pastePose, locked, { from: 1, to: 25, mirrored: true });
    expect(report.warnings.join(" ")).toMatch(/land beside the reflection of their partner/);
    expect(report.off?.[0]).toMatchObject({ control: "hand-right", frame: 25 });
  });
});
