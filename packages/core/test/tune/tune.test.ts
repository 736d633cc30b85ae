import { halfAWalk } from "../../../demo/src/shots/halfAWalk.ts";
import { handOverTheLantern } from "../../../demo/src/shots/handOverTheLantern.ts";
import { type Curve, keysOf } from "../../src/curve/curve.ts";
import { curveFrom, curveFromKeys } from "../../src/curve/make.ts";
import { sizeOf } from "../../src/figure/sides.ts";
import { placeLeash } from "../../src/tune/closeness.ts";
import { sampleCurve } from "../../src/curve/track.ts";
import { measureDrift } from "../../src/evaluate/drift.ts";
import { shotToJson } from "../../src/formats/schema.ts";
import type { Shot } from "../../src/model/shot.ts";
import { makePass } from "../../src/model/shotFields.ts";
import { checkSettings, operationById } from "../../src/operations/catalogue.ts";
import { noContext, type Outcome, WHOLE_FIGURE } from "../../src/operations/operation.ts";
import { runOperation } from "../../src/operations/runOperation.ts";
import { Chance } from "../help/chance.ts";
import { run } from "../help/promises.ts";
import { movingShot, smallShot } from "../help/shots.ts";

/** "Half a walk" with its keys of hips, legs and arms moved by up to three degrees by chance. */
async function damagedWalk(seed = 5): Promise<{ original: Shot; damaged: Shot }> {
  const original = await halfAWalk();
  const chance = new Chance(seed);
  const hurt = (curve: Curve) =>
    curveFromKeys(
      keysOf(curve).map((key) => ({ ...key, value: key.value + chance.between(-3, 3) })),
      curve,
    );
  const isHurt = (key: string) => /^(hips|thigh|shin|foot|toes|shoulder|upper-arm|forearm|hand)/.test(key) && key.includes("rotate");
  const base = Object.fromEntries(Object.entries(original.base).map(([key, curve]) => [key, isHurt(key) ? hurt(curve) : curve]));
  return { original, damaged: { ...original, base } };
}

const meanStrain = ({ report }: Outcome, cost: string, when: "before" | "after") => {
  const row = report.strain?.rows.find((one) => one.cost === cost);
  return (row?.[when] ?? new Float64Array(1)).reduce((sum, one) => sum + one, 0);
};
/** How far the controls' own turns are from those of another shot: root of the mean square over all controls and frames, degrees. */
function turnsApart(a: Shot, b: Shot): number {
  const ids = a.rig.controls.map(({ id }) => id);
  const squares = ids.flatMap((id) => [...measureDrift(a, b, a.range, { controls: [id] }).turnPerFrame].map((turn) => turn * turn));
  return Math.sqrt(squares.reduce((sum, one) => sum + one, 0) / squares.length);
}

/** How far two curves are apart at most, at tenths of frames. */
function apart(a: Curve, b: Curve, from: number, to: number): number {
  let most = 0;
  for (let t = from; t <= to; t += 0.1) most = Math.max(most, Math.abs(sampleCurve(a, t) - sampleCurve(b, t)));
  return most;
}

describe("a walk damaged by three degrees on the keys of hips, legs and arms", () => {
  test("feet slide less by 80 %, jerk is less by 60 %, and it is nearer to what it was; no key and no tangent's kind comes or goes", async () => {
    const { original, damaged } = await damagedWalk();
    const done = await run("tune", damaged, { costs: { jerk: 1, feet: 1 }, closeness: 2 });
    expect(meanStrain(done, "feet", "after")).toBeLessThan(0.2 * meanStrain(done, "feet", "before"));
    expect(meanStrain(done, "jerk", "after")).toBeLessThan(0.4 * meanStrain(done, "jerk", "before"));
    expect(turnsApart(original, done.shot)).toBeLessThan(turnsApart(original, damaged));
    for (const [key, curve] of Object.entries(damaged.base)) {
      const after = done.shot.base[key];
      expect([...after.times]).toEqual([...curve.times]);
      expect([...after.kindIn, ...after.kindOut]).toEqual([...curve.kindIn, ...curve.kindOut]);
    }
    expect(done.report.summary).toMatch(/^Tuned \d+ keys: less jerk, sliding feet$/);
    expect(done.report.strain?.said.join(" ")).toMatch(/Sliding feet: [\d.]+ mm → [\d.]+ mm \(−\d\d %\)\./);
  });

  test("it is the same each time, whatever breathes in between", async () => {
    const { damaged } = await damagedWalk();
    const settings = { steps: 8 };
    const [a, b] = [await run("tune", damaged, settings), await run("tune", damaged, settings)];
    expect(JSON.stringify(shotToJson(a.shot))).toBe(JSON.stringify(shotToJson(b.shot)));
  });

  test("at closeness 1 000 nothing turns by more than a hundredth of a degree; at 5 by two", async () => {
    const { damaged } = await damagedWalk();
    for (const [closeness, most] of [
      [1000, 0.01],
      [5, 2],
    ]) {
      const { shot } = await run("tune", damaged, { closeness, steps: 30 });
      const { turn } = measureDrift(damaged, shot, damaged.range);
      expect(turn.amount).toBeLessThanOrEqual(most + 1e-6);
      expect(turn.amount).toBeGreaterThan(most / 10);
      for (const key in damaged.base)
        if (key.includes("rotate")) expect(apart(damaged.base[key], shot.base[key], 1, 13)).toBeLessThanOrEqual(most * 1.001);
    }
  });

  test("painted frames stay within the closeness painted there, parts within theirs, pinned poses as they are", async () => {
    const { damaged } = await damagedWalk();
    const painted = [{ start: 5, end: 8, closeness: 100 }];
    const { shot } = await run("tune", damaged, { closeness: 1, painted, parts: { arms: 20 }, steps: 30 });
    const drift = measureDrift(damaged, shot, damaged.range);
    for (let f = 5; f <= 8; f++) expect(drift.turnPerFrame[f - 1]).toBeLessThanOrEqual(0.1 + 1e-6);
    expect(Math.max(...drift.turnPerFrame)).toBeGreaterThan(0.25);
    // Places are bound too, between frames as well: by as much as that turn takes the end of a few links.
    const quarters = measureDrift(damaged, shot, damaged.range, { step: 0.25 });
    for (const [f, moved] of quarters.placePerFrame.entries()) {
      const frame = quarters.start + f;
      const isPainted = frame >= 5 && frame < 8;
      expect(moved).toBeLessThanOrEqual(placeLeash(sizeOf(damaged.rig), isPainted ? 0.1 : 10) + 1e-6);
    }
    const arms = damaged.rig.controls.filter(({ part }) => part === "arms").map(({ id }) => id);
    const armTurn = measureDrift(damaged, shot, damaged.range, { controls: arms }).turn.amount;
    expect(armTurn).toBeLessThanOrEqual(0.5 + 1e-6);
    const pinned = await run("tune", damaged, { closeness: 1, pinned: [7], steps: 25 });
    expect(measureDrift(damaged, pinned.shot, { start: 7, end: 7 }).turn.amount).toBe(0);
    expect(measureDrift(damaged, pinned.shot, damaged.range).turn.amount).toBeGreaterThan(1);
  });

  test("stopped at any step it is a shot, better than before and within its closeness; told otherwise on the way it goes on from there", async () => {
    const { damaged } = await damagedWalk();
    const operation = operationById("tune");
    const told = { costs: { jerk: 1, feet: 1 }, closeness: 2, steps: 50 };
    const settings = checkSettings(operation, told);
    const seen: Outcome[] = [];
    let asked = 0;
    const steered = checkSettings(operation, { ...told, costs: { jerk: 0.2, feet: 3 }, closeness: 8 });
    await runOperation(operation, damaged, WHOLE_FIGURE, settings, {
      ...noContext,
      show: (sofar) => seen.push(sofar()),
      latest: () => (++asked === 30 ? steered : null),
    });
    expect(seen.length).toBeGreaterThan(35);
    for (const { shot } of seen.slice(0, 29)) expect(measureDrift(damaged, shot, damaged.range).turn.amount).toBeLessThanOrEqual(5 + 1e-6);
    // At no step does the picture jump, at the step at which it was told otherwise least of all.
    const steps = seen.slice(1).map(({ shot }, n) => measureDrift(seen[n].shot, shot, damaged.range).turn.amount);
    expect(Math.max(...steps.slice(26))).toBeLessThan(1.5);
    const last = seen[seen.length - 1].shot;
    expect(measureDrift(damaged, last, damaged.range).turn.amount).toBeLessThanOrEqual(1.25 + 1e-6);
    expect(meanStrain(seen[seen.length - 1], "feet", "after")).toBeLessThan(0.5 * meanStrain(seen[0], "feet", "before"));
  });

  test("in a pass over it, with planted feet, in a marked range: only what is in scope moves", async () => {
    const { damaged } = await damagedWalk();
    const inRange = await run("tune", damaged, { steps: 8 }, { range: { start: 4, end: 9 } });
    for (const [key, curve] of Object.entries(damaged.base))
      for (const [i, time] of curve.times.entries())
        if (time < 4 || time > 9) expect(inRange.shot.base[key].values[i]).toBe(curve.values[i]);
    const legs = await run("tune", damaged, { steps: 8 }, { controls: ["thigh-left", "shin-left"] });
    expect(
      Object.keys(damaged.base)
        .filter((key) => legs.shot.base[key] !== damaged.base[key])
        .every((key) => /^(thigh|shin)-left/.test(key)),
    ).toBe(true);
    const locked = await run("tune", { ...damaged, locked: ["hips.rotateX"] }, { steps: 8 });
    expect(locked.shot.base["hips.rotateX"]).toBe(damaged.base["hips.rotateX"]);
  });

  test("times too: keys go by less than half a gap and stay in order", async () => {
    const { damaged } = await damagedWalk();
    const { shot } = await run("tune", damaged, { times: true, steps: 20 });
    let moved = 0;
    for (const [key, { times }] of Object.entries(damaged.base)) {
      const after = shot.base[key].times;
      expect([after[0], after[after.length - 1]]).toEqual([times[0], times[times.length - 1]]);
      for (let i = 1; i + 1 < times.length; i++) {
        if (after[i] !== times[i]) moved++;
        expect(Math.abs(after[i] - times[i])).toBeLessThan(Math.min(times[i] - times[i - 1], times[i + 1] - times[i]) / 2);
      }
    }
    expect(moved).toBeGreaterThan(10);
  });
});

test("a quiet hand on a shaken arm says where it comes from, and with that taken along gets better", async () => {
  const shot = movingShot();
  const chance = new Chance(3);
  const arm = curveFrom(Array.from({ length: 49 }, (_, n) => [n + 1, 20 * Math.sin(n / 8) + chance.between(-2, 2)] as const));
  const hand = curveFrom([
    [1, 0],
    [25, 10],
    [49, 0],
  ]);
  const shaky = { ...shot, base: { ...shot.base, "arm-left.rotateZ": arm, "hand-left.rotateX": hand } };
  const { report } = await run("tune", shaky, { costs: { jerk: 1 }, steps: 10 }, { controls: ["hand-left"] });
  expect(report.notes.join(" ")).toMatch(/What is picked is shaken from above: by arm left\. Take it along\./);
  expect(report.takeAlong).toEqual(["arm-left"]);
  const both = await run("tune", shaky, { costs: { jerk: 1 }, steps: 60 }, { controls: ["hand-left", "arm-left"] });
  expect(both.report.takeAlong).toBeUndefined();
  expect(meanStrain(both, "jerk", "after")).toBeLessThan(0.7 * meanStrain(both, "jerk", "before"));
  // A hand that is not keyed at all says by whom it is moved.
  const bare = { ...shaky, base: { "arm-left.rotateZ": arm } };
  await expect(run("tune", bare, { costs: { jerk: 1 } }, { controls: ["hand-left"] })).rejects.toThrow(
    /hand left is not keyed; it is moved from above, by arm left/,
  );
});

test("the leash holds between frames, with keys between frames, times that move, and rounds past the keys", async () => {
  const { damaged } = await damagedWalk();
  const late = (curve: Curve) =>
    curveFromKeys(
      keysOf(curve).map((key, i) => (i % 3 === 1 ? { ...key, time: key.time + 0.37 } : key)),
      curve,
    );
  const between = { ...damaged, base: Object.fromEntries(Object.entries(damaged.base).map(([key, curve]) => [key, late(curve)])) };
  const { shot: looped } = await run("run-on", damaged, { kind: "travel", rounds: 1 });
  for (const shot of [between, looped])
    for (const closeness of [1000, 5]) {
      const { shot: after } = await run("tune", shot, { closeness, times: true, steps: 10 });
      const { turn } = measureDrift(shot, after, shot.range, { step: 1 / 16 });
      expect(turn.amount).toBeLessThanOrEqual(10 / closeness);
      expect(turn.amount).toBeGreaterThan(0);
    }
});

test("a loop's ends go on meeting", async () => {
  const walk = await halfAWalk();
  const { shot: other } = await run("other-half", walk);
  const { shot: whole } = await run("run-on", other, { kind: "repeat" });
  const { shot } = await run("tune", whole, { costs: { jerk: 1 }, steps: 5 });
  const meets = ({ values }: Curve) => Math.abs(values[0] - values[values.length - 1]) < 1e-12;
  let looked = 0;
  for (const [key, curve] of Object.entries(whole.base)) {
    if (curve.runOut.kind !== "repeat" || curve.times.length < 3 || !meets(curve)) continue;
    looked++;
    expect(meets(shot.base[key])).toBe(true);
  }
  expect(looked).toBeGreaterThan(5);
});

describe("what cannot be is said", () => {
  const refused = async (settings: object, message: RegExp, shot?: Shot, scope = {}) => {
    const { damaged } = await damagedWalk();
    await expect(async () => run("tune", shot ?? damaged, settings, scope)).rejects.toThrow(message);
  };

  test.each<[string, object, RegExp]>([
    ["a cost nobody knows", { costs: { beauty: 1 } }, /no cost is called "beauty".*/],
    ["nothing is bad", { costs: { jerk: 0 } }, /nothing is to get better/],
    ["a weight that is no number", { costs: { jerk: Number.NaN } }, /costs.jerk should be a number/],
    ["a weight below nothing", { costs: { jerk: -1 } }, /costs.jerk should not be below 0/],
    ["a painted span that ends before it begins", { painted: [{ start: 9, end: 3, closeness: 4 }] }, /painted span ends before it begins/],
    ["every pose pinned", { pinned: Array.from({ length: 13 }, (_, n) => n + 1), slopes: false }, /nothing may move: the poses that stay/],
  ])("%s", async (_, settings, message) => {
    await refused(settings, message);
  });

  test("a figure without feet: the cost says so, and others go on without it", async () => {
    const shot = smallShot({
      "spine.rotateX": curveFromKeys(keysOf((await handOverTheLantern()).base["chest.rotateX"])),
    });
    await refused({ costs: { feet: 1 } }, /Sliding feet cannot be judged, as no feet are known in this figure/, shot);
    const { report } = await run("tune", shot, { costs: { feet: 1, jerk: 1 }, steps: 5 });
    expect(report.warnings).toContain("Sliding feet cannot be judged: no feet are known in this figure.");
  });

  test("nothing in scope, a pass that is not heard, and one that is worked out", async () => {
    await refused({}, /no curve is in scope/, undefined, { controls: ["hook"] });
    const { damaged } = await damagedWalk();
    const curves = { "head.rotateX": damaged.base["head.rotateX"] };
    const off = { ...damaged, passes: [{ ...makePass("a", "Nod", "adds", curves), on: false }] };
    await refused({}, /"Nod" is not heard, as it is off or another pass is on solo/, off, { layer: "a" });
    const { shot: waving } = await run("follow-through", damaged, {}, { controls: ["tail-1", "tail-2"] });
    await refused({}, /is worked out and has no keys of the figure/, waving, { layer: waving.passes[0].id });
  });
});
