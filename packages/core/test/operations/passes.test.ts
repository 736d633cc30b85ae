import { constantCurve, curveFrom } from "../../src/curve/make.ts";
import { measureDrift } from "../../src/evaluate/drift.ts";
import { addMembers, fillFromResult } from "../../src/evaluate/fillPass.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import type { Shot } from "../../src/model/shot.ts";
import { makePass } from "../../src/model/shotFields.ts";
import { checkPasses } from "../../src/passes/checkPasses.ts";
import { duplicatePass, emptyPasses, removeMembers, splitPass, strangeMembers } from "../../src/passes/editPasses.ts";
import { bakePasses } from "../../src/operations/passes/bakePasses.ts";
import { catalogue, checkSettings, operationById } from "../../src/operations/catalogue.ts";
import { noContext, type Scope, WHOLE_FIGURE } from "../../src/operations/operation.ts";
import { runOperation } from "../../src/operations/runOperation.ts";
import { movingShot, passOf } from "../help/shots.ts";

const run = async (id: string, shot: Shot, settings: object = {}, scope: Partial<Scope> = {}) =>
  runOperation(operationById(id), shot, { ...WHOLE_FIGURE, ...scope }, checkSettings(operationById(id), settings), noContext);

const values = (shot: Shot, frame: number) => {
  const player = makePlayer(shot);
  player.readValues(frame);
  return player.values.slice();
};
const lean = passOf(
  "adds",
  {
    "spine.rotateX": curveFrom([
      [1, 0],
      [25, 20],
      [49, 0],
    ]),
    "arm-left.rotateZ": constantCurve(8),
  },
  { id: "lean" },
);
const swap = passOf("replaces", { "spine.rotateX": constantCurve(3) }, { id: "swap" });

describe("computed passes from the catalogue", () => {
  test.each(["lag", "stretch", "tremor", "smooth-pass"])(
    "%s is added for the figure or what is picked, and shaped anew when chosen",
    async (id) => {
      const { shot, report } = await run(id, movingShot());
      expect(shot.passes).toHaveLength(1);
      expect(report.summary).toMatch(/on the figure/);
      const { shot: picked } = await run(id, movingShot(), {}, { controls: ["spine"], range: { start: 5, end: 20 } });
      expect(picked.passes[0].members).toContain("spine.rotateX");
      expect(picked.passes[0].range).toMatchObject({ start: 5, end: 20 });
      const { shot: again } = await run(id, shot, id === "tremor" ? { seed: 7 } : {}, { layer: shot.passes[0].id });
      expect(again.passes).toHaveLength(1);
      if (id === "tremor") expect(again.passes[0].settings).toMatchObject({ seed: 7 });
      expect(shot.base).toEqual(movingShot().base);
    },
  );

  test("follow-through needs a chain", async () => {
    await expect(run("follow-through", movingShot())).rejects.toThrow(/pick the controls of a chain/);
    const { shot } = await run("follow-through", movingShot(), {}, { controls: ["arm-left", "hand-left"] });
    expect(values(shot, 20)).not.toEqual(values(movingShot(), 20));
  });

  test("every kind of computed pass can be made by an operation of the catalogue", async () => {
    const { passKinds } = await import("../../src/passes/kinds.ts");
    for (const kind of passKinds) if (kind.reads !== "keys") expect(catalogue.some(({ id }) => id === kind.madeBy)).toBe(true);
  });
});

describe("overlap", () => {
  test("takes the chain from its first link, the other side too, and puts a locked pass to key by hand above it", async () => {
    const { shot, report } = await run("overlap", movingShot(), {}, { controls: ["arm-left"] });
    expect(shot.passes.map(({ kind }) => kind)).toEqual(["follow-through", "adds"]);
    const [swing, hand] = shot.passes;
    expect(new Set(swing.members?.map((key) => key.split(".")[0]))).toEqual(new Set(["arm-left", "hand-left", "arm-right", "hand-right"]));
    expect(hand.weight.values[0]).toBe(0.7);
    expect([...hand.curves["hand-left.rotateX"].times, ...hand.curves["hand-left.rotateX"].values]).toEqual([1, 49, 0, 0]);
    expect(report.notes.join()).toMatch(/locked at frames 1 and 49, at 70 %/);
    const { shot: alone } = await run("overlap", movingShot(), { otherSide: false, hand: false, first: "arm-left" });
    expect(alone.passes).toHaveLength(1);
    await expect(run("overlap", movingShot())).rejects.toThrow(/no chain is chosen/);
    await expect(run("overlap", movingShot(), { first: "nobody" })).rejects.toThrow(/no control "nobody"/);
  });
});

describe("lock ends", () => {
  test("what is then keyed in between changes nothing at the ends", async () => {
    for (const pass of [lean, { ...swap, curves: { "spine.rotateX": constantCurve(3, 20) } }]) {
      const shot = movingShot({ passes: [pass] });
      const { shot: locked } = await run("lock-ends", shot, {}, { layer: pass.id, range: { start: 10, end: 30 } });
      const at = makePlayer(shot).channelIndex.get("spine.rotateX") as number;
      for (const frame of [10, 30]) expect(values(locked, frame)[at]).toBeCloseTo(values(movingShot(), frame)[at], 9);
      expect(values(locked, 20)[at]).not.toBeCloseTo(values(movingShot(), 20)[at], 3);
    }
    await expect(run("lock-ends", movingShot())).rejects.toThrow(/base motion has no ends/);
    await expect(run("lock-ends", movingShot({ passes: [passOf("adds", {})] }), {}, { layer: "pass-adds" })).rejects.toThrow(
      /nothing is picked/,
    );
  });
});

describe("baking some of the passes", () => {
  const shot = movingShot({ passes: [lean, swap] });

  test("the chosen one alone goes into base, and the report says how far the result is off, as measured by itself", async () => {
    const { shot: after, report } = await run("bake-passes", shot, { which: "chosen", keys: "every" }, { layer: "lean" });
    expect(after.passes.map(({ id }) => id)).toEqual(["swap"]);
    expect(report.drift?.turn.amount).toBeLessThan(1e-6);
    // Merged past a replacing pass below it, an adding one no longer counts; the drift says so.
    const other = movingShot({ passes: [swap, lean] });
    const { shot: merged, report: said } = await run("bake-passes", other, { which: "chosen", keys: "every" }, { layer: "lean" });
    expect(said.drift?.turn.amount).toBeGreaterThan(1);
    expect(measureDrift(other, merged, other.range).turn.amount).toBeCloseTo(said.drift?.turn.amount as number, 9);
  });

  test("up to the chosen one, into a pass of its own: base stays, those baked are off, the picture is the same", async () => {
    const { shot: after, report } = await run("bake-passes", shot, { which: "below", into: "pass", keys: "fewest" }, { layer: "swap" });
    expect(after.base).toBe(shot.base);
    expect(after.passes.map(({ kind, on }) => [kind, on])).toEqual([
      ["adds", false],
      ["replaces", false],
      ["replaces", true],
    ]);
    expect(measureDrift(shot, after, shot.range).turn.amount).toBeLessThan(0.3);
    expect(measureDrift(shot, after, shot.range).turn.amount).toBeCloseTo(report.drift?.turn.amount as number, 9);
    expect(report.notes.join()).toMatch(/Changes spine, arm left/);
    expect(report.warnings.join()).toMatch(/replaced what was below it on 1 channel\./);
  });

  test("an empty pass says so, and one that is not chosen or on", async () => {
    const empty = movingShot({ passes: [passOf("adds", {})] });
    await expect(run("bake-passes", empty)).rejects.toThrow(/is empty and would change nothing/);
    await expect(run("bake-passes", shot, { which: "chosen" })).rejects.toThrow(/no pass that is on is chosen/);
    const { report } = await run("bake-passes", movingShot({ passes: [lean, { ...passOf("adds", {}), name: "Idle" }] }), { keys: "every" });
    expect(report.warnings).toContain('"Idle" is empty.');
    expect(bakePasses.settings.safeParse({ rotation: Number.NaN }).success).toBe(false);
  });
});

describe("members of a pass", () => {
  const shot = movingShot({ passes: [lean] });
  const same = (a: Shot, b: Shot) =>
    [1, 20, 37].every((frame) => values(a, frame).every((value, i) => Math.abs(value - values(b, frame)[i]) < 1e-12));

  test("added ones change nothing until they are keyed; taken out ones lose their keys", () => {
    const more = addMembers(shot, "lean", ["hand-left.rotateX"], 10);
    expect(more.passes[0].curves["hand-left.rotateX"].values[0]).toBe(0);
    expect(same(more, shot)).toBe(true);
    expect(Object.keys(removeMembers(more, "lean", ["spine.rotateX"]).passes[0].curves)).toEqual(["arm-left.rotateZ", "hand-left.rotateX"]);
    const lag = movingShot({ passes: [{ ...makePass("lag", "Lag", "lag"), members: ["spine.rotateX"] }] });
    expect(addMembers(lag, "lag", ["arm-left.rotateZ"], 1).passes[0].members).toContain("arm-left.rotateZ");
    expect(removeMembers(lag, "lag", ["spine.rotateX"]).passes[0].members).not.toContain("spine.rotateX");
  });

  test("split off they play the same, and can be dialled alone; all or none cannot be split", () => {
    const id = "part";
    const split = splitPass(shot, "lean", ["arm-left.rotateZ"], id);
    expect(split.passes.map((pass) => Object.keys(pass.curves))).toEqual([["spine.rotateX"], ["arm-left.rotateZ"]]);
    expect(split.passes[1].id).toBe(id);
    expect(same(split, shot)).toBe(true);
    expect(() => splitPass(shot, "lean", ["root.moveX"], "part")).toThrow(/has nothing on what is picked/);
    expect(() => splitPass(shot, "lean", ["spine.rotateX", "arm-left.rotateZ"], "part")).toThrow(/nothing would be left/);
  });

  test("a copy is off and has a name of its own; empty passes are found; strangers are kept and named", () => {
    const id = "copy";
    const twice = duplicatePass(shot, "lean", id);
    expect(twice.passes.map(({ name, on }) => [name, on])).toEqual([
      ["Pass adds", true],
      ["Pass adds 2", false],
    ]);
    expect(same(twice, shot)).toBe(true);
    expect(twice.passes[1].id).toBe(id);
    expect(emptyPasses(movingShot({ passes: [lean, passOf("replaces", {})] })).map(({ kind }) => kind)).toEqual(["replaces"]);
    const odd = passOf("adds", { "ghost.rotateX": constantCurve(1), "spine.rotateX": constantCurve(1) });
    expect(strangeMembers(shot, odd)).toEqual(["ghost.rotateX"]);
    expect(() => values(movingShot({ passes: [odd] }), 5)).not.toThrow();
  });

  test("a new replacing pass can start from what is seen, not from rest", () => {
    const start = movingShot({ passes: [lean, { ...passOf("replaces", {}), id: "over" }] });
    const filled = fillFromResult(start, "over", ["spine.rotateX"], 20);
    const at = makePlayer(start).channelIndex.get("spine.rotateX") as number;
    expect(values(filled, 20)[at]).toBeCloseTo(values(start, 20)[at], 12);
  });

  test("a locked pass keeps its keys, weight and range; its switches stay free", () => {
    const locked = movingShot({ passes: [{ ...lean, locked: true }] });
    const [pass] = locked.passes;
    const changed = (more: object) => checkPasses(locked, { ...locked, passes: [{ ...pass, ...more }] });
    for (const more of [{ curves: {} }, { weight: constantCurve(0.5) }, { range: { start: 1, end: 9, easeIn: 0, easeOut: 0 } }])
      expect(() => changed(more)).toThrow(/"Pass adds" is locked/);
    expect(changed({ on: false, name: "Other", colour: "moss" }).passes[0].name).toBe("Other");
    expect(changed({ locked: false, curves: {} }).passes[0].locked).toBe(false);
  });
});
