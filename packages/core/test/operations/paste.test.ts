import * as fc from "fast-check";
import { type Curve, keysOf, Tangent } from "../../src/curve/curve.ts";
import { curveFrom } from "../../src/curve/make.ts";
import { sampleCurve } from "../../src/curve/track.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import { readPose } from "../../src/evaluate/readPose.ts";
import { makeMirrorer } from "../../src/figure/mirror.ts";
import { clipFromText, clipToText } from "../../src/formats/clipText.ts";
import type { Clip } from "../../src/model/clip.ts";
import type { Shot } from "../../src/model/shot.ts";
import { checkSettings } from "../../src/operations/catalogue.ts";
import { liftKeys, liftPoses } from "../../src/operations/timing/liftKeys.ts";
import { noContext, type Scope, WHOLE_FIGURE } from "../../src/operations/operation.ts";
import { pasteKeys } from "../../src/operations/timing/pasteKeys.ts";
import { runOperation } from "../../src/operations/runOperation.ts";
import { passOf, movingShot, smallShot } from "../help/shots.ts";
import { anyCurve } from "../help/random.ts";
import { run } from "../help/run.ts";

const paste = async (shot: Shot, keys: Clip, settings: object, scope: Partial<Scope> = {}) =>
  runOperation(
    pasteKeys,
    shot,
    { ...WHOLE_FIGURE, ...scope },
    checkSettings(pasteKeys as never, { keys, ...settings }) as never,
    noContext,
  );

/** Crouch, up, over and down: 40 frames, 1.5 units forward along z. */
const hop = (): Shot =>
  smallShot(
    {
      "root.moveZ": curveFrom([
        [1, 0],
        [11, 0.1],
        [31, 1.4],
        [41, 1.5],
      ]),
      "root.moveY": curveFrom([
        [1, 0],
        [11, -0.3],
        [21, 0.6],
        [31, -0.2],
        [41, 0],
      ]),
      "root.rotateY": curveFrom([
        [1, 0],
        [41, 0],
      ]),
      "spine.rotateX": curveFrom([
        [1, 0],
        [11, 40],
        [21, -15],
        [31, 30],
        [41, 0],
      ]),
    },
    {
      range: { start: 1, end: 41 },
      rig: { ...smallShot().rig, controls: smallShot().rig.controls.map((c) => (c.id === "root" ? { ...c, order: "YXZ" } : c)) },
    },
  );

describe("carry on", () => {
  test("a 40-frame hop keyed 1 to 41, pasted at 41, ends at 81; the travel doubles and nothing slides back (common practice)", async () => {
    const shot = hop();
    const { shot: after, report } = await paste(shot, liftKeys(shot, { ...WHOLE_FIGURE, range: { start: 1, end: 41 } }), { at: 41 });
    expect(after.range).toEqual({ start: 1, end: 81 });
    expect(report.notes).toEqual(
      ["Carries on: root move Z.", "The shot now ends at frame 81."].map((s) => expect.stringContaining(s.slice(0, 20))),
    );
    expect(sampleCurve(after.base["root.moveZ"], 81)).toBeCloseTo(3, 12);
    let before = -1;
    for (let t = 1; t <= 81; t += 0.1) {
      const z = sampleCurve(after.base["root.moveZ"], t);
      expect(z).toBeGreaterThanOrEqual(before - 1e-12);
      before = z;
    }
    for (const key in shot.base)
      for (let t = 1; t <= 41; t += 0.1) {
        // Up to the last span, which ends at the seam, nothing of the first hop is another one.
        if (t <= 21) expect(sampleCurve(after.base[key], t)).toBeCloseTo(sampleCurve(shot.base[key], t), 9);
        // The auto key at the seam takes up the way on both sides; everything else is exact.
        expect(sampleCurve(after.base[key], t + 40)).toBeCloseTo(sampleCurve(shot.base[key], t) + (key === "root.moveZ" ? 1.5 : 0), 9);
      }
  });

  test("without it the hop starts again where it was copied", async () => {
    const shot = hop();
    const { shot: after } = await paste(shot, liftKeys(shot, WHOLE_FIGURE), { at: 41, carry: false });
    expect(sampleCurve(after.base["root.moveZ"], 81)).toBeCloseTo(1.5, 12);
  });

  test("after a turn the way goes on in the new heading", async () => {
    const shot = hop();
    const turned = {
      ...shot,
      base: {
        ...shot.base,
        "root.rotateY": curveFrom([
          [1, 0],
          [41, 90],
        ]),
      },
    };
    const { shot: after } = await paste(turned, liftKeys(turned, WHOLE_FIGURE), { at: 41 });
    // No key on move X was copied, so the way cannot be turned; with one it can.
    expect(sampleCurve(after.base["root.rotateY"], 81)).toBeCloseTo(180, 9);
    const both = {
      ...turned,
      base: {
        ...turned.base,
        "root.moveX": curveFrom([
          [1, 0],
          [41, 0],
        ]),
      },
    };
    const { shot: round } = await paste(both, liftKeys(both, WHOLE_FIGURE), { at: 41 });
    expect(sampleCurve(round.base["root.moveX"], 81)).toBeCloseTo(1.5, 9);
    expect(sampleCurve(round.base["root.moveZ"], 81)).toBeCloseTo(1.5, 9);
    // Seen from the figure, the second hop is the first one.
    const seen = (frame: number, start: number) => {
      const player = makePlayer(round);
      player.pose(start);
      const [x0, z0] = [player.worlds[12], player.worlds[14]];
      const heading = Math.atan2(player.worlds[8], player.worlds[10]);
      player.pose(frame);
      const [x, z] = [player.worlds[12] - x0, player.worlds[14] - z0];
      return [x * Math.cos(heading) - z * Math.sin(heading), x * Math.sin(heading) + z * Math.cos(heading)];
    };
    for (let t = 0; t <= 40; t += 2.5) for (const i of [0, 1]) expect(seen(41 + t, 41)[i]).toBeCloseTo(seen(1 + t, 1)[i], 9);
  });

  test("inserted in the middle, what comes later goes on from its end and every later key ripples", async () => {
    const shot = hop();
    const { shot: after } = await paste(shot, liftKeys(shot, WHOLE_FIGURE), { at: 21, place: "insert" });
    expect(after.range.end).toBe(81);
    expect(sampleCurve(after.base["root.moveZ"], 81)).toBeCloseTo(3, 9);
    const half = sampleCurve(shot.base["root.moveZ"], 21);
    for (const t of [1, 11, 31, 41])
      expect(sampleCurve(after.base["root.moveZ"], 20 + t)).toBeCloseTo(half + sampleCurve(shot.base["root.moveZ"], t), 9);
    expect([...after.base["spine.rotateX"].times]).toEqual([1, 11, 21, 31, 41, 51, 61, 71, 81]);
  });
});

describe("where keys go", () => {
  const spine = { ...WHOLE_FIGURE, controls: ["spine"] };
  const picked = { "spine.rotateX": [13, 25] };

  test("picked keys keep their spacing from the frame of pasting; others stay, or give way within the span", async () => {
    const shot = movingShot();
    const clip = liftKeys(shot, { ...WHOLE_FIGURE, keys: picked });
    expect([clip.from, clip.length, Object.keys(clip.curves)]).toEqual([13, 12, ["spine.rotateX"]]);
    const merged = (await paste(shot, clip, { at: 20 })).shot.base["spine.rotateX"];
    expect([...merged.times]).toEqual([1, 13, 20, 25, 32, 49]);
    const replaced = (await paste(shot, clip, { at: 20, place: "replace" })).shot.base["spine.rotateX"];
    expect([...replaced.times, ...replaced.values]).toEqual([1, 13, 20, 32, 49, 5, -20, -20, 30, 0]);
    const inserted = (await paste(shot, clip, { at: 25, place: "insert" }, { controls: ["spine"] })).shot;
    expect([...inserted.base["spine.rotateX"].times]).toEqual([1, 13, 25, 37, 61]);
    // Narrowed by scope the other controls keep their time.
    expect(inserted.base["arm-left.rotateZ"]).toBe(shot.base["arm-left.rotateZ"]);
  });

  test("whole curves land where they were and replace", async () => {
    const shot = movingShot();
    const clip = liftKeys(shot, spine);
    expect(clip.whole).toBe(true);
    const other = {
      ...shot,
      base: {
        ...shot.base,
        "spine.rotateX": curveFrom([
          [3, 1],
          [60, 2],
        ]),
      },
    };
    const { shot: after } = await paste(other, clip, { at: clip.from, place: "whole" });
    expect(after.base["spine.rotateX"]).toEqual(shot.base["spine.rotateX"]);
  });

  test("onto picked channels in the order picked, or another order", async () => {
    const shot = movingShot();
    const clip = liftKeys(shot, { ...WHOLE_FIGURE, channels: ["spine.rotateX", "hand-left.rotateX"] });
    const onto = { controls: ["arm-left", "arm-right"], channels: ["arm-right.rotateX", "arm-left.rotateX"] };
    const { shot: after } = await paste(shot, clip, { to: "picked", at: 1 }, onto);
    expect([...after.base["arm-right.rotateX"].values]).toEqual([...shot.base["spine.rotateX"].values]);
    expect([...after.base["arm-left.rotateX"].values]).toEqual([...shot.base["hand-left.rotateX"].values]);
    const { shot: swapped } = await paste(shot, clip, { to: "picked", at: 1, order: ["hand-left.rotateX"] }, onto);
    expect([...swapped.base["arm-right.rotateX"].values]).toEqual([...shot.base["hand-left.rotateX"].values]);
    const arm = liftKeys(shot, { ...WHOLE_FIGURE, controls: ["arm-left"] });
    const { shot: other } = await paste(shot, arm, { to: "picked", at: 1 }, { controls: ["hand-right"] });
    expect([...other.base["hand-right.rotateZ"].values]).toEqual([...shot.base["arm-left.rotateZ"].values]);
  });

  test("a pose is one key a curve; into a pass its keys go as they are", async () => {
    const shot = movingShot({ passes: [passOf("adds", {})] });
    const pose = liftPoses(shot, WHOLE_FIGURE, [25]);
    const { shot: after } = await paste(shot, pose, { at: 33 });
    const player = makePlayer(after);
    player.readValues(33);
    const values = player.values.slice();
    const before = makePlayer(shot);
    before.readValues(25);
    // All but the way, which carries on.
    for (const key of ["spine.rotateX", "arm-left.rotateZ", "hand-left.rotateX"])
      expect(values[player.channelIndex.get(key) as number]).toBeCloseTo(before.values[before.channelIndex.get(key) as number], 12);
    expect(sampleCurve(after.base["root.moveX"], 33)).toBeCloseTo(sampleCurve(shot.base["root.moveX"], 33), 12);
    const { shot: inPass } = await paste(shot, pose, { at: 33 }, { layer: "pass-adds" });
    expect(sampleCurve(inPass.passes[0].curves["spine.rotateX"], 33)).toBe(30);
    expect(inPass.base).toBe(shot.base);
  });
});

describe("what becomes of the motion", () => {
  test("reversed it is the mirror image in time, at every tenth of a frame, weighted handles and stepped keys included", async () => {
    await fc.assert(
      fc.asyncProperty(anyCurve, async (curve: Curve) => {
        const shot = smallShot({ "spine.rotateX": { ...curve, runIn: { kind: "hold", rounds: 0 }, runOut: { kind: "hold", rounds: 0 } } });
        const clip = liftKeys(shot, WHOLE_FIGURE);
        const { shot: after } = await paste(shot, clip, { at: clip.from, place: "whole", reversed: true });
        const [first, last] = [clip.from, clip.from + clip.length];
        const size = Math.max(1, ...curve.values.map(Math.abs));
        for (let t = first + 0.05; t < last; t += 0.1) {
          // On the frame of a stepped key the jump belongs to one side or the other; everywhere else there is one value.
          if ([...curve.times].some((time) => Math.abs(time - t) < 1e-6)) continue;
          expect(Math.abs(sampleCurve(after.base["spine.rotateX"], first + last - t) - sampleCurve(curve, t))).toBeLessThan(1e-9 * size);
        }
      }),
      { numRuns: 60 },
    );
  });

  test("at 200 % it takes twice as long with the same shape", async () => {
    const shot = movingShot();
    const clip = liftKeys(shot, WHOLE_FIGURE);
    const { shot: after } = await paste(shot, clip, { at: 1, place: "whole", takes: 200 });
    expect(after.range.end).toBe(97);
    for (let t = 0; t <= 48; t += 0.7)
      expect(sampleCurve(after.base["spine.rotateX"], 1 + 2 * t)).toBeCloseTo(sampleCurve(shot.base["spine.rotateX"], 1 + t), 9);
  });

  test("between shots of other frame rates it keeps its seconds", async () => {
    const { shot: after } = await paste(movingShot({ rate: { num: 48, den: 1 } }), liftKeys(movingShot(), WHOLE_FIGURE), {
      at: 1,
      place: "whole",
    });
    expect(after.range.end).toBe(97);
  });

  test("mirrored, each key is the mirrored pose and the way between follows it", async () => {
    const shot = movingShot();
    const clip = liftKeys(shot, WHOLE_FIGURE);
    const { shot: after } = await paste(shot, clip, { at: 1, place: "whole", mirrored: true, carry: false });
    const want = (frame: number) => {
      const pose = readPose(shot, frame, "base");
      return makeMirrorer(shot.rig).pose(pose, pose);
    };
    for (const frame of [1, 13, 25, 49])
      for (const key of ["arm-left.rotateZ", "arm-right.rotateZ", "hand-right.rotateX", "spine.rotateX"])
        if (keysOf(after.base[key]).some(({ time }) => time === frame))
          expect(sampleCurve(after.base[key], frame)).toBeCloseTo(want(frame)[key], 6);
    const { shot: back } = await paste(after, liftKeys(after, WHOLE_FIGURE), { at: 1, place: "whole", mirrored: true, carry: false });
    for (const key in shot.base)
      for (const frame of shot.base[key].times)
        expect(sampleCurve(back.base[key], frame)).toBeCloseTo(sampleCurve(shot.base[key], frame), 6);
  });

  test("mirrored in a plane of the scene it goes the other way; who is left out keeps the own motion, and is named", async () => {
    const shot = movingShot();
    const settings = { at: 1, place: "whole", mirrored: true, carry: false, about: "plane", leftOut: ["hand-left", "hand-right"] };
    const { shot: after, report } = await paste(shot, liftKeys(shot, WHOLE_FIGURE), settings);
    expect(sampleCurve(after.base["root.moveX"], 25)).toBeCloseTo(-0.9, 9);
    expect(after.base["hand-left.rotateX"]).toBe(shot.base["hand-left.rotateX"]);
    expect(report.notes).toContain("Left out: hand left, hand right.");
  });
});

describe("bad input", () => {
  test("text that is not keys, damaged or newer keys are refused with what they are", () => {
    const text = clipToText(liftKeys(movingShot(), WHOLE_FIGURE));
    expect(clipFromText(text)).toEqual(liftKeys(movingShot(), WHOLE_FIGURE));
    expect(() => clipFromText("Dear ferry-keeper, the lantern")).toThrow(/begins with "Dear ferry-keeper/);
    expect(() => clipFromText("  ")).toThrow(/clipboard is empty/);
    expect(() => clipFromText('{"format":"other"}')).toThrow(/not keys/);
    expect(() => clipFromText(text.replace('"length":48', '"length":"x"'))).toThrow(/damaged: length/);
    expect(() => clipFromText(text.replace('"version":5', '"version":9'))).toThrow(/newer Kneader/);
    expect(() => checkSettings(pasteKeys as never, {})).toThrow(/nothing has been copied yet/);
  });

  test("locked channels are left alone and said, and when all are the paste is refused", async () => {
    const shot = movingShot({ locked: ["spine.rotateX"] });
    const all = liftKeys(shot, WHOLE_FIGURE);
    const { shot: after, report } = await paste(shot, all, { at: 49 });
    expect(after.base["spine.rotateX"]).toBe(shot.base["spine.rotateX"]);
    expect(report.warnings.join()).toMatch(/spine rotate X is locked and left alone/);
    await expect(paste(shot, liftKeys(shot, { ...WHOLE_FIGURE, controls: ["spine"] }), { at: 49 })).rejects.toThrow(
      /spine rotate X is locked/,
    );
  });

  test("nothing to copy, no place for it, nothing picked to paste onto", async () => {
    const shot = movingShot();
    expect(() => liftKeys(shot, { ...WHOLE_FIGURE, controls: ["hand-right"] })).toThrow(/no key to copy/);
    const clip = liftKeys(shot, { ...WHOLE_FIGURE, controls: ["spine"] });
    await expect(paste(shot, clip, {}, { controls: ["hand-left"] })).rejects.toThrow(
      /none of the copied channels has a place here \(spine\)/,
    );
    await expect(paste(shot, clip, { to: "picked" })).rejects.toThrow(/nothing is picked/);
  });

  test("what is picked is proposed where it is none of what was copied: onto another channel, another control, and back again", async () => {
    const shot = movingShot();
    const clip = liftKeys(shot, { ...WHOLE_FIGURE, channels: ["spine.rotateX"], keys: { "spine.rotateX": [1, 13] } });
    const proposed = (scope: object) =>
      pasteKeys.situation?.({ shot, scope: { ...WHOLE_FIGURE, ...scope }, frame: 20, copiedPose: null, copiedKeys: clip, poseShare: 0.5 });
    expect(proposed({})).toMatchObject({ to: "same" });
    expect(proposed({ controls: ["spine"] })).toMatchObject({ to: "same" });
    const scope = { controls: ["spine"], channels: ["spine.rotateZ"] };
    expect(proposed(scope)).toMatchObject({ to: "picked", at: 20 });
    const { shot: after } = await run(pasteKeys, shot, proposed(scope) as object, scope);
    expect(sampleCurve(after.base["spine.rotateZ"], 20)).toBeCloseTo(sampleCurve(shot.base["spine.rotateX"], 1), 9);
    expect(sampleCurve(after.base["spine.rotateZ"], 32)).toBeCloseTo(sampleCurve(shot.base["spine.rotateX"], 13), 9);
    const other = { controls: ["arm-left"] };
    expect((await run(pasteKeys, shot, proposed(other) as object, other)).shot.base["arm-left.rotateX"]).toBeDefined();
  });

  test("stepped keys stay stepped where they land", async () => {
    const shot = smallShot({
      "spine.rotateX": curveFrom(
        [
          [1, 0],
          [5, 10],
          [9, 0],
        ],
        Tangent.stepped,
      ),
    });
    const { shot: after } = await paste(shot, liftKeys(shot, WHOLE_FIGURE), { at: 9 });
    expect([...after.base["spine.rotateX"].kindOut]).toEqual(new Array(5).fill(Tangent.stepped));
    expect(sampleCurve(after.base["spine.rotateX"], 12.9)).toBe(0);
  });
});
