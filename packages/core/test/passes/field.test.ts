import * as fc from "fast-check";
import reference from "../../../../reference/rotations.json";
import { halfAWalk } from "../../../demo/src/shots/halfAWalk.ts";
import { curveFrom } from "../../src/curve/make.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import { makePoseBlender, type Spot, spotWeights } from "../../src/figure/poseBlend.ts";
import { readShot } from "../../src/formats/formats.ts";
import { shotToJson } from "../../src/formats/schema.ts";
import { meanTurn } from "../../src/maths/meanTurn.ts";
import { quatAngle } from "../../src/maths/rotation.ts";
import type { Curves, Pass, Shot } from "../../src/model/shot.ts";
import { operations } from "../../src/operations/catalogue.ts";
import { type Scope, WHOLE_FIGURE } from "../../src/operations/operation.ts";
import { placeOnField, poseOfFrame } from "../../src/operations/passes/poseField.ts";
import type { PoseField } from "../../src/passes/field.ts";
import { checkPasses } from "../../src/passes/checkPasses.ts";
import { someTimes } from "../help/random.ts";
import { run } from "../help/run.ts";
import { movingShot } from "../help/shots.ts";

const { poseField, bakePasses, scaleRig } = operations;

const frames = [1, 13, 25, 49];
const posesOf = (shot: Shot) =>
  frames.map((frame, n) => ({ id: `p${n}`, name: `Frame ${frame}`, ...placeOnField(n, frames.length), values: poseOfFrame(shot, frame) }));
const fieldOf = (shot: Shot, spot: Spot = { x: 0.5, y: 0.5 }) => ({ field: { poses: posesOf(shot), spot } });

/** A shot with a field pass; the spot goes along these keys. */
async function withField(
  shot: Shot,
  path: readonly (readonly [number, number, number])[] = [],
  settings: object = {},
  scope: Partial<Scope> = {},
): Promise<{ shot: Shot; pass: Pass }> {
  const { shot: made } = await run(poseField, shot, { ...fieldOf(shot), ...settings }, scope);
  const pass = made.passes[made.passes.length - 1];
  const curves: Curves =
    path.length > 0 ? { "Field.x": curveFrom(path.map(([t, x]) => [t, x])), "Field.y": curveFrom(path.map(([t, , y]) => [t, y])) } : {};
  const moved = { ...pass, curves };
  return { shot: { ...made, passes: made.passes.map((one) => (one === pass ? moved : one)) }, pass: moved };
}

const valuesAt = (shot: Shot, frame: number) => {
  const player = makePlayer(shot);
  player.readValues(frame);
  return Object.fromEntries([...player.channelIndex].map(([key, i]) => [key, player.values[i]]));
};

describe("how much each pose counts", () => {
  const spot = fc.record({ x: fc.double({ min: -3, max: 4, noNaN: true }), y: fc.double({ min: -3, max: 4, noNaN: true }) });
  const places = fc.uniqueArray(fc.tuple(fc.integer({ min: 0, max: 20 }), fc.integer({ min: 0, max: 20 })), {
    minLength: 2,
    maxLength: 9,
    selector: String,
  });

  test("never less than nothing, together 1, at a place that one alone", () => {
    fc.assert(
      fc.property(places, spot, (list, at) => {
        const spots = list.map(([x, y]) => ({ x: x / 20, y: y / 20 }));
        const weights = spotWeights(spots, at);
        expect(Math.min(...weights)).toBeGreaterThanOrEqual(0);
        expect(weights.reduce((sum, weight) => sum + weight, 0)).toBeCloseTo(1, 12);
        for (const [i, place] of spots.entries()) expect([...spotWeights(spots, place)]).toEqual(spots.map((_, n) => (n === i ? 1 : 0)));
      }),
    );
  });

  test("Shepard's formula by hand: at distances 1 and 2 four to one", () => {
    expect(
      [
        ...spotWeights(
          [
            { x: 0, y: 0 },
            { x: 3, y: 0 },
          ],
          { x: 1, y: 0 },
        ),
      ].map((weight) => Math.round(weight * 1e12) / 1e12),
    ).toEqual([0.8, 0.2]);
  });

  test("smooth: a small step of the spot changes little, also close to a pose", () => {
    fc.assert(
      fc.property(places, spot, fc.double({ min: 0, max: 6.3, noNaN: true }), (list, at, way) => {
        const spots = list.map(([x, y]) => ({ x: x / 20, y: y / 20 }));
        const next = { x: at.x + 1e-6 * Math.cos(way), y: at.y + 1e-6 * Math.sin(way) };
        const [a, b] = [spotWeights(spots, at), spotWeights(spots, next)];
        for (let i = 0; i < a.length; i++) expect(Math.abs(a[i] - b[i])).toBeLessThan(1e-3);
      }),
    );
  });
});

// SciPy's Rotation.mean solves the same problem with an eigensolver.
test.each(reference.means)("the weighted mean of turns as SciPy has it", ({ turns, weights, expected }) => {
  const mean = [0, 0, 0, 1];
  meanTurn(mean, 0, turns.flat(), weights, weights.length);
  expect(quatAngle(mean, 0, expected, 0)).toBeLessThan(1e-6);
  // Which of ±q stands for a turn makes no difference.
  meanTurn(
    mean,
    0,
    turns.flatMap((turn, n) => turn.map((value) => (n % 2 ? -value : value))),
    weights,
    weights.length,
  );
  expect(quatAngle(mean, 0, expected, 0)).toBeLessThan(1e-6);
});

describe("a pose field", () => {
  test("at the place of a pose it is that pose, to the last bit, also on the way through", async () => {
    const shot = movingShot();
    const poses = posesOf(shot);
    for (const [n, pose] of poses.entries()) {
      const { shot: after } = await withField(shot, [], fieldOf(shot, { x: pose.x, y: pose.y }));
      const got = valuesAt(after, 30);
      for (const key of Object.keys(pose.values).filter((one) => !one.startsWith("root.")))
        expect([key, got[key]]).toEqual([key, pose.values[key]]);
      const path = poses.map(({ x, y }, i) => [1 + 10 * i, x, y] as const);
      const moved = await withField(shot, path);
      const there = valuesAt(moved.shot, 1 + 10 * n);
      for (const key of Object.keys(pose.values).filter((one) => !one.startsWith("root.")))
        expect([key, there[key]]).toEqual([key, pose.values[key]]);
    }
  });

  test("between them nothing goes outside what they span, unless a longer reach is asked for", async () => {
    const shot = movingShot();
    const poses = posesOf(shot);
    const key = "arm-left.rotateZ";
    const span = [Math.min(...poses.map(({ values }) => values[key])), Math.max(...poses.map(({ values }) => values[key]))];
    const { shot: after } = await withField(shot, [
      [1, 0, 0],
      [20, 1.4, 0.2],
      [49, 0.3, 1],
    ]);
    for (let frame = 1; frame <= 49; frame++) {
      const value = valuesAt(after, frame)[key];
      expect(value).toBeGreaterThanOrEqual(span[0] - 1e-9);
      expect(value).toBeLessThanOrEqual(span[1] + 1e-9);
    }
    const far = await withField(shot, [], { ...fieldOf(shot, { x: poses[2].x, y: poses[2].y }), reach: 150 });
    expect(valuesAt(far.shot, 1)[key]).toBeGreaterThan(span[1]);
  });

  test("the figure is not carried back: what travels is left out; only picked parts are moved, only in the range", async () => {
    const shot = movingShot();
    const { shot: after, pass } = await withField(shot);
    expect(pass.members?.some((key) => key.startsWith("root."))).toBe(false);
    expect(valuesAt(after, 40)["root.moveX"]).toBe(valuesAt(shot, 40)["root.moveX"]);
    const part = await withField(shot, [], {}, { controls: ["arm-left"], range: { start: 10, end: 20 } });
    expect(valuesAt(part.shot, 15)["spine.rotateX"]).toBe(valuesAt(shot, 15)["spine.rotateX"]);
    expect(valuesAt(part.shot, 15)["arm-left.rotateZ"]).not.toBeCloseTo(valuesAt(shot, 15)["arm-left.rotateZ"], 3);
    expect(valuesAt(part.shot, 30)["arm-left.rotateZ"]).toBe(valuesAt(shot, 30)["arm-left.rotateZ"]);
  });

  test("adding: at the first pose nothing changes, at another the difference comes on top", async () => {
    const shot = movingShot();
    const poses = posesOf(shot);
    const none = await withField(shot, [], { ...fieldOf(shot, { x: poses[0].x, y: poses[0].y }), adds: true });
    expect(valuesAt(none.shot, 30)["arm-left.rotateZ"]).toBeCloseTo(valuesAt(shot, 30)["arm-left.rotateZ"], 9);
    const more = await withField(shot, [], { ...fieldOf(shot, { x: poses[2].x, y: poses[2].y }), adds: true });
    const by = poses[2].values["arm-left.rotateZ"] - poses[0].values["arm-left.rotateZ"];
    expect(valuesAt(more.shot, 30)["arm-left.rotateZ"]).toBeCloseTo(valuesAt(shot, 30)["arm-left.rotateZ"] + by, 9);
  });

  test.each([false, true])("merged into keys it plays the same within 1e-9, between frames too (adds: %s)", async (adds) => {
    const shot = movingShot();
    const { shot: field } = await withField(
      shot,
      [
        [1, 0, 0],
        [14, 0.9, 0.1],
        [30, 0.4, 0.8],
        [49, 1, 1],
      ],
      { adds },
    );
    const { shot: keys } = await run(bakePasses, field, { where: "base", keys: "every" });
    expect(keys.passes).toEqual([]);
    const [was, is] = [makePlayer(field), makePlayer(keys)];
    for (const time of [...someTimes(1, 49, 20).map(Math.round), 1, 49]) {
      was.pose(time);
      is.pose(time);
      was.worlds.forEach((value, i) => {
        if (Math.abs(is.worlds[i] - value) > 1e-9) throw new Error(`frame ${time}: ${is.worlds[i]} is not ${value}`);
      });
    }
  });
});

describe("a pose field as a thing of its own", () => {
  test("the pass is kept in files, and grows with the rig", async () => {
    const { shot } = await withField(await halfAWalk());
    const bytes = new TextEncoder().encode(JSON.stringify(shotToJson(shot)));
    const { shot: read } = await readShot(bytes, "field.json");
    expect(read.passes[0].settings).toEqual(shot.passes[0].settings);
    const { shot: grown } = await run(scaleRig, shot, { factor: 2 });
    const moves = (from: Shot) =>
      (from.passes[0].settings.field as { poses: { values: Record<string, number> }[] }).poses[1].values["hips.moveY"];
    expect(moves(grown)).toBeCloseTo(2 * moves(shot), 12);
  });

  test("one pose, two at one place, a pose of another rig: refused, and said", async () => {
    const shot = movingShot();
    const [a, b, ...others] = posesOf(shot);
    const spot = { x: 0.5, y: 0.5 };
    await expect(run(poseField, shot, { field: { poses: [a], spot } })).rejects.toThrow(/two poses at least, and it has one/);
    await expect(run(poseField, shot, { field: { poses: [a, { ...b, x: a.x, y: a.y }], spot } })).rejects.toThrow(
      '"Frame 1" and "Frame 13" lie at one place',
    );
    await expect(run(poseField, shot, { field: { poses: [a, b, { ...others[0], values: { "wing.flap": 1 } }], spot } })).rejects.toThrow(
      /"Frame 25" is a pose of another rig/,
    );
    const { shot: after, pass } = await withField(shot);
    const broken = { ...after, passes: [{ ...pass, settings: { ...pass.settings, field: { poses: [a], spot } } }] };
    expect(() => checkPasses(after, broken)).toThrow(/two poses at least/);
    const json = JSON.stringify(shotToJson(broken));
    await expect(readShot(new TextEncoder().encode(json), "broken.json")).rejects.toThrow(/two poses at least/);
  });

  test("with a field chosen it is shaped anew; without picked poses some of the key poses are proposed", async () => {
    const shot = movingShot();
    const { shot: after, pass } = await withField(shot, [[1, 0.2, 0.2]]);
    const { shot: shaped } = await run(poseField, after, { ...fieldOf(shot, { x: 0, y: 0 }), reach: 120 }, { layer: pass.id });
    expect(shaped.passes).toHaveLength(1);
    expect(shaped.passes[0].settings.reach).toBe(120);
    expect(shaped.passes[0].curves).toBe(after.passes[0].curves);
    const at = { shot, scope: WHOLE_FIGURE, frame: 1, copiedPose: null, copiedKeys: null, poseShare: 0.5 };
    const proposed = poseField.situation?.(at) as { field: PoseField };
    expect(proposed.field.poses.length).toBeGreaterThanOrEqual(2);
    expect(poseField.situation?.({ ...at, pickedPoses: [25, 13] })).toMatchObject({
      field: { poses: [{ name: "Frame 13" }, { name: "Frame 25" }] },
    });
  });
});

test("a turn beyond a round stays one in a blend: angles lie near the mean of the angles", () => {
  const { rig } = movingShot();
  const blender = makePoseBlender(
    rig,
    [{ "spine.rotateY": 350 }, { "spine.rotateY": 370 }],
    ["spine.rotateX", "spine.rotateY", "spine.rotateZ"],
  );
  expect(blender.blend([0.5, 0.5], 1, new Float64Array(3))[1]).toBeCloseTo(360, 9);
});
