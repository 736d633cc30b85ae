import { shiftFrom } from "../../src/curve/edit.ts";
import { switchSpace } from "../../src/operations/spaces/switchSpace.ts";
import { apart, worldOf } from "../help/posed.ts";
import { run } from "../help/run.ts";
import { captureClip } from "../../src/actions/captureClip.ts";
import { matchClip } from "../../src/actions/matchClip.ts";
import { constantCurve, curveFrom } from "../../src/curve/make.ts";
import { sampleCurve } from "../../src/curve/track.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import { readAction, writeAction } from "../../src/formats/kneaderJson.ts";
import type { Action } from "../../src/model/action.ts";
import type { Shot } from "../../src/model/shot.ts";
import { layAction } from "../../src/operations/actions/layAction.ts";
import { checkSettings } from "../../src/operations/catalogue.ts";
import { WHOLE_FIGURE } from "../../src/operations/operation.ts";
import { saveAction } from "../../src/operations/actions/saveAction.ts";
import { captureShot } from "../help/capture.ts";
import { movingShot, passOf, smallShot } from "../help/shots.ts";

const note = { name: "Sway", tags: ["test"], rotation: 0, move: 0 };
const range = { start: 10, end: 30 };
const lay = (shot: Shot, told: Record<string, unknown>) => run(layAction, shot, told);
const saved = async (shot = movingShot(), scope = { ...WHOLE_FIGURE, range }): Promise<Action> =>
  (await run(saveAction, shot, note, scope)).action as Action;

describe("saving an action", () => {
  test("takes the motion of the range as it is, starting at frame 0", async () => {
    const shot = movingShot();
    const action = await saved(shot);
    expect(action.clip.length).toBe(20);
    for (const key in shot.base)
      for (let t = 0; t <= 20; t += 0.25)
        expect(sampleCurve(action.clip.curves[key], t)).toBeCloseTo(sampleCurve(shot.base[key], 10 + t), 8);
  });

  test("where a pass plays it takes the motion as seen", async () => {
    const shot = movingShot({ passes: [passOf("adds", { "spine.rotateX": constantCurve(9) })] });
    const action = await saved(shot);
    const player = makePlayer(shot);
    player.readValues(17);
    expect(action.clip.curves["spine.rotateX"].values[7]).toBe(player.values[player.channelIndex.get("spine.rotateX") as number]);
  });

  test("of a control that lives elsewhere, follows or stands planted it takes the motion as seen, told under what it hangs on", async () => {
    const { shot } = await run(switchSpace, movingShot(), { space: "*world", frame: 20 }, { controls: ["hand-left"] });
    const action = await saved(shot);
    const alone = { ...shot, constraints: [], base: { ...shot.base } };
    for (const channel of ["moveX", "moveY", "moveZ", "rotateX", "rotateY", "rotateZ"])
      alone.base[`hand-left.${channel}`] = shiftFrom(action.clip.curves[`hand-left.${channel}`], Number.NEGATIVE_INFINITY, range.start);
    for (let frame = range.start; frame <= range.end; frame++)
      expect(apart(worldOf(alone, "hand-left", frame), worldOf(shot, "hand-left", frame))).toBeLessThan(1e-9);
    // What nothing leads keeps its keys.
    expect(action.clip.curves["spine.rotateX"].times.length).toBeLessThan(6);
  });

  test("keeps the whole figure beside what it moves, so that it can be played alone and found elsewhere", async () => {
    const action = await saved(movingShot(), { ...WHOLE_FIGURE, controls: ["hand-left"], range } as never);
    expect(Object.keys(action.clip.curves)).toEqual(["hand-left.rotateX"]);
    expect(action.clip.controls).toEqual(movingShot().rig.controls);
    expect(action.card.about).toEqual({ frames: 20, curves: 1, moves: ["hand left"] });
  });

  test("refuses an empty scope and a range that ends before it starts", async () => {
    await expect(saved(smallShot())).rejects.toThrow(/nothing in scope has a key/);
    expect(() => captureClip(movingShot(), ["spine.rotateX"], { start: 30, end: 10 })).toThrow(/ends.*before it starts/);
  });

  test("a file of it is read back the same, with a new id", async () => {
    const action = await saved();
    const back = readAction(writeAction(action));
    expect({ ...back, card: { ...back.card, id: action.card.id } }).toEqual(action);
    expect(back.card.id).not.toBe(action.card.id);
  });
});

describe("applying an action", () => {
  test("lays it at a frame in place of what its span held; the rest stays", async () => {
    const action = await saved();
    const shot = movingShot();
    const { shot: after, report } = await lay(shot, { action, at: 20 });
    for (const key in action.clip.curves) {
      for (let t = 0; t <= 20; t += 0.5)
        expect(sampleCurve(after.base[key], 20 + t)).toBeCloseTo(sampleCurve(action.clip.curves[key], t), 8);
      for (const t of [1, 9, 18.9, 42, 48]) expect(sampleCurve(after.base[key], t)).toBeCloseTo(sampleCurve(shot.base[key], t), 8);
    }
    expect(report.summary).toMatch(/6 curves as keys, frames 20 to 40/);
  });

  test("at half speed it takes twice as long, and the shot grows for it", async () => {
    const action = await saved();
    const { shot: after } = await lay(movingShot(), { action, at: 20, speed: 50 });
    expect(after.range.end).toBe(60);
    expect(sampleCurve(after.base["spine.rotateX"], 50)).toBeCloseTo(sampleCurve(action.clip.curves["spine.rotateX"], 15), 8);
  });

  test("at another frame rate it keeps its length in seconds", async () => {
    const action = await saved();
    const fast = movingShot({ rate: { num: 48, den: 1 } });
    const { shot: after } = await lay(fast, { action, at: 1, speed: 100 });
    expect(sampleCurve(after.base["spine.rotateX"], 21)).toBeCloseTo(sampleCurve(action.clip.curves["spine.rotateX"], 10), 8);
  });

  test("names are matched without regard to case, blanks and punctuation; the rest is listed", async () => {
    const action = await saved();
    const controls = action.clip.controls.map((c) => (c.id === "spine" ? { ...c, id: "x1", name: "SPINE" } : c));
    const curves = Object.fromEntries(
      Object.entries(action.clip.curves).map(([key, curve]) => [key.replace("spine.", "x1.").replace("hand-left.", "claw."), curve]),
    );
    const strange: Action = { ...action, clip: { ...action.clip, controls, curves } };
    const match = matchClip(strange.clip, movingShot().rig);
    expect(match.matched.get("x1.rotateX")).toBe("spine.rotateX");
    expect(match.unmatched).toEqual(["claw.rotateX"]);
    const { report } = await lay(movingShot(), { action: strange, at: 1, speed: 100 });
    expect(report.warnings).toContain("1 of 6 curves have no place here: claw.");
  });

  test("an action for a rig with no matching control changes nothing and says what it moves", async () => {
    const taken = await saved(movingShot());
    const { clip } = taken;
    const controls = clip.controls.map((c, i) => ({ ...c, id: `gear-${c.id}`, name: `Gear ${i}`, parent: null }));
    const curves = Object.fromEntries(Object.entries(clip.curves).map(([key, curve]) => [`gear-${key}`, curve]));
    const action = { ...taken, clip: { ...clip, controls, curves } };
    const other = captureShot();
    await expect(lay(other, { action, at: 1, speed: 100 })).rejects.toThrow(
      /Nothing in "Sway" matches this rig: it moves Gear 0, Gear 1, Gear 2/,
    );
  });

  test("the command line's settings may be an action file's text; anything else is refused", async () => {
    const action = await saved();
    const json = JSON.parse(new TextDecoder().decode(writeAction(action)));
    const settings = checkSettings(layAction as never, { action: json, at: 5, speed: 100 }) as { action: Action };
    expect(settings.action.clip.curves).toEqual(action.clip.curves);
    expect(() => checkSettings(layAction as never, { action: { format: "kneader-action", action: {} }, at: 5 })).toThrow(/not an action/);
  });
});

test("a pose is an action of length 0", async () => {
  const pose = await saved(movingShot(), { ...WHOLE_FIGURE, range: { start: 13, end: 13 } });
  expect(pose.clip.length).toBe(0);
  const target = smallShot({
    "spine.rotateX": curveFrom([
      [1, 0],
      [30, 0],
    ]),
  });
  const { shot } = await lay(target, { action: pose, at: 9, speed: 100 });
  expect(sampleCurve(shot.base["spine.rotateX"], 9)).toBeCloseTo(-20, 9);
});

describe("an action of the time before there were cards and clips", () => {
  const old = async () => {
    const { card, clip } = await saved();
    const { controls, whole: _, from: __, ...motion } = JSON.parse(new TextDecoder().decode(writeAction({ card, clip }))).action.clip;
    const action = { ...card, ...motion, controls: controls.map(({ role: ___, ...control }: Record<string, unknown>) => control) };
    return { format: "kneader-action", version: 1, action };
  };

  test("is read as it was meant", async () => {
    const { card, clip } = await saved();
    const read = readAction(new TextEncoder().encode(JSON.stringify(await old())));
    expect({ ...read.card, id: "", savedAt: 0 }).toEqual({ ...card, id: "", savedAt: 0, about: undefined });
    expect(read.clip).toEqual({ ...clip, from: 0 });
  });

  test("is a setting too, as a file's text or as what is in it", async () => {
    for (const given of [await old(), (await old()).action]) {
      const settings = checkSettings(layAction as never, { action: given, at: 5, speed: 100 }) as { action: Action };
      expect(settings.action.card.name).toBe("Sway");
    }
  });
});

describe("saving in other ways", () => {
  const passes = [
    passOf("adds", {
      "spine.rotateX": curveFrom([
        [1, 0],
        [25, 20],
        [49, 0],
      ]),
    }),
  ];

  test("as seen by the fewest keys within the tolerance, at every frame; as keyed the layer's own", async () => {
    const shot = movingShot({ passes });
    const { action } = await run(saveAction, shot, { name: "Lean", rotation: 0.5, move: 0.01 }, { range });
    const curve = (action as Action).clip.curves["spine.rotateX"];
    expect(curve.times.length).toBeLessThan(12);
    const player = makePlayer(shot);
    for (let frame = range.start; frame <= range.end; frame++) {
      player.readValues(frame);
      expect(
        Math.abs(sampleCurve(curve, frame - range.start) - player.values[player.channelIndex.get("spine.rotateX") as number]),
      ).toBeLessThan(0.51);
    }
    const keyed = (await run(saveAction, shot, { name: "Lean", as: "keyed" }, { range, layer: "pass-adds" })).action as Action;
    expect(Object.keys(keyed.clip.curves)).toEqual(["spine.rotateX"]);
    for (let t = 0; t <= 20; t += 0.5)
      expect(sampleCurve(keyed.clip.curves["spine.rotateX"], t)).toBeCloseTo(sampleCurve(passes[0].curves["spine.rotateX"], 10 + t), 8);
  });

  test("picked keys are saved over their span, those not picked left out", async () => {
    const { action } = await run(saveAction, movingShot(), { name: "Two", as: "keyed" }, { keys: { "spine.rotateX": [13, 25] } });
    expect([...(action as Action).clip.curves["spine.rotateX"].times]).toEqual([0, 12]);
    expect((action as Action).clip.length).toBe(12);
  });

  test("its keys leave the shot on wish, or give way to a pass that plays it: nothing looks different then", async () => {
    const shot = movingShot();
    const taken = await run(saveAction, shot, { name: "Sway", afterwards: "taken" }, { range });
    expect([...taken.shot.base["spine.rotateX"].times]).toEqual([1, 49]);
    const played = await run(saveAction, shot, { name: "Sway", afterwards: "played" }, { range });
    expect(played.shot.passes.map(({ kind }) => kind)).toEqual(["play"]);
    const [before, after] = [makePlayer(shot), makePlayer(played.shot)];
    for (let frame = range.start; frame <= range.end; frame += 0.25) {
      before.readValues(frame);
      after.readValues(frame);
      for (const key in shot.base) {
        const at = before.channelIndex.get(key) as number;
        expect(after.values[at]).toBeCloseTo(before.values[at], 9);
      }
    }
    expect((await run(saveAction, shot, { name: "Sway" }, { range })).shot).toBe(shot);
  });
});
