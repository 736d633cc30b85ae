import { curveFrom } from "../../src/curve/make.ts";
import { sampleCurve } from "../../src/curve/track.ts";
import { bakeLoop } from "../../src/rework/bakeLoop.ts";
import { noContext, WHOLE_FIGURE } from "../../src/rework/operation.ts";
import { runOn } from "../../src/rework/runOn.ts";
import { movingShot, smallShot } from "../help/shots.ts";

const repeat = { side: "out", kind: "repeat", rounds: 2, align: true } as const;

test("repeating puts every curve on one cycle and lengthens the shot", async () => {
  const shot = movingShot();
  const { shot: after, report } = await runOn.run(shot, WHOLE_FIGURE, repeat, noContext);
  expect(after.range.end).toBe(49 + 96);
  expect(report.summary).toMatch(/repeat 2 more rounds/);
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
