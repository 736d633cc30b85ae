import * as fc from "fast-check";
import { captureClip } from "../../src/actions/captureClip.ts";
import { constantCurve, curveFrom } from "../../src/curve/make.ts";
import { sampleCurve } from "../../src/curve/track.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import { shotFromJson, shotToJson } from "../../src/formats/schema.ts";
import type { Action } from "../../src/model/action.ts";
import { restValue } from "../../src/model/rig.ts";
import { type Shot, withPass } from "../../src/model/shot.ts";
import { layAction } from "../../src/operations/actions/layAction.ts";
import { closeAction, openAction } from "../../src/operations/actions/openAction.ts";
import { ownAction } from "../../src/operations/actions/ownAction.ts";
import { playToKeys } from "../../src/operations/actions/playToKeys.ts";
import { changeBand } from "../../src/operations/hand/changeBand.ts";
import { retime } from "../../src/operations/timing/retime.ts";
import { WHOLE_FIGURE } from "../../src/operations/operation.ts";
import { checkPasses } from "../../src/passes/checkPasses.ts";
import { anyCurve } from "../help/random.ts";
import { run } from "../help/run.ts";
import { movingShot } from "../help/shots.ts";

const cardOf = (name: string) => ({ id: name, name, notes: "", tags: [], folder: "", savedAt: 0 });
const action: Action = { card: cardOf("Sway"), clip: captureClip(movingShot(), Object.keys(movingShot().base), { start: 1, end: 25 }) };

const valuesAt = (shot: Shot, frame: number): Record<string, number> => {
  const player = makePlayer(shot);
  player.readValues(frame);
  return Object.fromEntries(Object.keys(shot.base).map((key) => [key, player.values[player.channelIndex.get(key) as number]]));
};
const quarters = (from: number, to: number) => Array.from({ length: Math.round((to - from) * 4) + 1 }, (_, n) => from + n / 4);
const differ = (a: Record<string, number>, b: Record<string, number>) =>
  Math.max(...Object.keys(a).map((key) => Math.abs(a[key] - b[key])));
const laidAsPass = async (told: object = {}, shot = movingShot()) =>
  (await run(layAction, shot, { action, at: 5, as: "pass", ...told })).shot;
const change = (shot: Shot, id: string, to: object) =>
  changeBand.run(shot, WHOLE_FIGURE, changeBand.settings.parse({ pass: id, to }) as never).shot;

/** Told by hand of what a band should have at a frame: which round it is in, and where in it. */
function expected(
  shot: Shot,
  key: string,
  frame: number,
  told: { start: number; from: number; to: number; speed: number; rounds: number; joins: string },
): number {
  const curve = action.clip.curves[key];
  const below = sampleCurve(shot.base[key], frame);
  const period = (told.to - told.from) * (100 / told.speed);
  const end = told.start + period * told.rounds;
  if (frame < told.start - 1e-12 || frame > end + 1e-12) return below;
  // A seam belongs to the round before it.
  const round = Math.min(told.rounds - 1, Math.max(0, Math.ceil((frame - told.start) / period - 1e-9) - 1));
  const into = told.from + (frame - told.start - round * period) * (told.speed / 100);
  const value = sampleCurve(curve, Math.min(told.to, into));
  const travels = key === "root.moveX" ? round * (sampleCurve(curve, told.to) - sampleCurve(curve, told.from)) : 0;
  if (told.joins === "replaces") return value + travels;
  const zero = told.joins === "rest" ? restValue(key.slice(key.lastIndexOf(".") + 1)) : sampleCurve(curve, told.from);
  return below + value + travels - zero;
}

describe("an action played by a pass", () => {
  // The heading goes its own way here, so that places can be told by hand; turning ways are told below.
  const straight = { ...action, clip: { ...action.clip, curves: { ...action.clip.curves, "root.rotateY": constantCurve(20) } } };

  test("is what its keys say, moved, trimmed, sped up, repeated with travel, added or in place of what is below", async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.record({
          start: fc.integer({ min: -4, max: 20 }),
          from: fc.integer({ min: 0, max: 8 }),
          length: fc.integer({ min: 4, max: 16 }),
          speed: fc.constantFrom(50, 80, 100, 160, 400),
          rounds: fc.integer({ min: 1, max: 4 }),
          joins: fc.constantFrom("replaces", "first", "rest"),
        }),
        async ({ length, ...told }) => {
          const plain = movingShot();
          const { shot } = await run(layAction, plain, { action: straight, at: 5, as: "pass" });
          const to = told.from + length;
          const played = change(shot, shot.passes[0].id, { ...told, to });
          for (const frame of quarters(1, 49)) {
            const is = valuesAt(played, frame);
            for (const key of Object.keys(plain.base)) {
              if (key === "root.rotateY") continue;
              expect(is[key]).toBeCloseTo(expected(plain, key, frame, { ...told, to }), 8);
            }
          }
        },
      ),
      { numRuns: 25 },
    );
  });

  test("turned into keys is the same to the last bit, whatever it is told, also where its weight and eases are", async () => {
    for (const told of [
      {},
      { speed: 60, rounds: 3 },
      { rounds: 2, joins: "first", easeIn: 6, easeOut: 4 },
      { joins: "rest", members: "all", mirrored: true },
      { carry: true, rounds: 3 },
    ]) {
      const shot = withPass(await laidAsPass(told), (await laidAsPass(told)).passes[0]?.id ?? "", (pass) => pass);
      const id = shot.passes[0].id;
      const dialled = withPass(shot, id, (pass) => ({
        ...pass,
        weight: curveFrom([
          [1, 0.4],
          [30, 1.2],
        ]),
      }));
      const { shot: keyed } = await run(playToKeys, dialled, {}, { layer: id });
      expect(keyed.actions).toEqual([]);
      for (const frame of quarters(1, dialled.range.end)) expect(differ(valuesAt(keyed, frame), valuesAt(dialled, frame))).toBe(0);
      const { shot: baked } = await run(playToKeys, dialled, { rounds: "keys" }, { layer: id });
      // Rounds as keys jump over the frame beside a seam, so whole frames are compared.
      for (let frame = 1; frame <= dialled.range.end; frame++)
        expect(differ(valuesAt(baked, frame), valuesAt(dialled, frame))).toBeLessThan(1e-9);
    }
  });

  test("on curves by chance, keys between frames and all kinds of tangents among them", async () => {
    await fc.assert(
      fc.asyncProperty(anyCurve, fc.integer({ min: 10, max: 300 }), fc.integer({ min: 1, max: 3 }), async (curve, speed, rounds) => {
        const first = curve.times[0];
        const length = curve.times[curve.times.length - 1] - first;
        const own = { ...curve, times: curve.times.map((time) => time - first) };
        const clip = { ...action.clip, length, curves: { "spine.rotateX": own } };
        const { shot } = await run(layAction, movingShot(), { action: { ...action, clip }, at: 2, as: "pass", speed, rounds });
        const player = makePlayer(shot);
        const at = player.channelIndex.get("spine.rotateX") as number;
        const stretch = 100 / speed;
        for (const u of [0, 0.13, 0.5, 0.77, 0.999]) {
          player.readValues(2 + u * length * stretch);
          expect(Math.abs(player.values[at] - sampleCurve(own, u * length))).toBeLessThan(1e-9 * (1 + Math.abs(player.values[at])) * 100);
        }
      }),
      { numRuns: 60 },
    );
  });

  test("on the way round a bend each round goes on from the last, place and heading: turned as a rigid figure is", async () => {
    const shot = await laidAsPass({ at: 1, rounds: 3, action });
    const at = (frame: number) => {
      const { "root.moveX": x, "root.rotateY": heading } = valuesAt(shot, frame);
      const player = makePlayer(shot);
      player.readValues(frame);
      return { x, z: player.values[player.channelIndex.get("root.moveZ") as number], heading };
    };
    const [a, b, c] = [at(1), at(25), at(49)];
    expect(b.heading - a.heading).toBeCloseTo(c.heading - b.heading, 9);
    const radians = ((b.heading - a.heading) * Math.PI) / 180;
    const [x, z] = [b.x - a.x, b.z - a.z];
    // A step along +X of one who has turned by an angle about the vertical goes cos along X and −sin along Z.
    if (Object.keys(action.clip.curves).includes("root.moveZ"))
      expect(c.z - b.z).toBeCloseTo(-Math.sin(radians) * x + Math.cos(radians) * z, 9);
    expect(c.x - b.x).toBeCloseTo("root.moveZ" in action.clip.curves ? Math.cos(radians) * x + Math.sin(radians) * z : x, 9);
  });

  test("laid while another band is chosen it is laid on the figure", async () => {
    const shot = await laidAsPass();
    const { shot: after } = await run(layAction, shot, { action, at: 30, as: "pass" }, { layer: shot.passes[0].id });
    expect(after.passes).toHaveLength(2);
  });

  test("only the upper body is asked for where there is one; without, it is said", async () => {
    await expect(laidAsPass({ members: "upper" })).rejects.toThrow(/no upper body was found/);
  });
});

describe("bands", () => {
  test("of a row cross over where they overlap: of two that replace there is always all of one or the other", async () => {
    let shot = await laidAsPass({ at: 1 });
    const other: Action = { ...action, card: cardOf("Nod"), clip: { ...action.clip, curves: { "spine.rotateX": constantCurve(50) } } };
    shot = (await run(layAction, shot, { action: other, at: 20, as: "pass" })).shot;
    const [a, b] = shot.passes.map(({ id }) => id);
    shot = change(change(shot, a, { row: "r" }), b, { row: "r" });
    expect(shot.passes[1].range).toEqual({ start: 20, end: 44, easeIn: 5, easeOut: 0 });
    const own = action.clip.curves["spine.rotateX"];
    for (const frame of quarters(20, 25)) {
      const x = (frame - 20) / 5;
      const w = x * x * (3 - 2 * x);
      expect(valuesAt(shot, frame)["spine.rotateX"]).toBeCloseTo((1 - w) * sampleCurve(own, frame - 1) + w * 50, 9);
    }
    // Drawn apart again, nothing is left of it.
    shot = change(shot, b, { start: 30 });
    expect(shot.passes[1].range).toMatchObject({ start: 30, easeIn: 0 });
  });

  test("of a row that add come and go together", async () => {
    const still: Action = { ...action, card: cardOf("Lean"), clip: { ...action.clip, curves: { "spine.rotateX": constantCurve(10) } } };
    let shot = (await run(layAction, movingShot(), { action: still, at: 1, as: "pass", joins: "rest" })).shot;
    shot = (await run(layAction, shot, { action: still, at: 17, as: "pass", joins: "rest" })).shot;
    for (const { id } of shot.passes) shot = change(shot, id, { row: "r" });
    for (const frame of quarters(1, 41))
      expect(valuesAt(shot, frame)["spine.rotateX"] - valuesAt(movingShot(), frame)["spine.rotateX"]).toBeCloseTo(10, 9);
  });

  test("go along when the shot is retimed, slower by as much", async () => {
    const shot = await laidAsPass();
    const twice = retime(
      shot,
      WHOLE_FIGURE,
      Object.keys(shot.base),
      (curve) => ({ ...curve, times: curve.times.map((t) => 2 * t) }),
      (frame) => 2 * frame,
    );
    expect(twice.passes[0].settings).toMatchObject({ start: 10, speed: 50 });
    expect(twice.passes[0].range).toMatchObject({ start: 10, end: 58 });
  });
});

describe("the shot's own copy", () => {
  test("is shared by passes that play the same, goes through a file, and goes with the last of them", async () => {
    let shot = await laidAsPass({ at: 1 });
    shot = await laidAsPass({ at: 30, carry: true }, shot);
    expect(shot.actions).toHaveLength(1);
    const back = shotFromJson(JSON.parse(JSON.stringify(shotToJson(shot))));
    for (const frame of quarters(1, 54)) expect(differ(valuesAt(back, frame), valuesAt(shot, frame))).toBeLessThan(1e-12);
    const without = { ...shot, passes: shot.passes.slice(0, 1) };
    expect(checkPasses(shot, without).actions).toHaveLength(1);
    expect(checkPasses(shot, { ...shot, passes: [] }).actions).toEqual([]);
    const file = JSON.parse(JSON.stringify(shotToJson({ ...shot, actions: [] })));
    expect(() => shotFromJson(file)).not.toThrow();
  });

  test("opened, changed and closed changes wherever it plays; one that was made its own does not", async () => {
    let shot = await laidAsPass({ at: 1, carry: true });
    shot = await laidAsPass({ at: 26, carry: true, speed: 50 }, shot);
    shot = await laidAsPass({ at: 26, joins: "first" }, shot);
    const [a, b, c] = shot.passes.map(({ id }) => id);
    shot = (await run(ownAction, shot, {}, { layer: c })).shot;
    const closedAgain = async (open: Shot) => (await run(closeAction, open, {}, { layer: open.passes.at(-1)?.id })).shot;
    const opened = (await run(openAction, shot, {}, { layer: b })).shot;
    expect(opened.passes.filter(({ on }) => on).map(({ name }) => name)).toEqual([shot.passes[2].name, "Sway, open"]);
    const unchanged = await closedAgain(opened);
    for (const frame of quarters(1, 74)) expect(differ(valuesAt(unchanged, frame), valuesAt(shot, frame))).toBeLessThan(1e-9);
    const raised = withPass(opened, opened.passes.at(-1)?.id as string, (pass) => ({
      ...pass,
      curves: {
        ...pass.curves,
        "spine.rotateX": { ...pass.curves["spine.rotateX"], values: pass.curves["spine.rotateX"].values.map((v) => v + 7) },
      },
    }));
    const after = await closedAgain(raised);
    for (const [id, frame] of [
      [a, 10],
      [b, 40],
    ] as const) {
      const alone = (s: Shot) => valuesAt({ ...s, passes: s.passes.filter((pass) => pass.id === id) }, frame)["spine.rotateX"];
      expect(alone(after) - alone(shot)).toBeCloseTo(7, 9);
    }
    const own = (s: Shot) => valuesAt({ ...s, passes: s.passes.filter((pass) => pass.id === c) }, 40)["spine.rotateX"];
    expect(own(after)).toBe(own(shot));
  });
});
