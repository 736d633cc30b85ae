import { measureDrift } from "../../src/evaluate/drift.ts";
import { sampleCurve } from "../../src/curve/track.ts";
import { plantEnds } from "../../src/operations/spaces/plantEnds.ts";
import { switchesOf } from "../../src/constraints/spaces.ts";
import { constantCurve, curveFrom } from "../../src/curve/make.ts";
import { bakeDown } from "../../src/operations/spaces/bakeDown.ts";
import { controlById } from "../../src/model/rig.ts";
import { WHOLE_FIGURE } from "../../src/operations/operation.ts";
import { reachFor } from "../../src/operations/spaces/reachFor.ts";
import { followTarget } from "../../src/operations/spaces/followTarget.ts";
import { switchSpace } from "../../src/operations/spaces/switchSpace.ts";
import { Chance } from "../help/chance.ts";
import { randomShot } from "../help/randomRig.ts";
import { run } from "../help/run.ts";
import { movingShot, passOf } from "../help/shots.ts";

import { apart, below, walker, worldOf } from "../help/posed.ts";

describe("bake down", () => {
  test("spaces and follows to keys on every frame: the same; fewest: within the stated drift at every quarter", async () => {
    for (let seed = 1; seed <= 6; seed++) {
      const chance = new Chance(seed + 900);
      let shot = randomShot(chance);
      const control = "c1";
      const others = shot.rig.controls.filter(({ id }) => !below(shot, control).has(id)).map(({ id }) => id);
      for (const frame of [8, 17, 24])
        shot = (
          await run(switchSpace, shot, { space: chance.of(others), frame, keys: "every" }, { controls: [control] }).catch(() => ({ shot }))
        ).shot;
      shot = (await run(followTarget, shot, { target: chance.of(others), frame: 3 }, { controls: [control] })).shot;
      const { shot: every } = await run(bakeDown, shot, { keys: "every" }, { controls: [control] });
      for (let frame = 1; frame <= 30; frame++)
        expect(apart(worldOf(every, control, frame), worldOf(shot, control, frame))).toBeLessThan(1e-9);
      for (const keys of ["fewest", "existing"]) {
        const { shot: after, report } = await run(bakeDown, shot, { keys, rotation: 0.2, move: 0.002 }, { controls: [control] });
        let worst = 0;
        for (let frame = 1; frame <= 30; frame += 0.25)
          worst = Math.max(worst, apart(worldOf(after, control, frame).slice(12, 15), worldOf(shot, control, frame).slice(12, 15)));
        expect(worst).toBeLessThanOrEqual((report.drift?.place.amount as number) * Math.sqrt(3) + 1e-9);
      }
    }
  });

  test("into the world it is out of what it hangs on, its movement kept; what was baked is off, or gone", async () => {
    const { shot: after } = await run(
      bakeDown,
      movingShot(),
      { into: "*world", keys: "every", afterwards: "removed" },
      { controls: ["hand-left"] },
    );
    for (let frame = 1; frame <= 49; frame++)
      expect(apart(worldOf(after, "hand-left", frame), worldOf(movingShot(), "hand-left", frame))).toBeLessThan(1e-9);
    expect(switchesOf(after, "hand-left")).toEqual([{ frame: Number.NEGATIVE_INFINITY, space: null }]);
  });

  test("all that moves them: passes give them up", async () => {
    const shot = movingShot({
      passes: [
        passOf("adds", {
          "hand-left.rotateX": curveFrom([
            [1, 0],
            [20, 30],
          ]),
          "spine.rotateX": constantCurve(4, 1),
        }),
      ],
    });
    await expect(run(bakeDown, shot, { into: "*world" }, { controls: ["hand-left"] })).rejects.toThrow(
      /pass "Pass adds" also moves hand left/,
    );
    const { shot: after } = await run(bakeDown, shot, { what: "all", keys: "every" }, { controls: ["hand-left"] });
    expect(Object.keys(after.passes[0].curves)).toEqual(["spine.rotateX"]);
    for (const frame of [1, 13, 30])
      expect(apart(worldOf(after, "hand-left", frame), worldOf(shot, "hand-left", frame))).toBeLessThan(1e-9);
  });

  test("over a marked range only that is baked: within it plain keys, outside it all is led as it was", async () => {
    const walk = (await run(plantEnds, walker(), { find: "range" }, { controls: ["foot-left"] })).shot;
    let shot = (await run(switchSpace, movingShot(), { space: "*world", frame: 20, keys: "every" }, { controls: ["hand-left"] })).shot;
    shot = (await run(followTarget, shot, { target: "arm-right", frame: 5, what: "place" }, { controls: ["hand-left"] })).shot;
    for (const [given, control] of [
      [walk, "foot-left"],
      [shot, "hand-left"],
    ] as const)
      for (const keys of ["every", "existing", "fewest"]) {
        const range = { start: 10, end: 24 };
        const { shot: after, report } = await run(bakeDown, given, { keys, rotation: 0.05, move: 0.0005 }, { controls: [control], range });
        const off = keys === "every" ? 1e-9 : (report.drift?.place.amount as number) * 2 + 1e-9;
        for (let frame = 1; frame <= given.range.end; frame++) {
          const inside = frame >= 10 && frame <= 24;
          expect(apart(worldOf(after, control, frame).slice(12), worldOf(given, control, frame).slice(12))).toBeLessThanOrEqual(
            inside ? off : 1e-9,
          );
        }
        // Nothing leads it within: other keys there are seen as they are.
        const strengths = after.constraints.flatMap(({ id, kind, curves }) =>
          kind === "space" ? [] : [sampleCurve(curves[`${id}.strength`], 15)],
        );
        expect(strengths.every((strength) => strength === 0)).toBe(true);
        expect(report.notes[0]).toMatch(/^Without a say over frames 10 to 24/);
      }
    await expect(run(bakeDown, shot, { what: "all" }, { controls: ["hand-left"], range: { start: 5, end: 9 } })).rejects.toThrow(
      /over the whole shot/,
    );
  });

  test("one alone baked, what was silent beside it stays silent", async () => {
    let shot = (await run(followTarget, movingShot(), { target: "arm-right", frame: 5 }, { controls: ["hand-left"] })).shot;
    shot = (await run(followTarget, shot, { target: "hand-left", frame: 9 }, { controls: ["hand-right"] })).shot;
    const alone = { ...shot, constraints: shot.constraints.map((one, i) => (i === 0 ? { ...one, solo: true } : one)) };
    const { shot: after, report } = await run(bakeDown, alone, { keys: "every" });
    for (const id of ["hand-left", "hand-right"])
      for (const frame of [1, 20, 49]) expect(apart(worldOf(after, id, frame), worldOf(alone, id, frame))).toBeLessThan(1e-9);
    expect(report.notes).toContain("Without a say beside what was alone, and off now so that it stays so: hand right follows hand left.");
  });

  test("the row of a reach that is chosen, its goal and its bend control stand for the limb that reaches", async () => {
    const { shot } = await run(reachFor, walker(), { frame: 5 }, { controls: ["foot-left"] });
    const [tie] = shot.constraints;
    const { target, toward, limb } = tie.settings as { target: string; toward: string; limb: string[] };
    // What leads is led by nothing itself; with its row chosen it does not matter what is picked.
    for (const scope of [{ controls: [target] }, { controls: [toward] }, { controls: [target], layer: tie.id }, { layer: tie.id }]) {
      const said = bakeDown.saysScope?.(shot, { ...WHOLE_FIGURE, ...scope }, bakeDown.settings.parse({}));
      for (const id of limb) expect(said).toContain(controlById(shot.rig, id)?.name);
      const { shot: after } = await run(bakeDown, shot, { keys: "every", afterwards: "removed" }, scope);
      expect(after.constraints).toEqual([]);
      expect(measureDrift(shot, after, shot.range).place.amount).toBeLessThan(1e-6);
    }
    // A goal that goes after something itself is what is meant.
    const led = (await run(followTarget, shot, { target: "hips", frame: 5 }, { controls: [target] })).shot;
    const { shot: after } = await run(bakeDown, led, { keys: "every", afterwards: "removed" }, { controls: [target] });
    expect(after.constraints.map(({ id }) => id)).toEqual([tie.id]);
  });

  test("says when nothing leads what is in scope", async () => {
    await expect(run(bakeDown, movingShot())).rejects.toThrow(/nothing leads/);
  });
});
