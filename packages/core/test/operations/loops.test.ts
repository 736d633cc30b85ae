import { curveFrom } from "../../src/curve/make.ts";
import { sampleCurve } from "../../src/curve/track.ts";
import { type Curve, Tangent } from "../../src/curve/curve.ts";
import { closeCycle } from "../../src/operations/loops/closeCycle.ts";
import { bakeLoop } from "../../src/operations/loops/bakeLoop.ts";
import { noContext, WHOLE_FIGURE } from "../../src/operations/operation.ts";
import { operationById } from "../../src/operations/catalogue.ts";
import { runOn } from "../../src/operations/loops/runOn.ts";
import { scaleTime } from "../../src/operations/timing/scaleTime.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import { run } from "../help/run.ts";
import { shifted } from "../help/shifted.ts";
import { movingShot, passOf, smallShot } from "../help/shots.ts";

const repeat = { side: "out", kind: "repeat", rounds: 2, of: "layer", align: true } as const;

test("repeating puts every curve on one cycle and lengthens the shot", async () => {
  const shot = movingShot();
  const { shot: after, report } = await runOn.run(shot, WHOLE_FIGURE, repeat, noContext);
  expect(after.range.end).toBe(49 + 96);
  expect(report.summary).toMatch(/repeated for 2 more rounds/);
  for (const key in after.base)
    for (let t = 1.25; t < 49; t += 3.1) expect(sampleCurve(after.base[key], t + 96)).toBeCloseTo(sampleCurve(shot.base[key], t), 9);
});

test("a curve that ends sooner than the others still repeats in step with them", async () => {
  const shot = smallShot({
    "spine.rotateX": curveFrom([
      [1, 0],
      [20, 10],
    ]),
    "root.moveX": curveFrom([
      [1, 0],
      [41, 2],
    ]),
  });
  const { shot: after } = await runOn.run(shot, WHOLE_FIGURE, repeat, noContext);
  expect(sampleCurve(after.base["spine.rotateX"], 41 + 10)).toBeCloseTo(sampleCurve(shot.base["spine.rotateX"], 11), 9);
  expect(sampleCurve(after.base["spine.rotateX"], 41 + 30)).toBeCloseTo(10, 9);
});

test.each(["repeat", "travel", "pingpong"] as const)("baking the loop after %s changes no whole frame", async (kind) => {
  const looped = (await runOn.run(movingShot(), WHOLE_FIGURE, { ...repeat, kind }, noContext)).shot;
  const { shot: baked, report } = await bakeLoop.run(looped, WHOLE_FIGURE, { side: "out", rounds: 0 }, noContext);
  expect(report.drift?.turn.amount).toBeLessThan(1e-6);
  expect(report.drift?.place.amount).toBeLessThan(1e-9);
  expect(report.keysAfter).toBeGreaterThan(report.keysBefore * 2);
  for (const key in baked.base) expect(baked.base[key].runOut.kind).toBe("hold");
});

test("travel doubles the way: a 40-frame hop goes as far again in each round (common practice)", async () => {
  const hop = smallShot(
    {
      "root.moveX": curveFrom([
        [1, 0],
        [41, 1.5],
      ]),
    },
    { range: { start: 1, end: 41 } },
  );
  const { shot } = await runOn.run(hop, WHOLE_FIGURE, { ...repeat, kind: "travel", rounds: 1 }, noContext);
  expect(shot.range.end).toBe(81);
  expect(sampleCurve(shot.base["root.moveX"], 81)).toBeCloseTo(3, 9);
});

describe("with a pass chosen that was just made", () => {
  const walk = smallShot({
    "root.moveX": curveFrom([
      [1, 0],
      [25, 1],
    ]),
    "spine.rotateX": curveFrom([
      [1, 0],
      [13, 10],
      [25, 0],
    ]),
  });
  const nudge = curveFrom([
    [7, 0],
    [13, 5],
    [19, 0],
  ]);
  const late = curveFrom([
    [20, 0],
    [40, 5],
  ]);

  test("and nothing picked, all that plays is repeated, the pass within the cycle of base motion", async () => {
    const shot = { ...walk, range: { start: 1, end: 25 }, passes: [passOf("adds", { "spine.rotateX": nudge })] };
    const scope = { ...WHOLE_FIGURE, layer: "pass-adds" };
    const proposed = runOn.situation?.({ shot, scope, frame: 1, copiedPose: null, copiedKeys: null, poseShare: 0.5 });
    expect(proposed).toEqual({ kind: "travel", of: "all" });
    const { shot: after, report } = await run(runOn, shot, { ...proposed, rounds: 2 }, scope);
    const player = makePlayer(after);
    const [at, x] = ["spine.rotateX", "root.moveX"].map((key) => player.channelIndex.get(key) as number);
    const values = (frame: number) => {
      player.readValues(frame);
      return [player.values[at], player.values[x]];
    };
    for (let frame = 1.5; frame < 25; frame += 1.7) {
      const [turn, way] = values(frame);
      for (const round of [1, 2]) {
        const [later, further] = values(frame + 24 * round);
        expect(later).toBeCloseTo(turn, 9);
        expect(further).toBeCloseTo(way + round, 9);
      }
    }
    expect(report.warnings).toEqual([]);
  });

  test("what is not repeated is said: base motion under a pass alone, a pass that reaches beyond the cycle", async () => {
    const shot = { ...walk, passes: [passOf("adds", { "spine.rotateX": nudge, "root.moveX": late })] };
    const scope = { layer: "pass-adds" };
    const alone = await run(runOn, shot, { of: "layer" }, scope);
    expect(alone.report.warnings.join(" ")).toMatch(/still from frame 40 on: 2 curves of base motion\./);
    expect(alone.report.warnings.join(" ")).toMatch(/Only "Pass adds" is meant/);
    const all = await run(runOn, shot, { of: "all" });
    expect(all.shot.passes[0].curves["root.moveX"]).toBe(late);
    // A timing operation on the pass alone says so too, and not where all is meant.
    expect((await run(scaleTime, shot, {}, scope)).report.warnings.join(" ")).toMatch(/Only "Pass adds" is meant/);
    expect((await run(scaleTime, shot, {})).report.warnings.join(" ")).not.toMatch(/Only/);
    for (const operation of ["mirror-range", "mirror-pose", "other-half", "swap-poses", "close-cycle", "reverse"].map(operationById)) {
      const settings = operation.id === "swap-poses" ? { one: 8, other: 16 } : operation.id === "mirror-pose" ? { frames: [8] } : {};
      const onlyIt = await run(operation, shot, settings, scope);
      expect(onlyIt.report.warnings.join(" ")).toMatch(/Only "Pass adds" is meant.*base motion stays as it is/);
      // Not where somebody is picked, and not in base motion.
      for (const other of [{ ...scope, controls: ["spine", "root"] }, {}])
        expect((await run(operation, shot, settings, other)).report.warnings.join(" ")).not.toMatch(/Only/);
    }
    // What is closed in a pass alone is not the cycle one sees.
    const half = operationById("other-half");
    expect((await run(half, shot, {}, scope)).report.notes.join(" ")).not.toMatch(/cycle is closed/);
    expect((await run(half, { ...shot, passes: [] })).report.notes.join(" ")).toMatch(/cycle is closed/);
  });
});

test("going on straight or holding does not change the length", async () => {
  const shot = movingShot();
  for (const kind of ["straight", "hold"] as const)
    expect((await runOn.run(shot, WHOLE_FIGURE, { ...repeat, kind }, noContext)).shot.range).toEqual(shot.range);
});

test("baking needs a number of rounds when a curve repeats for ever, and something that repeats", async () => {
  const endless = (await runOn.run(movingShot(), WHOLE_FIGURE, { ...repeat, rounds: 0 }, noContext)).shot;
  await expect(bakeLoop.run(endless, WHOLE_FIGURE, { side: "out", rounds: 0 }, noContext)).rejects.toThrow(/for ever/);
  expect((await bakeLoop.run(endless, WHOLE_FIGURE, { side: "out", rounds: 3 }, noContext)).shot.range.end).toBe(49 + 144);
  await expect(bakeLoop.run(movingShot(), WHOLE_FIGURE, { side: "out", rounds: 1 }, noContext)).rejects.toThrow(
    /no curve in scope repeats/,
  );
});

test("closing leaves a loop that is there alone: its cycle is taken, in rounds nothing is keyed, and what closes is not touched", async () => {
  const cycle = smallShot(
    {
      "root.moveX": curveFrom(
        [
          [1, 0],
          [25, 1],
        ],
        Tangent.linear,
      ),
      "spine.rotateX": curveFrom(
        [
          [1, 0],
          [13, 10],
          [25, 0],
        ],
        Tangent.flat,
      ),
    },
    { range: { start: 1, end: 25 } },
  );
  for (const by of [0, 1000, -31]) {
    const looped = (await run(runOn, shifted(cycle, by), { kind: "travel", rounds: 3 })).shot;
    const { shot: after, report } = await run(closeCycle, looped);
    expect(after).toBe(looped);
    expect(report.summary).toBe(`Closed no curve: frame ${25 + by} runs into frame ${1 + by} as it is`);
    expect(report.notes[0]).toMatch(/Nothing is open there/);
    // Open ones are closed within the cycle, and go on repeating.
    const base = { ...looped.base, "spine.rotateX": { ...looped.base["spine.rotateX"], values: Float64Array.of(0, 10, 3) } };
    const closed = (await run(closeCycle, { ...looped, base })).shot;
    expect([...closed.base["spine.rotateX"].times]).toEqual([1 + by, 13 + by, 25 + by]);
    expect(closed.base["spine.rotateX"].values[2]).toBeCloseTo(0, 12);
    expect(closed.base["spine.rotateX"].runOut).toEqual({ kind: "travel", rounds: 3 });
    expect(closed.base["root.moveX"]).toBe(looped.base["root.moveX"]);
    // Of a marked range that cuts through rounds, what repeats is left alone, and said.
    const part = await run(closeCycle, looped, {}, { range: { start: 3 + by, end: 40 + by } });
    expect(part.shot.base).toEqual(looped.base);
    expect(part.report.warnings.join()).toMatch(/repeat other frames and were left alone/);
  }
});

describe("closing a cycle", () => {
  const open = curveFrom([
    [1, 0],
    [13, 25],
    [25, -10],
    [37, 20],
    [49, 6],
  ]);
  const stride = curveFrom([
    [1, 0],
    [25, 0.4],
    [49, 1],
  ]);
  const shot = smallShot({ "spine.rotateX": open, "root.moveX": stride });
  const close = (more: Partial<{ span: number; travel: boolean }> = {}) =>
    closeCycle.run(shot, WHOLE_FIGURE, { span: 20, slopes: true, travel: true, ...more }, noContext);
  const ends = (curve: Curve) => ({
    value: sampleCurve(curve, 49) - sampleCurve(curve, 1),
    slope: curve.slopeIn[curve.times.length - 1] - curve.slopeOut[0],
  });

  test("value and slope meet at both ends; what lies before the span stays", async () => {
    const { shot: after } = await close();
    const curve = after.base["spine.rotateX"];
    expect(ends(curve)).toEqual({ value: 0, slope: 0 });
    for (let t = 13; t <= 25; t += 0.5) expect(sampleCurve(curve, t)).toBe(sampleCurve(open, t));
    // Repeated, there is no jump and no kink at the seam.
    const { shot: looped } = await runOn.run(after, WHOLE_FIGURE, repeat, noContext);
    const at = (t: number) => sampleCurve(looped.base["spine.rotateX"], t);
    expect(at(49 + 1e-4) - at(49)).toBeCloseTo(at(49) - at(49 - 1e-4), 6);
  });

  test("what travels keeps its way and has its slope matched", async () => {
    const { shot: after } = await close();
    const travel = ends(after.base["root.moveX"]);
    expect(travel.value).toBe(1);
    expect(travel.slope).toBeCloseTo(0, 12);
    expect(ends((await close({ travel: false })).shot.base["root.moveX"]).value).toBeCloseTo(0, 12);
  });

  test("the worst are named first, with their sizes, and the frame that would show twice", async () => {
    const { report } = await close();
    expect(report.notes[0]).toMatch(/^spine rotate X: off by 6°, its slope by -?[\d.]+° a frame\.$/);
    expect(report.notes.at(-1)).toBe("Frame 49 is frame 1 again: playback ends at 48, so that it is not seen twice.");
    expect(report.summary).toBe("Closed 2 of 2 curves over frames 1 to 49");
    const tiny = { ...WHOLE_FIGURE, range: { start: 1, end: 2 } };
    await expect(closeCycle.run(shot, tiny, { span: 1, slopes: true, travel: true }, noContext)).rejects.toThrow(/too few for a cycle/);
  });
});

test("a whole shot that was closed is a cycle; a corner at the seam stays one when only values are to meet", async () => {
  const corner = smallShot({
    "spine.rotateX": curveFrom(
      [
        [1, 0],
        [25, 10],
        [49, 3],
      ],
      Tangent.linear,
    ),
  });
  const how = { span: 12, slopes: false, travel: true };
  const { shot } = await closeCycle.run(corner, WHOLE_FIGURE, how, noContext);
  expect(shot.cyclic).toBe(true);
  const curve = shot.base["spine.rotateX"];
  expect(curve.values[curve.values.length - 1]).toBeCloseTo(0, 12);
  expect(curve.slopeOut[0]).toBeGreaterThan(0);
  expect(curve.slopeIn[curve.times.length - 1]).toBeLessThan(0);
  const part = await closeCycle.run(corner, { ...WHOLE_FIGURE, range: { start: 1, end: 25 } }, how, noContext);
  expect(part.shot.cyclic).toBe(false);
});
