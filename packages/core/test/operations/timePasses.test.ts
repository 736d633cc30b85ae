import { measureDrift } from "../../src/evaluate/drift.ts";
import { captureClip } from "../../src/actions/captureClip.ts";
import { readGltf } from "../../src/formats/gltf/read.ts";
import { writeGltf } from "../../src/formats/gltf/write.ts";
import { Tangent } from "../../src/curve/curve.ts";
import { constantCurve, curveFrom } from "../../src/curve/make.ts";
import { sampleCurve } from "../../src/curve/track.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import { findPartners } from "../../src/figure/partners.ts";
import { type Shot, withPass } from "../../src/model/shot.ts";
import { STEPPING_RIDES } from "../../src/passes/stepping.ts";
import { WARP_FRAME } from "../../src/passes/warp.ts";
import { bakePasses } from "../../src/operations/passes/bakePasses.ts";
import { checkSettings } from "../../src/operations/catalogue.ts";
import { keyChannels } from "../../src/operations/shared/keyChannels.ts";
import { noContext, type Operation, type Scope, WHOLE_FIGURE } from "../../src/operations/operation.ts";
import { runOperation } from "../../src/operations/runOperation.ts";
import { setGap } from "../../src/operations/timing/setGap.ts";
import { simplify } from "../../src/operations/clean/simplify.ts";
import { presentStepping, stepping } from "../../src/operations/timing/stepping.ts";
import { timeWarp } from "../../src/operations/timing/timeWarp.ts";
import { played } from "../help/passes.ts";
import { control, movingShot, smallShot } from "../help/shots.ts";

const run = async <Settings>(operation: Operation<Settings>, shot: Shot, settings: object = {}, scope: Partial<Scope> = {}) =>
  runOperation(operation, shot, { ...WHOLE_FIGURE, ...scope }, checkSettings(operation as Operation, settings) as Settings, noContext);

/** The largest difference of any channel between two shots at whole frames. */
function apart(a: Shot, b: Shot): number {
  const [one, other] = [makePlayer(a), makePlayer(b)];
  let worst = 0;
  for (let frame = a.range.start; frame <= a.range.end; frame++) {
    one.readValues(frame);
    other.readValues(frame);
    one.values.forEach((value, i) => {
      worst = Math.max(worst, Math.abs(value - other.values[i]));
    });
  }
  return worst;
}

describe("time-warp", () => {
  test("adds a pass pinned at the ends of the range and slow where asked; no key of base moves", async () => {
    const shot = movingShot();
    const { shot: after, report } = await run(timeWarp, shot, { easeIn: 100 }, { range: { start: 13, end: 37 } });
    const warp = after.passes[0].curves[WARP_FRAME];
    expect(after.base).toBe(shot.base);
    expect([...warp.times, ...warp.values]).toEqual([13, 37, 13, 37]);
    // From rest to full speed (slope 0 to 1): s(u) = -u³ + 2u² (Hermite basis), a quarter of the way s = 7/64.
    expect(sampleCurve(warp, 19)).toBeCloseTo(13 + (24 * 7) / 64, 9);
    expect(report.summary).toMatch(/Warp over frames 13 to 37/);
    await expect(run(timeWarp, shot, {}, { range: { start: 5, end: 6 } })).rejects.toThrow(/nothing to warp/);
  });

  test("with a warp chosen it shapes that one anew; picked controls become its members", async () => {
    const { shot } = await run(timeWarp, movingShot(), {}, { controls: ["spine"] });
    expect(shot.passes[0].members).toContain("spine.rotateX");
    expect(shot.passes[0].members).not.toContain("root.moveX");
    const { shot: again } = await run(timeWarp, shot, { easeOut: 50 }, { layer: shot.passes[0].id });
    expect(again.passes).toHaveLength(1);
    expect(sampleCurve(again.passes[0].curves[WARP_FRAME], 25)).toBeGreaterThan(25);
  });

  test.each(["every", "fewest", "existing"] as const)("baked with keys %s, the whole frames stay within what was asked", async (keys) => {
    const { shot } = await run(timeWarp, movingShot(), { easeIn: 60, easeOut: 30 });
    const { shot: baked, report } = await run(bakePasses, shot, { keys, rotation: 0.2, move: 0.002 });
    expect(baked.passes).toHaveLength(0);
    if (keys === "every") expect(apart(shot, baked)).toBeLessThan(1e-9);
    if (keys === "fewest") {
      expect(report.drift?.turn.amount).toBeLessThan(0.3);
      expect(report.keysAfter).toBeLessThan(150);
    }
    if (keys === "existing")
      // As many keys as before, each at the frame at which the warp plays it, with the value it has there.
      for (const key in baked.base) {
        const { times, values } = baked.base[key];
        expect(times.length).toBe(movingShot().base[key].times.length);
        const player = makePlayer(shot);
        times.forEach((time, i) => {
          player.readValues(time);
          expect(values[i]).toBe(player.values[player.channelIndex.get(key) as number]);
        });
      }
  });

  test("a gap changed below it ripples through: the warp stays straight where it was straight", async () => {
    const { shot } = await run(timeWarp, movingShot());
    const { shot: after } = await run(setGap, shot, { from: 13, to: 25, gap: 18 });
    const warp = after.passes[0].curves[WARP_FRAME];
    expect([...warp.times, ...warp.values]).toEqual([1, 55, 1, 55]);
  });

  test("its curve is reworked like any other", async () => {
    const { shot } = await run(timeWarp, movingShot(), { easeIn: 50 });
    const id = shot.passes[0].id;
    const keyed = [9, 17, 25, 33].reduce((s, frame) => keyChannels(s, id, frame, { [WARP_FRAME]: frame - 1 }), shot);
    const { shot: fewer } = await run(simplify, keyed, { rotation: 5, move: 5 }, { layer: id });
    expect(fewer.passes[0].curves[WARP_FRAME].times.length).toBeLessThan(6);
    expect(fewer.base).toBe(shot.base);
  });
});

describe("stepping", () => {
  test.each(["every", "fewest", "existing"] as const)("baked (%s) it stays stepped and plays the same between frames too", async (keys) => {
    const { shot } = await run(stepping, movingShot(), { pattern: "2 2 3" }, { range: { start: 13, end: 40 } });
    const { shot: baked } = await run(bakePasses, shot, { keys });
    const { times, kindOut } = baked.base["spine.rotateX"];
    const inside = [...times.keys()].filter((i) => times[i] >= 13 && times[i] < 39);
    expect(inside.map((i) => times[i])).toEqual([13, 15, 17, 20, 22, 24, 27, 29, 31, 34, 36, 38]);
    for (const i of inside) expect(kindOut[i]).toBe(Tangent.stepped);
    const at = (s: Shot, frame: number) => {
      const player = makePlayer(s);
      player.readValues(frame);
      return player.values[player.channelIndex.get("spine.rotateX") as number];
    };
    for (let frame = 13; frame < 40; frame += 0.25)
      expect(Math.abs(at(baked, frame) - at(shot, frame))).toBeLessThan(keys === "fewest" ? 0.1 : 1e-12);
  });

  test("frames are copied from a control's keys, and told again as they are", async () => {
    const { shot } = await run(stepping, movingShot(), { show: "control", control: "hand-left" });
    expect(shot.passes[0].settings.frames).toEqual([1, 13, 49]);
    expect(presentStepping(shot, shot.passes[0])).toMatchObject({ show: "control", control: "hand-left", ride: false });
    // Where its keys go the figure follows, and what is told again is still the control.
    const moved = {
      ...shot,
      base: {
        ...shot.base,
        "hand-left.rotateX": curveFrom([
          [1, 0],
          [9, 30],
          [49, 5],
        ]),
      },
    };
    expect(presentStepping(moved, moved.passes[0])).toMatchObject({ show: "control", control: "hand-left" });
    const held = played(moved, "spine.rotateX");
    const own = played(movingShot(), "spine.rotateX");
    for (const [from, to] of [
      [1, 9],
      [9, 49],
    ])
      for (let frame = from; frame < to; frame++) expect(held[frame - 1]).toBeCloseTo(own[from - 1], 9);
    const { shot: twos } = await run(stepping, shot, { pattern: "2" }, { layer: shot.passes[0].id });
    expect(twos.passes).toHaveLength(1);
    expect(presentStepping(twos, twos.passes[0])).toMatchObject({ show: "pattern", pattern: "2" });
  });

  test("off and on again the document is the same, curve for curve", async () => {
    const shot = movingShot();
    const { shot: on } = await run(stepping, shot);
    const off = withPass(on, on.passes[0].id, (pass) => ({ ...pass, on: false }));
    const again = withPass(off, on.passes[0].id, (pass) => ({ ...pass, on: true }));
    expect(again).toEqual(on);
    for (const state of [on, off, again]) expect(state.base).toBe(shot.base);
  });

  test("what is exported or saved as an action is what is seen", async () => {
    const { shot } = await run(stepping, movingShot(), { pattern: "4" });
    const action = captureClip(shot, ["spine.rotateX"], { start: 1, end: 9 });
    const shown = [1, 1, 1, 1, 5, 5, 5, 5, 9].map((frame) => sampleCurve(movingShot().base["spine.rotateX"], frame));
    shown.forEach((value, frame) => {
      expect(sampleCurve(action.curves["spine.rotateX"], frame)).toBeCloseTo(value, 9);
    });
    const { bytes } = await writeGltf(shot, true);
    const { shot: read } = await readGltf({ bytes, name: "steps" });
    const [seen, back] = [makePlayer(shot), makePlayer(read)];
    for (let frame = 1; frame <= 9; frame++) {
      seen.pose(frame);
      back.pose(frame);
      back.worlds.forEach((value, i) => {
        expect(Math.abs(value - seen.worlds[i])).toBeLessThan(1e-5);
      });
    }
  });

  test.each([
    [{ pattern: "2 x" }, /"x" is not a number of frames/],
    [{ pattern: "0" }, /"0" is not/],
    [{ pattern: " " }, /there are 0/],
    [{ show: "control" }, /no control is chosen/],
    [{ show: "control", control: "hand-right" }, /hand right has no keys/],
    [{ ride: true }, /no camera to ride along/],
  ])("%p is refused: %p", async (settings, message) => {
    await expect(run(stepping, movingShot(), settings)).rejects.toThrow(message as RegExp);
  });

  test("riding along finds root and camera, is keyed, and bakes to keys that play the same picture", async () => {
    const controls = findPartners([
      control("root", null, [0, 1, 0]),
      control("hand", "root", [0.4, 0, 0]),
      control("shot-camera", null, [0, 1, 5], { role: "camera", part: "", name: "Shot camera" }),
    ]);
    const shot = smallShot(
      {
        "root.moveX": curveFrom([
          [1, 0],
          [49, 4],
        ]),
        "hand.rotateZ": curveFrom([
          [1, 0],
          [49, 90],
        ]),
        "shot-camera.moveX": curveFrom([
          [1, 0],
          [49, 3],
        ]),
        "root.rotateY": constantCurve(20),
      },
      { rig: { id: "r", name: "R", figure: null, controls } },
    );
    const { shot: after } = await run(stepping, shot, { ride: true });
    const [pass] = after.passes;
    expect(pass.settings.rides).toEqual({ control: "root", camera: "shot-camera" });
    const keyed = keyChannels(after, pass.id, 25, { [STEPPING_RIDES]: 0 });
    expect([...keyed.passes[0].curves[STEPPING_RIDES].kindOut]).toEqual([Tangent.stepped, Tangent.stepped]);
    const { shot: baked } = await run(bakePasses, keyed, { keys: "every" });
    expect(measureDrift(keyed, baked, keyed.range).place.amount).toBeLessThan(1e-9);
    expect(baked.base["hand.rotateZ"].kindOut[0]).toBe(Tangent.stepped);
    await expect(run(stepping, shot, { ride: true, camera: "hand" })).rejects.toThrow(/moves with root/);
  });
});
