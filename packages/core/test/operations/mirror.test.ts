import { halfAWalk } from "../../../demo/src/shots/halfAWalk.ts";
import { Tangent } from "../../src/curve/curve.ts";
import { curveFrom } from "../../src/curve/make.ts";
import { sampleCurve } from "../../src/curve/track.ts";
import { readPose } from "../../src/evaluate/readPose.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import { makeMirrorer } from "../../src/figure/mirror.ts";
import type { Shot } from "../../src/model/shot.ts";
import { operations } from "../../src/operations/catalogue.ts";
import { captureShot } from "../help/capture.ts";
import { someTimes } from "../help/random.ts";
import { run } from "../help/run.ts";
import { movingShot, passOf, smallShot } from "../help/shots.ts";

const { mirrorPose, mirrorRange, otherHalf } = operations;

/** Where a control stands relative to another one's place, at a frame. */
function placeOf(shot: Shot, id: string, frame: number, beside?: string): number[] {
  const player = makePlayer(shot);
  player.pose(frame);
  const at = (one: string) => player.worlds.subarray((player.controlIndex.get(one) as number) * 16 + 12).subarray(0, 3);
  const origin = beside ? at(beside) : [0, 0, 0];
  return [...at(id)].map((v, k) => v - origin[k]);
}

describe("the other half", () => {
  test("half a walk becomes a whole one: feet land mirrored within 1 mm, the cycle is closed to 1e-9, travel goes on", async () => {
    const shot = await halfAWalk();
    const { shot: whole, report } = await run(otherHalf, shot);
    expect(whole.range).toEqual({ start: 1, end: 25 });
    expect(whole.cyclic).toBe(true);
    const [root] = whole.rig.controls;
    // Where keys are: between them two curves in degrees run a little differently left and right.
    const times = [...shot.base["foot-left.rotateX"].times];
    expect(times.length).toBeGreaterThan(4);
    for (const time of times.slice(0, -1))
      for (const [foot, other] of [
        ["foot-left", "foot-right"],
        ["foot-right", "foot-left"],
        ["toes-left", "toes-right"],
      ]) {
        const was = placeOf(whole, foot, time, root.id);
        const is = placeOf(whole, other, time + 12, root.id);
        // The figure goes along X or Z; what is across changes sides.
        const across = Math.abs(placeOf(whole, root.id, 25)[0] - placeOf(whole, root.id, 1)[0]) > 0.1 ? 2 : 0;
        is.forEach((v, k) => {
          expect(Math.abs(v - (k === across ? -was[k] : was[k]))).toBeLessThan(1e-3);
        });
      }
    // Where a key pose is mirrored it is so to the last bits.
    const mirrorer = makeMirrorer(whole.rig);
    const [, , time] = times;
    const image = mirrorer.pose(readPose(whole, time), readPose(whole, time + 12));
    const there = readPose(whole, time + 12);
    for (const key of Object.keys(whole.base)) if (!key.startsWith(`${root.id}.`)) expect(there[key]).toBeCloseTo(image[key], 9);
    for (const [key, curve] of Object.entries(whole.base)) {
      const isWay = key.startsWith(`${root.id}.move`);
      const [first, last] = [curve.times.indexOf(1), curve.times.indexOf(25)];
      if (first < 0 || last < 0) continue;
      if (!isWay) expect(Math.abs(curve.values[last] - curve.values[first])).toBeLessThan(1e-9);
      expect(Math.abs(curve.slopeIn[last] - curve.slopeOut[first])).toBeLessThan(1e-9);
    }
    // The walk has its feet turned a little differently left and right for good, which no joint can hide.
    for (const { distance, turn } of report.off ?? []) expect([distance < 1e-3, turn < 1]).toEqual([true, true]);
    expect(report.notes.join(" ")).toMatch(/cycle is closed/);
  });

  /** Keys at the frames given, on both arms and what carries them. */
  const keyed = (times: readonly number[], more: Partial<Shot> = {}) =>
    smallShot(
      {
        "root.moveZ": curveFrom(times.map((t) => [t, t / 10])),
        "root.moveX": curveFrom(times.map((t, i) => [t, i % 2 ? 0.05 : 0])),
        "spine.rotateY": curveFrom(times.map((t, i) => [t, [12, 3, -8, -12][i % 4]])),
        "arm-left.rotateZ": curveFrom(times.map((t, i) => [t, 10 * i - 20])),
        "arm-right.rotateZ": curveFrom(times.map((t, i) => [t, 7 * i + 5])),
      },
      { range: { start: times[0], end: times[times.length - 1] }, ...more },
    );

  test("half a run keyed 1 to 15 ends at 29 (common practice)", async () => {
    const { shot } = await run(otherHalf, keyed([1, 5, 10, 15]));
    expect(shot.range).toEqual({ start: 1, end: 29 });
    expect([...shot.base["arm-left.rotateZ"].times]).toEqual([1, 5, 10, 15, 19, 24, 29]);
    expect(sampleCurve(shot.base["root.moveZ"], 29)).toBeCloseTo(0.1 + 2.8, 9);
    // Sway to one side becomes sway to the other.
    expect(sampleCurve(shot.base["root.moveX"], 19) - sampleCurve(shot.base["root.moveX"], 15)).toBeCloseTo(-0.05, 9);
  });

  test.each([
    ["after", { range: { start: 1, end: 13 } }],
    ["wrapped", { range: { start: 1, end: 13 } }],
  ])("in a cycle 1 to 25 the keys of 7 stand mirrored at 19 (common practice), put %s", async (place, scope) => {
    const cycle = keyed([1, 7, 13, 19, 25], { range: { start: 1, end: 25 } });
    const { shot, report } = await run(otherHalf, cycle, { place, closes: false }, scope);
    expect(shot.range).toEqual({ start: 1, end: 25 });
    const at = (key: string, time: number) => sampleCurve(shot.base[key], time);
    expect(at("arm-right.rotateZ", 19)).toBeCloseTo(-at("arm-left.rotateZ", 7), 9);
    expect(at("arm-left.rotateZ", 19)).toBeCloseTo(-at("arm-right.rotateZ", 7), 9);
    expect(at("spine.rotateY", 19)).toBeCloseTo(-at("spine.rotateY", 7), 9);
    expect(report.overwritten?.["arm-left.rotateZ"]).toEqual(expect.arrayContaining([19, 25]));
    expect(report.warnings.join(" ")).toMatch(/keys at frames 13, 19, 25 are overwritten/);
  });

  test("a half that reaches over the end goes on at the start of the cycle", async () => {
    const cycle = keyed([1, 7, 13, 19, 25], { range: { start: 1, end: 25 } });
    const { shot } = await run(otherHalf, cycle, { place: "wrapped" }, { range: { start: 7, end: 19 } });
    const at = (key: string, time: number) => sampleCurve(shot.base[key], time);
    for (const time of [9, 13, 16]) {
      const later = time + 12 > 25 ? time - 12 : time + 12;
      expect(at("arm-right.rotateZ", later)).toBeCloseTo(-sampleCurve(cycle.base["arm-left.rotateZ"], time), 9);
    }
    expect(at("arm-right.rotateZ", 1)).toBeCloseTo(at("arm-right.rotateZ", 25), 9);
    // The way it goes is not walked twice.
    expect(at("root.moveZ", 25) - at("root.moveZ", 1)).toBeCloseTo(2.4, 6);
    await expect(run(otherHalf, cycle, { place: "wrapped" }, { range: { start: 1, end: 19 } })).rejects.toThrow(
      /more than half of the cycle/,
    );
  });

  test("before the range it ends where the range begins, and the shot begins earlier", async () => {
    const { shot, report } = await run(otherHalf, keyed([13, 17, 21, 25]), { place: "before" });
    expect(shot.range).toEqual({ start: 1, end: 25 });
    expect(sampleCurve(shot.base["root.moveZ"], 1)).toBeCloseTo(1.3 - 1.2, 9);
    expect(sampleCurve(shot.base["arm-right.rotateZ"], 5)).toBeCloseTo(-sampleCurve(shot.base["arm-left.rotateZ"], 17), 9);
    expect(report.notes.join(" ")).toMatch(/begins at frame 1/);
  });

  test("the pose where the halves meet is the mirrored one, or stays, and by how much they differ is said", async () => {
    const shot = keyed([1, 5, 10, 15]);
    const taken = await run(otherHalf, shot);
    expect(sampleCurve(taken.shot.base["arm-right.rotateZ"], 15)).toBeCloseTo(20, 9);
    expect(taken.report.notes.join(" ")).toMatch(/Frame 15 takes the mirrored pose: 2 channels differed, arm left rotate Z by 15°/);
    const kept = await run(otherHalf, shot, { joint: "kept", closes: false });
    expect(sampleCurve(kept.shot.base["arm-right.rotateZ"], 15)).toBeCloseTo(26, 9);
  });

  test("one frame has no other half", async () => {
    await expect(run(otherHalf, keyed([1, 5]), {}, { range: { start: 5, end: 5 } })).rejects.toThrow(/one frame only/);
  });
});

describe("a range mirrored in place", () => {
  test.each([
    ["a small rig", () => movingShot()],
    ["the demo's", halfAWalk],
    ["the open capture", () => ({ ...captureShot(), range: { start: 1, end: 60 } })],
  ])("on %s: twice is the original within 1e-9, between frames too", async (_name, make) => {
    const shot = await make();
    for (const about of ["middle", "way"]) {
      const once = (await run(mirrorRange, shot, { about })).shot;
      const twice = (await run(mirrorRange, once, { about })).shot;
      const [was, is] = [makePlayer(shot), makePlayer(twice)];
      for (const time of someTimes(shot.range.start, shot.range.end, 15)) {
        was.pose(time);
        is.pose(time);
        const size = 1 + Math.max(...was.worlds.map(Math.abs));
        const worst = Math.max(...was.worlds.map((value, k) => Math.abs(value - is.worlds[k])));
        expect([about, time, worst / size < (keyedEachFrame(shot) ? 1e-9 : 1e-5)]).toEqual([about, time, true]);
      }
    }
  });

  /** Is there a key on every frame? Else what lies between keys of turned figures is only near. */
  const keyedEachFrame = (shot: Shot) => Object.values(shot.base).every(({ times }) => times.length === 1 || times.length >= 60);

  test("where mirroring is a matter of signs curves keep their keys, kinds and handles", async () => {
    const { shot } = await run(mirrorRange, movingShot());
    const [was, is] = [movingShot().base["arm-left.rotateZ"], shot.base["arm-right.rotateZ"]];
    expect([...is.times]).toEqual([...was.times]);
    expect([...is.values]).toEqual([...was.values].map((value) => -value));
    expect([...is.kindOut]).toEqual([...was.kindOut]);
    for (const time of someTimes(1, 49, 20)) expect(sampleCurve(is, time)).toBeCloseTo(-sampleCurve(was, time), 12);
  });

  test("a cycle stays one: its rounds are mirrored with it, no key more", async () => {
    const { shot: cycle } = await run(operations.runOn, (await run(otherHalf, await halfAWalk())).shot, { kind: "travel" });
    const { shot } = await run(mirrorRange, cycle);
    for (const [key, curve] of Object.entries(shot.base)) {
      expect([key, curve.runOut]).toEqual([key, cycle.base[key]?.runOut ?? curve.runOut]);
      expect(curve.times.length).toBeLessThanOrEqual(11);
    }
    const mirrorer = makeMirrorer(cycle.rig);
    for (const frame of [4, 20, 33, 51, 70]) {
      const [pose, image] = [readPose(cycle, frame), readPose(shot, frame)];
      const want = mirrorer.pose(pose, pose);
      for (const key of Object.keys(cycle.base)) expect(image[key]).toBeCloseTo(want[key], 6);
    }
  });

  test("stepped keys and keys between frames stay what they are; a locked channel stays, and who is beside for it is said", async () => {
    const stepped = smallShot({
      "arm-left.rotateZ": curveFrom(
        [
          [1, -60],
          [13.4, 10],
          [25, 40],
        ],
        Tangent.stepped,
      ),
    });
    const { shot: after } = await run(mirrorRange, stepped);
    expect([...after.base["arm-right.rotateZ"].times]).toEqual([1, 13.4, 25]);
    for (const time of [1, 13.3, 13.5, 30])
      expect(sampleCurve(after.base["arm-right.rotateZ"], time)).toBe(-sampleCurve(stepped.base["arm-left.rotateZ"], time));
    // Within a range that holds all its keys a curve still is what it was outside.
    const { shot: part } = await run(mirrorRange, stepped, {}, { range: { start: 1, end: 30 } });
    expect(sampleCurve(part.base["arm-right.rotateZ"], 40)).toBe(0);
    expect(sampleCurve(part.base["arm-left.rotateZ"], 40)).toBe(40);
    const locked = { ...movingShot(), locked: ["arm-left.rotateZ"] };
    const { shot: kept, report } = await run(mirrorRange, locked);
    expect(kept.base["arm-left.rotateZ"]).toBe(locked.base["arm-left.rotateZ"]);
    expect(report.off?.map(({ control }) => control)).toContain("hand-left");
  });

  test("outside a range nothing changes at whole frames, also of what had no keys; the report names who is left out", async () => {
    const shot = smallShot({
      "arm-left.rotateZ": curveFrom([
        [1, -60],
        [13, 10],
        [25, 40],
        [49, 0],
      ]),
    });
    const { shot: after, report } = await run(
      mirrorRange,
      shot,
      { leftOut: ["hand-left", "hand-right"] },
      { range: { start: 10, end: 30 } },
    );
    for (const frame of [1, 5, 9, 31, 40, 49]) {
      expect(sampleCurve(after.base["arm-left.rotateZ"], frame)).toBeCloseTo(sampleCurve(shot.base["arm-left.rotateZ"], frame), 9);
      expect(sampleCurve(after.base["arm-right.rotateZ"], frame)).toBeCloseTo(0, 9);
    }
    for (const frame of [10, 17.5, 30])
      expect(sampleCurve(after.base["arm-right.rotateZ"], frame)).toBeCloseTo(-sampleCurve(shot.base["arm-left.rotateZ"], frame), 9);
    expect(report.notes).toContain("Left out: hand left, hand right.");
  });

  test("in a plane of the scene the figure goes the other way", async () => {
    const { shot } = await run(mirrorRange, movingShot(), { about: "plane" });
    expect(sampleCurve(shot.base["root.moveX"], 25)).toBeCloseTo(-0.9, 9);
    const turned = await run(mirrorRange, movingShot(), { about: "plane", facing: 90, along: -2 });
    expect(sampleCurve(turned.shot.base["root.moveX"], 25)).toBeCloseTo(0.9, 9);
    expect(placeOf(turned.shot, "root", 25)[2]).toBeCloseTo(4, 9);
  });

  test("in an adding pass its own offsets are mirrored, and a control picked alone takes its partner's", async () => {
    const pass = passOf("adds", {
      "arm-left.rotateZ": curveFrom([
        [1, 0],
        [20, 30],
      ]),
    });
    const shot = { ...movingShot(), passes: [pass] };
    const { shot: after } = await run(mirrorRange, shot, {}, { layer: pass.id });
    expect(sampleCurve(after.passes[0].curves["arm-right.rotateZ"], 20)).toBeCloseTo(-30, 9);
    expect(sampleCurve(after.passes[0].curves["arm-left.rotateZ"], 20)).toBeCloseTo(0, 9);
    const alone = await run(mirrorRange, movingShot(), {}, { controls: ["arm-left"] });
    expect(sampleCurve(alone.shot.base["arm-left.rotateZ"], 13)).toBeCloseTo(-sampleCurve(movingShot().base["arm-right.rotateZ"], 13), 9);
    expect([...alone.shot.base["arm-right.rotateZ"].values]).toEqual([60, 20, 60]);
  });
});

describe("poses mirrored in place", () => {
  test("the figure, or a picked part; several at once; keys that give way are counted with their frames", async () => {
    const shot = movingShot();
    const { shot: after, report } = await run(mirrorPose, shot, { frames: [13, 25] });
    for (const frame of [13, 25])
      expect(sampleCurve(after.base["arm-right.rotateZ"], frame)).toBeCloseTo(-sampleCurve(shot.base["arm-left.rotateZ"], frame), 9);
    expect(sampleCurve(after.base["arm-left.rotateZ"], 1)).toBe(-60);
    expect(report.warnings[0]).toMatch(/^\d+ keys at frames 13, 25 are overwritten\.$/);
    const part = await run(mirrorPose, shot, { frames: [13] }, { controls: ["arm-right"] });
    expect(part.shot.base["arm-left.rotateZ"]).toBe(shot.base["arm-left.rotateZ"]);
    expect(sampleCurve(part.shot.base["arm-right.rotateZ"], 13)).toBeCloseTo(-10, 9);
  });

  test("the asymmetric capture says how far its joints land beside, worst first, in places and turns", async () => {
    const shot = { ...captureShot(), range: { start: 1, end: 60 } };
    const { report } = await run(mirrorPose, shot, { frames: [30] });
    const off = report.off ?? [];
    expect(off.length).toBeGreaterThan(0);
    expect(off.map(({ distance }) => distance)).toEqual([...off.map(({ distance }) => distance)].sort((a, b) => b - a));
    expect(report.warnings.join(" ")).toMatch(/land beside the reflection/);
  });

  test("no frame, or a control that is not there, is refused", async () => {
    await expect(run(mirrorPose, movingShot(), { frames: [] })).rejects.toThrow(/no frame is given/);
    await expect(run(mirrorPose, movingShot(), { frames: [1], leftOut: ["wing"] })).rejects.toThrow(/no control "wing"/);
  });
});
