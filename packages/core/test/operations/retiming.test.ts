import * as fc from "fast-check";
import { Tangent } from "../../src/curve/curve.ts";
import { curveFrom } from "../../src/curve/make.ts";
import { sampleCurve } from "../../src/curve/track.ts";
import { warpTimes } from "../../src/curve/warpTimes.ts";
import type { Shot } from "../../src/model/shot.ts";
import { catalogue, checkSettings, operationById } from "../../src/operations/catalogue.ts";
import { noContext, WHOLE_FIGURE } from "../../src/operations/operation.ts";
import { readTiming, sayTiming, timingOf } from "../../src/operations/timing/timingList.ts";
import { anyCurve } from "../help/random.ts";
import { movingShot, passOf, smallShot } from "../help/shots.ts";

const run = (id: string, shot: Shot, given: Record<string, unknown>, scope = WHOLE_FIGURE) => {
  const operation = operationById(id);
  return operation.run(shot, scope, checkSettings(operation, given), noContext);
};
const line = curveFrom(
  [
    [1, 0],
    [75, 148],
  ],
  Tangent.linear,
);
const only = (curve = line) => smallShot({ "spine.rotateX": curve }, { range: { start: 1, end: 75 } });
const times = (shot: Shot) => [...shot.base["spine.rotateX"].times];
const values = (shot: Shot) => [...shot.base["spine.rotateX"].values];

describe("hold", () => {
  test("common practice: keys at 1 and 75, a hold of 50 at 25 gives 1, 25, 75, 125 and equal values at 25 and 75", async () => {
    const { shot } = await run("insert-hold", only(), { at: 25, frames: 50 });
    expect(times(shot)).toEqual([1, 25, 75, 125]);
    expect(values(shot)[1]).toBeCloseTo(48, 9);
    expect(values(shot)[2]).toBe(values(shot)[1]);
    for (let t = 25; t <= 75; t += 0.5) expect(sampleCurve(shot.base["spine.rotateX"], t)).toBeCloseTo(48, 9);
    expect(shot.range).toEqual({ start: 1, end: 125 });
    // Before and after, the motion is what it was.
    for (const t of [3, 11.5, 24]) expect(sampleCurve(shot.base["spine.rotateX"], t)).toBeCloseTo(sampleCurve(line, t), 9);
    for (const t of [30, 51.25, 74]) expect(sampleCurve(shot.base["spine.rotateX"], t + 50)).toBeCloseTo(sampleCurve(line, t), 9);
    // Setting that gap to 25 then gives 1, 25, 50, 100.
    const { shot: shorter } = await run("set-gap", shot, { from: 25, to: 75, gap: 25 });
    expect(times(shorter)).toEqual([1, 25, 50, 100]);
  });

  test("at the last key the copy comes after it and nothing moves", async () => {
    const { shot } = await run("insert-hold", only(), { at: 75, frames: 10 });
    expect(times(shot)).toEqual([1, 75, 85]);
    expect(values(shot)).toEqual([0, 148, 148]);
  });

  test("the motion on both sides of a hold stays, stepped keys hold as before, passes go along", async () => {
    const smooth = curveFrom(
      [
        [1, 0],
        [25, 30],
        [49, 60],
      ],
      Tangent.smooth,
    );
    const shot = smallShot(
      { "spine.rotateX": smooth },
      { passes: [passOf("adds", { "spine.rotateX": smooth }, { id: "p", range: { start: 1, end: 49, easeIn: 0, easeOut: 0 } })] },
    );
    const { shot: after } = await run("insert-hold", shot, { at: 25, frames: 8 });
    for (let t = 25; t <= 33; t++) expect(sampleCurve(after.base["spine.rotateX"], t)).toBe(30);
    for (const t of [3.5, 12, 24.75]) expect(sampleCurve(after.base["spine.rotateX"], t)).toBe(sampleCurve(smooth, t));
    for (const t of [26.5, 40, 48.25]) expect(sampleCurve(after.base["spine.rotateX"], t + 8)).toBeCloseTo(sampleCurve(smooth, t), 12);
    expect([...after.passes[0].curves["spine.rotateX"].times]).toEqual([1, 25, 33, 57]);
    expect(after.passes[0].range?.end).toBe(57);
    const stepped = await run(
      "insert-hold",
      only(
        curveFrom(
          [
            [1, 0],
            [25, 9],
          ],
          Tangent.stepped,
        ),
      ),
      { at: 1, frames: 5 },
    );
    expect(sampleCurve(stepped.shot.base["spine.rotateX"], 29.9)).toBe(0);
  });
});

describe("frames in and out", () => {
  test("inserted frames move what is later, removed ones take their keys along", async () => {
    const shot = only(
      curveFrom([
        [1, 0],
        [10, 1],
        [20, 2],
        [30, 3],
      ]),
    );
    expect(times((await run("insert-frames", shot, { at: 10, frames: 6 })).shot)).toEqual([1, 10, 26, 36]);
    const { shot: cut, report } = await run("insert-frames", shot, { at: 12, frames: -10 });
    expect(times(cut)).toEqual([1, 10, 12, 20]);
    expect([values(cut)[0], values(cut)[1], values(cut)[3]]).toEqual([0, 1, 3]);
    expect(cut.range.end).toBe(65);
    expect(report.warnings).toEqual(["1 key stood in the frames that go."]);
    await expect(run("insert-frames", shot, { frames: 0 })).rejects.toThrow(/0 frames/);
  });

  test("a curve whose keys all go keeps what it was before the cut and what it became after it", async () => {
    const { shot } = await run(
      "insert-frames",
      only(
        curveFrom([
          [14, 1],
          [16, 2],
        ]),
      ),
      { at: 10, frames: -20 },
    );
    expect([times(shot), values(shot)]).toEqual([
      [10, 11],
      [1, 2],
    ]);
  });
});

describe("slower and quicker", () => {
  test("every value is met at its new time, for all kinds of tangents and weights", () => {
    fc.assert(
      fc.property(anyCurve, fc.double({ min: 0.2, max: 4, noNaN: true }), (curve, factor) => {
        const to = (t: number) => 7 + (t - 7) * factor;
        const warped = warpTimes(curve, to);
        if (curve.kindOut.includes(Tangent.stepped) || curve.kindIn.includes(Tangent.stepped)) return;
        const end = curve.times[curve.times.length - 1];
        for (let t = curve.times[0]; t <= end; t += 0.37)
          expect(Math.abs(sampleCurve(warped, to(t)) - sampleCurve(curve, t))).toBeLessThan(1e-6);
      }),
    );
  });

  test("200 % about the first frame doubles every gap and the range; keys that fall together are counted", async () => {
    const { shot } = await run("scale-time", only(), { factor: 200, pivot: 1 });
    expect(times(shot)).toEqual([1, 149]);
    expect(shot.range.end).toBe(149);
    const dense = only(curveFrom(Array.from({ length: 11 }, (_, i) => [1 + i, i] as [number, number])));
    const { report, shot: quick } = await run("scale-time", dense, { factor: 50 });
    expect(times(quick)).toEqual([1, 2, 3, 4, 5, 6]);
    expect(report.warnings[0]).toMatch(/^5 keys fell/);
  });
});

test("keys between frames snap to whole ones, or to each few", async () => {
  const shot = only(
    curveFrom([
      [1, 0],
      [4.4, 1],
      [9.5, 2],
      [9.6, 3],
      [20, 4],
    ]),
  );
  const { shot: after, report } = await run("snap-frames", shot, {});
  expect(times(after)).toEqual([1, 4, 10, 20]);
  expect(values(after)).toEqual([0, 1, 3, 4]);
  expect(report.warnings[0]).toMatch(/^1 key /);
  expect(times((await run("snap-frames", shot, { every: 5 })).shot)).toEqual([0, 5, 10, 20]);
});

test("staggered, each control of the chain is later than the one before, in the order picked", async () => {
  const shot = movingShot();
  const scope = { ...WHOLE_FIGURE, controls: ["hand-left", "arm-left", "spine"] };
  const { shot: after, report } = await run("stagger", shot, { frames: 5 }, scope);
  const first = (s: Shot, key: string) => s.base[key].times[0];
  expect(after.base["hand-left.rotateX"]).toBe(shot.base["hand-left.rotateX"]);
  expect(first(after, "arm-left.rotateZ")).toBe(first(shot, "arm-left.rotateZ") + 5);
  expect(first(after, "spine.rotateX")).toBe(first(shot, "spine.rotateX") + 10);
  expect(report.notes[0]).toMatch(/hand left 0, arm left 5, spine 10/i);
  const down = (await run("stagger", shot, { frames: 5, order: "rig" }, scope)).shot;
  expect(down.base["spine.rotateX"]).toBe(shot.base["spine.rotateX"]);
  await expect(run("stagger", shot, { frames: 5 })).rejects.toThrow(/pick the controls of a chain/);
});

describe("even gaps", () => {
  const poses = only(
    curveFrom([
      [1, 0],
      [5, 1],
      [20, 2],
      [41, 3],
    ]),
  );

  test("poses stand evenly between the first and the last, which stay", async () => {
    const { shot, report } = await run("even-gaps", poses, {});
    expect(times(shot)).toEqual([1, 14, 28, 41]);
    expect(values(shot)).toEqual([0, 1, 2, 3]);
    expect(shot.range).toEqual(poses.range);
    expect(report.summary).toBe("Gaps 4 15 21 → 13 14 13");
  });

  test("favouring an end, the gaps grow toward it; a gap has a frame at least", async () => {
    const gaps = (shot: Shot) =>
      times(shot)
        .slice(1)
        .map((time, i) => time - times(shot)[i]);
    const late = gaps((await run("even-gaps", poses, { ease: 100 })).shot);
    expect(late[0]).toBeLessThan(late[1]);
    expect(late[1]).toBeLessThan(late[2]);
    const early = gaps((await run("even-gaps", poses, { ease: -100 })).shot);
    expect(early).toEqual([...late].reverse());
    const tight = only(
      curveFrom([
        [1, 0],
        [2, 1],
        [3, 2],
        [4, 3],
      ]),
    );
    expect(gaps((await run("even-gaps", tight, { ease: 100 })).shot)).toEqual([1, 1, 1]);
  });

  test("too few poses: says how many there are", async () => {
    await expect(run("even-gaps", only(), {})).rejects.toThrow(/there are 2 poses in frames 1 to 75/);
  });
});

describe("the timing list", () => {
  const poses = only(
    curveFrom([
      [1, 0],
      [6, 10],
      [11, 20],
      [16, 30],
      [21, 40],
    ]),
  );
  const timing = (shot: Shot) => sayTiming(timingOf(shot, WHOLE_FIGURE, 0.5).steps);

  test("reads like a chart and back", () => {
    expect(timing(poses)).toBe("5 5 5 5");
    for (const text of ["6 4 3 2 3 · hold 8 · 4", "hold 3 · 1 2", "1"]) expect(sayTiming(readTiming(text))).toBe(text);
    expect(readTiming("4, 3|2;Hold 5")).toEqual(readTiming("4 3 2 hold 5"));
  });

  test("gaps are set, holds made, lengthened and left out; what is not listed stays", async () => {
    const { shot } = await run("set-timing", poses, { list: "6 4 · hold 8 · 2 3" });
    expect(times(shot)).toEqual([1, 7, 11, 19, 21, 24]);
    expect(values(shot)).toEqual([0, 10, 20, 20, 30, 40]);
    expect(timing(shot)).toBe("6 4 · hold 8 · 2 3");
    expect(shot.range.end).toBe(75 + 3);
    const { shot: longer } = await run("set-timing", shot, { list: "6 4 hold 10" });
    expect(timing(longer)).toBe("6 4 · hold 10 · 2 3");
    const { shot: without, report } = await run("set-timing", longer, { list: "5 5 5 5" });
    expect(times(without)).toEqual(times(poses));
    expect(values(without)).toEqual(values(poses));
    expect(report.summary).toBe("6 4 · hold 10 · 2 3 → 5 5 5 5");
  });

  test("nonsense is refused with the word that makes none", async () => {
    for (const [list, said] of [
      ["4 abc", '"abc" is no number of frames'],
      ["0", '"0" is no'],
      ["4 -3", '"-3" is no'],
      ["1e9", '"1e9" is no'],
      ["4 hold", '"hold" is the last word'],
      ["1 2 3 4 5", "more gaps than the 4"],
    ])
      await expect(run("set-timing", poses, { list })).rejects.toThrow(said);
  });
});

test("every operation on timing says what it does and has words to be found by", () => {
  for (const { group, help, words } of catalogue) if (group === "Timing") expect(`${help}${words}`.length).toBeGreaterThan(40);
});
