import fc from "fast-check";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import { lastFrame, joinedTake, type Take } from "../../src/model/take.ts";
import { withPass } from "../../src/model/shot.ts";
import { record, recordedIn } from "../../src/operations/performance/record.ts";
import { readKneader, writeKneader } from "../../src/formats/kneaderJson.ts";
import { Chance } from "../help/chance.ts";
import { run } from "../help/run.ts";
import { movingShot } from "../help/shots.ts";

const KEYS = ["spine.rotateX", "spine.rotateY", "root.moveX"];

function takeOf(id: string, seed: number, start = 1, frames = 49): Take {
  const chance = new Chance(seed);
  const column = () => Array.from({ length: frames }, () => chance.between(-20, 20));
  return { id, name: id, start, values: Object.fromEntries(KEYS.map((key) => [key, column()])) };
}

const recordedOf = (takes: Take[], chosen = takes[0].id, joins: { take: string; start: number; end: number }[] = []) => ({
  recorded: { takes, chosen, joins },
});

function valueAt(shot: ReturnType<typeof movingShot>, key: string, frame: number): number {
  const player = makePlayer(shot);
  player.readValues(frame);
  return player.values[player.channelIndex.get(key) as number];
}

describe("a recorded take", () => {
  it.each(["adds", "replaces"] as const)(
    "that %s is the motion below and the hand on top, at every frame; muted, the motion is as it was",
    async (how) => {
      const shot = movingShot();
      const take = takeOf("a", 1);
      const { shot: after } = await run(record, shot, { ...recordedOf([take]), how });
      const [pass] = after.passes;
      expect(pass.kind).toBe(how);
      for (const key of KEYS)
        for (let frame = 1; frame <= 49; frame++) {
          expect(pass.curves[key].times[frame - 1]).toBe(frame);
          expect(valueAt(after, key, frame)).toBeCloseTo(valueAt(shot, key, frame) + take.values[key][frame - 1], 9);
        }
      const muted = withPass(after, pass.id, (one) => ({ ...one, on: false }));
      for (const frame of [1, 7.5, 30, 49]) expect(valueAt(muted, KEYS[0], frame)).toBe(valueAt(shot, KEYS[0], frame));
    },
  );

  it("within a tolerance has fewer keys and stays within it at every frame; what was recorded is kept and comes back", async () => {
    const shot = movingShot();
    const smooth: Take = {
      id: "a",
      name: "a",
      start: 1,
      values: { "spine.rotateX": Array.from({ length: 49 }, (_, n) => 12 * Math.sin(n / 5)) },
    };
    const { shot: after, report } = await run(record, shot, { ...recordedOf([smooth]), rotation: 0.5 });
    const [pass] = after.passes;
    expect(pass.curves["spine.rotateX"].times.length).toBeLessThan(16);
    expect(report.notes.join()).toMatch(/^49 keys as recorded, \d+ keys within/);
    for (let frame = 1; frame <= 49; frame++)
      expect(
        Math.abs(valueAt(after, "spine.rotateX", frame) - valueAt(shot, "spine.rotateX", frame) - 12 * Math.sin((frame - 1) / 5)),
      ).toBeLessThan(0.5 + 1e-9);
    const again = await run(record, after, { ...recordedIn(pass), rotation: 0 }, { layer: pass.id });
    expect(again.shot.passes).toHaveLength(1);
    expect(again.shot.passes[0].curves["spine.rotateX"].times).toHaveLength(49);
  });

  it("over a part of the shot comes and goes there and nowhere else", async () => {
    const shot = movingShot();
    const { shot: after } = await run(record, shot, { ...recordedOf([takeOf("a", 3, 10, 20)]), ease: 4 });
    expect(after.passes[0].range).toEqual({ start: 10, end: 29, easeIn: 4, easeOut: 4 });
    for (const frame of [1, 9, 10, 30, 49]) expect(valueAt(after, KEYS[0], frame)).toBeCloseTo(valueAt(shot, KEYS[0], frame), 9);
  });

  it("goes through the shot's own file with all its takes", async () => {
    const { shot: after } = await run(record, movingShot(), recordedOf([takeOf("a", 1), takeOf("b", 2)]));
    const back = readKneader({ bytes: writeKneader(after).bytes, name: "file.json" });
    expect(recordedIn(back.shot.passes[0])).toEqual(recordedIn(after.passes[0]));
  });

  it("is refused while there is none, on a locked channel, and for a rig it does not know", async () => {
    await expect(run(record, movingShot(), recordedOf([takeOf("a", 1)], "none"))).rejects.toThrow(/no take yet/);
    await expect(run(record, movingShot({ locked: ["spine.rotateX"] }), recordedOf([takeOf("a", 1)]))).rejects.toThrow(/locked/);
    const stranger: Take = { id: "s", name: "s", start: 1, values: { "wing.rotateX": [1, 2] } };
    await expect(run(record, movingShot(), recordedOf([stranger]))).rejects.toThrow(/none of the take's controls/);
  });
});

describe("takes that are joined", () => {
  it("outside the span the chosen one, well within it the other, and never outside both between", () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 49 }),
        fc.integer({ min: 0, max: 30 }),
        fc.integer({ min: 1, max: 999 }),
        (start, length, seed) => {
          const [a, b] = [takeOf("a", seed), takeOf("b", seed + 1, 5, 40)];
          const end = Math.min(49, start + length);
          const made = joinedTake([a, b], "a", [{ take: "b", start, end }]);
          for (const key of KEYS)
            for (let frame = 1; frame <= 49; frame++) {
              const [one, other, now] = [a.values[key][frame - 1], b.values[key][frame - 5], made?.values[key][frame - 1] as number];
              if (frame < start || frame > end || frame < 5 || frame > lastFrame(b)) expect(now).toBe(one);
              else {
                expect(now).toBeGreaterThanOrEqual(Math.min(one, other) - 1e-9);
                expect(now).toBeLessThanOrEqual(Math.max(one, other) + 1e-9);
                if (frame >= start + 3 && frame <= end - 3) expect(now).toBeCloseTo(other, 9);
              }
            }
          expect(a.values[KEYS[0]]).toEqual(takeOf("a", seed).values[KEYS[0]]);
        },
      ),
      { numRuns: 100, seed: 5 },
    );
  });

  it("a take that is gone gives nothing", () => {
    expect(joinedTake([takeOf("a", 1)], "b", [])).toBeNull();
    expect(joinedTake([takeOf("a", 1)], "a", [{ take: "gone", start: 1, end: 9 }])?.values).toEqual(takeOf("a", 1).values);
  });
});
