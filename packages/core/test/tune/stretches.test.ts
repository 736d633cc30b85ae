import { halfAWalk } from "../../../demo/src/shots/halfAWalk.ts";
import { type Curve, Tangent } from "../../src/curve/curve.ts";
import { clipCurve } from "../../src/curve/edit.ts";
import { sampleCurve } from "../../src/curve/track.ts";
import { measureDrift } from "../../src/evaluate/drift.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import { sizeOf } from "../../src/figure/sides.ts";
import { atOnce } from "../../src/inPieces.ts";
import { layerCurves, type Shot } from "../../src/model/shot.ts";
import { makePass } from "../../src/model/shotFields.ts";
import { asDegree, type Closeness } from "../../src/tune/closeness.ts";
import { costs } from "../../src/tune/costs/costs.ts";
import { judgedBy, motionOf, strainOf } from "../../src/tune/judged.ts";
import type { Movable } from "../../src/tune/keyVariables.ts";
import { makeObjective } from "../../src/tune/objective.ts";
import { makeLongTuning } from "../../src/tune/longTuning.ts";
import { cutOut, stretchesOf } from "../../src/tune/stretches.ts";
import { makeTuning, type Told, type Tuned, type Tuning, withMoved } from "../../src/tune/tuning.ts";
import { captureShot } from "../help/capture.ts";
import { Chance } from "../help/chance.ts";
import { run } from "../help/promises.ts";
import { someTimes } from "../help/random.ts";
import { shaken } from "../help/tuned.ts";

/** Short ones, so that a test has several. */
const SIZES = { long: 100, stretch: 70 };

/** The legs and the trunk of a capture over its first frames, a key on each or on every third, with tangents of any kind. */
async function captured(every: number): Promise<Shot> {
  const whole = captureShot();
  const kept = Object.entries(whole.base).filter(([key]) => /^(Hips|Spine|LeftUpLeg|LeftLeg|RightUpLeg)\./.test(key));
  const base = Object.fromEntries(kept.map(([key, curve]) => [key, curve.times.length > 1 ? clipCurve(curve, 1, 280) : curve]));
  const shot: Shot = { ...whole, rate: { num: 30, den: 1 }, base, range: { start: 1, end: 280 } };
  if (every === 1) return shot;
  const { shot: sparse } = await run("resample", shot, { every, kind: "auto" });
  return shaken(sparse, new Chance(7), 1);
}

function tunedOf(shot: Shot, isPicked: (time: number) => boolean = () => true): Tuned {
  const size = sizeOf(shot.rig);
  const movables = Object.entries(shot.base).flatMap(([key, curve]): Movable[] => {
    if (curve.values.every((value) => value === curve.values[0])) return [];
    return [{ key, curve, keys: [...curve.times.keys()].filter((i) => isPicked(curve.times[i])), degree: asDegree(key, size) }];
  });
  return { shot, layer: "base", movables, parts: { slopes: true, times: false, cyclic: false } };
}

const closely = (all: number, more: Partial<Closeness> = {}): Closeness => ({ all, parts: {}, painted: [], pinned: [], ...more });
const WEIGHTS = { jerk: 1, feet: 1, arc: 0.5 };
const judgedOf = ({ range, ...shot }: Shot) => judgedBy({ range, ...shot }, costs, range.start, range.end - range.start + 1);

/** Tuned to its end, or for so many steps. */
function tuned(tuning: Tuning, { shot, movables }: Tuned, steps = Number.POSITIVE_INFINITY): Shot {
  for (let n = 0; n < steps && atOnce(tuning.step()); n++);
  return withMoved(shot, "base", movables, tuning.held());
}

function inStretches(given: Tuned, told: Told): Tuning {
  const stretches = stretchesOf(given.shot, given.movables, given.shot.range, SIZES);
  if (!stretches) throw new Error("not in stretches");
  expect(stretches.length).toBeGreaterThan(2);
  const judged = judgedOf(given.shot);
  return makeLongTuning(given, stretches, judged, (n) => strainOf(judged, n, judged.motion), told);
}

/** The strain by the costs that count, each by its weight. */
function strain(before: Shot, shot: Shot, weights: Readonly<Record<string, number>> = WEIGHTS): number {
  const judged = judgedOf(before);
  const motion = motionOf(shot, judged.subject);
  return judged.costs.reduce((sum, { id }, n) => sum + (weights[id] ? weights[id] * strainOf(judged, n, motion).value : 0), 0);
}

describe.each([1, 3])("a capture with a key on every frame or third one, in stretches (%i)", (every) => {
  test("gets about as good as it does as a whole, and stays on its leash at every quarter of a frame", async () => {
    const given = tunedOf(await captured(every));
    const told: Told = { closeness: closely(2), weights: WEIGHTS, steps: 60 };
    const whole = tuned(makeTuning(given, judgedOf(given.shot), told), given);
    const parts = tuned(inStretches(given, told), given);
    const [first, one, several] = [given.shot, whole, parts].map((shot) => strain(given.shot, shot));
    expect(one).toBeLessThan(0.8 * first);
    expect(first - several).toBeGreaterThan(0.85 * (first - one));
    const { turn } = measureDrift(given.shot, parts, given.shot.range, { step: 0.25 });
    expect(turn.amount).toBeLessThanOrEqual(5 + 1e-6);
  });

  test("a stretch by itself plays as the whole does wherever it is looked at, in base motion and in a pass", async () => {
    const given = tunedOf(await captured(every));
    const curves = given.movables.map(({ curve }) => curve);
    const { base } = given.shot;
    const inPass: Shot = { ...given.shot, base: {}, passes: [makePass("over", "Over", "adds", base)] };
    for (const [shot, layer] of [
      [given.shot, "base"],
      [inPass, "over"],
    ] as const)
      for (const stretch of stretchesOf(shot, given.movables, shot.range, SIZES) ?? []) {
        const { start, end } = stretch.seen;
        const cut = cutOut(shot, layer, given.movables, curves, stretch);
        expect(layerCurves(cut.shot, layer)["Hips.rotateX"].times.length).toBeLessThan(base["Hips.rotateX"].times.length);
        const [is, was] = [makePlayer(cut.shot), makePlayer(shot)];
        for (const time of [...someTimes(start, end, 40, 3), start, end]) {
          is.pose(time);
          was.pose(time);
          expect(Math.max(...is.worlds.map((one, k) => Math.abs(one - was.worlds[k])))).toBeLessThan(1e-9);
        }
      }
  });
});

test("the strain of a part changes with its keys as is told, feet that stand into it from outside among it", async () => {
  const given = tunedOf(await captured(3));
  const chance = new Chance(11);
  const whole = judgedOf(given.shot);
  const curves = given.movables.map(({ curve }) => curve);
  let wasBeyond = false;
  for (const stretch of stretchesOf(given.shot, given.movables, given.shot.range, SIZES) ?? []) {
    const { start, end } = stretch.seen;
    const cut = cutOut(given.shot, "base", given.movables, curves, stretch);
    const feet = costs.filter(({ id }) => id === "feet");
    const judged = judgedBy(cut.shot, feet, start, end - start + 1, whole);
    const alone = judgedBy(cut.shot, feet, start, end - start + 1);
    const value = (one: typeof judged) => (one.costs.length > 0 ? strainOf(one, 0, one.motion).value : 0);
    if (Math.abs(value(judged) - value(alone)) > 1e-6) wasBeyond = true;
    if (judged.costs.length === 0) continue;
    const { variables, strain: strainAt } = makeObjective(cut.shot, "base", cut.movables, judged, given.parts);
    const [x, way] = [0.3, 1].map((size) => Float64Array.from({ length: variables.length }, () => chance.between(-size, size)));
    const slope = new Float64Array(variables.length);
    atOnce(strainAt(x, [1], slope));
    const [more, less] = [1e-4, -1e-4].map((by) =>
      atOnce(
        strainAt(
          x.map((one, v) => one + by * way[v]),
          [1],
          null,
        ),
      ),
    );
    const told = slope.reduce((sum, one, v) => sum + one * way[v], 0);
    expect(Math.abs((more - less) / 2e-4 - told)).toBeLessThan(1e-5 * (1 + Math.abs(told)));
  }
  expect(wasBeyond).toBe(true);
});

test("keys that are not picked, pinned poses and painted frames keep what they are promised; kinds and times stay", async () => {
  const shot = await captured(3);
  const given = tunedOf(shot, (time) => time >= 60);
  const painted = [{ start: 120, end: 150, closeness: 200 }];
  const after = tuned(inStretches(given, { closeness: closely(1, { painted, pinned: [100, 211] }), weights: WEIGHTS, steps: 12 }), given);
  const drift = measureDrift(shot, after, shot.range);
  expect(drift.turn.amount).toBeGreaterThan(0.5);
  for (const frame of [100, 211]) expect(drift.turnPerFrame[frame - 1]).toBe(0);
  for (let frame = 120; frame <= 150; frame++) expect(drift.turnPerFrame[frame - 1]).toBeLessThanOrEqual(0.05 + 1e-6);
  for (const { key, curve } of given.movables) {
    const is = after.base[key];
    expect([is.times, is.kindIn, is.kindOut]).toEqual([curve.times, curve.kindIn, curve.kindOut]);
    const count = curve.times.filter((time) => time < 60).length;
    expect(is.values.subarray(0, count)).toEqual(curve.values.subarray(0, count));
  }
});

test("in a marked range only its keys move, and the leash holds past its ends", async () => {
  const shot = await captured(3);
  const marked = { start: 60, end: 220 };
  const given = tunedOf(shot, (time) => time >= marked.start && time <= marked.end);
  const stretches = stretchesOf(shot, given.movables, marked, SIZES) ?? [];
  expect(stretches.length).toBeGreaterThan(2);
  const judged = judgedBy(shot, costs, marked.start, marked.end - marked.start + 1);
  const told: Told = { closeness: closely(4), weights: WEIGHTS, steps: 12 };
  const after = tuned(
    makeLongTuning(given, stretches, judged, (n) => strainOf(judged, n, judged.motion), told),
    given,
  );
  const { turn, turnPerFrame } = measureDrift(shot, after, shot.range, { step: 0.25 });
  expect(turn.amount).toBeGreaterThan(0.3);
  expect(turn.amount).toBeLessThanOrEqual(2.5 + 1e-6);
  expect(Math.max(...turnPerFrame.subarray(0, 50), ...turnPerFrame.subarray(232))).toBe(0);
});

test("told otherwise on the way it goes on from there: nearer where it is to be nearer, in every stretch", async () => {
  const given = tunedOf(await captured(1));
  const told: Told = { closeness: closely(1), weights: WEIGHTS, steps: 25 };
  const tuning = inStretches(given, told);
  const far = tuned(tuning, given, 45);
  expect(tuning.left()).toMatch(/^So long a shot is tuned in stretches of frames, .*: \d of 4 ha(s|ve) not had a turn so far\.$/);
  expect(tuning.share).toBeGreaterThan(0.3);
  expect(measureDrift(given.shot, far, given.shot.range).turn.amount).toBeGreaterThan(0.2);
  tuning.steer({ ...told, closeness: closely(50) });
  const near = tuned(tuning, given);
  expect(measureDrift(given.shot, near, given.shot.range).turn.amount).toBeLessThanOrEqual(0.2 + 1e-6);
  expect(strain(given.shot, near)).toBeLessThan(strain(given.shot, given.shot));
  expect([tuning.share, tuning.left()]).toEqual([1, null]);
});

test("with every key pinned nothing can move", async () => {
  const given = tunedOf(await captured(1));
  const pinned = Array.from({ length: 280 }, (_, n) => n + 1);
  expect(inStretches(given, { closeness: closely(2, { pinned }), weights: WEIGHTS, steps: 5 }).canMove()).toBe(false);
});

describe("a long shot is tuned as a whole", () => {
  const stretchesIn = (shot: Shot, sizes = SIZES) => stretchesOf(shot, tunedOf(shot).movables, shot.range, sizes);

  test("where it is a cycle, has few keys, rounds, or passes that read other frames", async () => {
    const shot = await captured(1);
    expect(stretchesIn(shot)).not.toBeNull();
    expect(stretchesIn(shot, { long: 280, stretch: 70 })).toBeNull();
    expect(stretchesIn({ ...shot, cyclic: true })).toBeNull();
    expect(stretchesIn({ ...shot, passes: [makePass("a", "Late", "lag")] })).toBeNull();
    const [key, curve] = Object.entries(shot.base).find(([, { values }]) => values[0] !== values[9]) as [string, Curve];
    expect(stretchesIn({ ...shot, base: { ...shot.base, [key]: { ...curve, runOut: { kind: "repeat", rounds: 2 } } } })).toBeNull();
    const { shot: sparse } = await run("resample", shot, { every: 90 });
    expect(stretchesIn(sparse)).toBeNull();
  });

  test("and so is one with ties", async () => {
    const { shot } = await run("plant", await halfAWalk());
    expect(shot.constraints.length).toBeGreaterThan(0);
    expect(stretchesIn(shot, { long: 3, stretch: 3 })).toBeNull();
  });
});

test("a stepped hold over the seam of two stretches stays a hold", async () => {
  const shot = await captured(1);
  const key = "Hips.rotateX";
  const held = { ...shot.base[key], kindOut: shot.base[key].kindOut.map((kind, i) => (i > 60 && i < 80 ? Tangent.stepped : kind)) };
  const given = tunedOf({ ...shot, base: { ...shot.base, [key]: held } });
  const after = tuned(inStretches(given, { closeness: closely(2), weights: WEIGHTS, steps: 10 }), given).base[key];
  expect(after.values.some((value, i) => value !== held.values[i])).toBe(true);
  for (let i = 61; i < 80; i++) expect(sampleCurve(after, after.times[i] + 0.6)).toBe(after.values[i]);
});
