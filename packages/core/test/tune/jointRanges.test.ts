import { halfAWalk } from "../../../demo/src/shots/halfAWalk.ts";
import { readShot } from "../../src/formats/formats.ts";
import { writeGltf } from "../../src/formats/gltf/write.ts";
import { shotToJson } from "../../src/formats/schema.ts";
import { controlById, type JointRanges } from "../../src/model/rig.ts";
import type { Shot } from "../../src/model/shot.ts";
import { changeRig } from "../../src/operations/hand/changeRig.ts";
import { WHOLE_FIGURE } from "../../src/operations/operation.ts";
import { runByHand } from "../../src/operations/runOperation.ts";
import { joints } from "../../src/tune/costs/joints.ts";
import { judgedBy, motionOf, strainsOf } from "../../src/tune/judged.ts";
import { learnRanges } from "../../src/tune/learnRanges.ts";
import { readPose } from "../../src/evaluate/readPose.ts";
import { run } from "../help/promises.ts";

type Said = Parameters<typeof changeRig.run>[2]["ranges"];
const say = (shot: Shot, ranges: Said) => runByHand(changeRig, shot, WHOLE_FIGURE, { ranges });
const rangesOf = (shot: Shot, id: string): JointRanges | undefined => controlById(shot.rig, id)?.ranges;

/** Degrees past the range at each frame, as the cost has it. */
function strained(shot: Shot): Float64Array {
  const { start, end } = shot.range;
  const judged = judgedBy(shot, [joints], start, end - start + 1);
  return strainsOf(judged, motionOf(shot, judged.subject))[0].frames;
}

describe("ranges of joints", () => {
  test("are said of a channel, kept in the file and in glTF, and taken back", async () => {
    const shot = await halfAWalk();
    const { shot: told, report } = say(shot, { "shin-left": { rotateX: [0, 140] } });
    expect(report.summary).toMatch(/^How far .* turns$/);
    expect(told.base).toBe(shot.base);
    expect(rangesOf(told, "shin-left")).toEqual({ rotateX: [0, 140] });
    const json = new TextEncoder().encode(JSON.stringify(shotToJson(told)));
    expect(rangesOf((await readShot(json, "a.json")).shot, "shin-left")).toEqual({ rotateX: [0, 140] });
    const { bytes } = await writeGltf(told, true);
    expect(rangesOf((await readShot(bytes, "a.glb")).shot, "shin-left")).toEqual({ rotateX: [0, 140] });
    expect(say(told, { "shin-left": { rotateX: null } }).shot.rig).toEqual(shot.rig);
  });

  test("that cannot be are refused with the joint and the numbers; in a file, too", async () => {
    const shot = await halfAWalk();
    expect(() => say(shot, { "shin-left": { rotateX: [40, 10] } })).toThrow(/rotate X cannot go from 40° to 10°/);
    expect(() => say(shot, { "shin-left": { scaleX: [0, 1] } })).toThrow(/no turn "scaleX"/);
    expect(() => say(shot, { wing: { rotateX: [0, 1] } })).toThrow(/no control "wing"/);
    const text = JSON.stringify(shotToJson(say(shot, { "shin-left": { rotateX: [10, 40] } }).shot)).replace("[10,40]", "[40,10]");
    await expect(readShot(new TextEncoder().encode(text), "a.json")).rejects.toThrow(/range goes from 40 to 10/);
  });

  test("strain what goes past them, by as much, and nothing else; tuned, the joint goes less far past", async () => {
    const shot = await halfAWalk();
    const frames = Array.from({ length: shot.range.end - shot.range.start + 1 }, (_, f) => shot.range.start + f);
    const turns = frames.map((frame) => readPose(shot, frame)["thigh-left.rotateX"]);
    const [lowest, highest] = [Math.min(...turns), Math.max(...turns)];
    // All other joints are as free as can be.
    const free = Object.fromEntries(Object.entries(learnRanges(shot)).map(([id, own]) => [id, mapped(own, () => [-999, 999])]));
    const { shot: wide } = say(shot, free);
    const limit = highest - (highest - lowest) / 4;
    const { shot: tight } = say(wide, { "thigh-left": { rotateX: [-999, limit] } });
    const [before, after] = [strained(wide), strained(tight)];
    for (const [f, turn] of turns.entries()) if (turn - limit > before[f]) expect(after[f]).toBeCloseTo(turn - limit, 9);
    expect(Math.max(...after)).toBeGreaterThan(Math.max(...before) + 3);

    const done = await run("tune", tight, { costs: { joints: 1 }, closeness: 1, steps: 30 });
    const past = (one: Shot) => Math.max(...frames.map((frame) => readPose(one, frame)["thigh-left.rotateX"] - limit));
    expect(past(done.shot)).toBeLessThan(0.5 * past(tight));
  });

  test("learned from a shot hold what it mostly does", async () => {
    const shot = await halfAWalk();
    const learned = learnRanges(shot);
    const frames = Array.from({ length: shot.range.end - shot.range.start + 1 }, (_, f) => shot.range.start + f);
    const poses = frames.map((frame) => readPose(shot, frame));
    for (const [id, ranges] of Object.entries(learned))
      for (const [channel, [low, high]] of Object.entries(ranges)) {
        const inside = poses.filter((pose) => pose[`${id}.${channel}`] >= low && pose[`${id}.${channel}`] <= high).length;
        expect(inside / frames.length).toBeGreaterThan(0.9);
      }
    expect(Object.keys(learned).length).toBeGreaterThan(20);
  });
});

const mapped = (ranges: JointRanges, change: () => [number, number]) =>
  Object.fromEntries(Object.keys(ranges).map((channel) => [channel, change()]));
