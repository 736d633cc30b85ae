import { curveFrom } from "../../src/curve/make.ts";
import { measureDrift } from "../../src/evaluate/drift.ts";
import type { Pass, Shot } from "../../src/model/shot.ts";
import { bakePasses } from "../../src/operations/passes/bakePasses.ts";
import { operationById } from "../../src/operations/catalogue.ts";
import { Chance } from "../help/chance.ts";
import { passFor } from "../help/passes.ts";
import { run } from "../help/run.ts";
import { shifted } from "../help/shifted.ts";
import { movingShot, passOf } from "../help/shots.ts";

/*
 * Whatever a pass changes is baked, on controls with and without keys of their own, and what plays afterwards is what played
 * before within the bound that is said: turns and places as they are seen, at every whole frame.
 */

const push = (at: number) =>
  curveFrom([
    [at, 0],
    [at + 8, 12],
    [at + 20, -3],
  ]);

/** A pass of every kind that can be made, over moving controls and over ones that were never keyed. */
const made: Readonly<Record<string, Pass>> = {
  adds: passOf("adds", { "spine.rotateX": push(3), "hand-right.rotateZ": push(9), "arm-right.rotateY": curveFrom([[1, 7]]) }),
  replaces: passOf("replaces", { "spine.rotateX": push(3), "hand-right.rotateY": push(9) }),
  tremor: passFor(
    "tremor",
    { rotate: 3, move: 0.01, seed: 4 },
    { members: ["spine.rotateX", "hand-right.rotateX", "hand-right.rotateZ", "root.moveY"] },
  ),
  "follow-through": passFor("follow-through", { strength: 100 }, { members: ["arm-right.rotateX", "hand-right.rotateX"] }),
  lag: passFor("lag", { frames: 3 }),
  stretch: passFor("stretch", { longer: 30, about: 1 }),
  smooth: passFor("smooth", {}),
  stepping: passFor("stepping", { pattern: [2, 3] }),
};

/** The same without any keys in base motion. */
const unkeyed = (shot: Shot): Shot => ({ ...shot, base: {} });

describe.each(Object.keys(made))("a pass of the kind %s", (kind) => {
  test.each([0, 1000, -31])("baked, plays what it played (%i frames later)", async (by) => {
    for (const base of [movingShot(), unkeyed(movingShot())]) {
      const shot = shifted({ ...base, passes: [made[kind]] }, by);
      for (const keys of ["every", "fewest"] as const)
        for (const into of ["base", "pass"] as const) {
          const bound = { rotation: 0.1, move: 0.001 };
          const baked = await run(bakePasses, shot, { keys, into, ...bound }).catch((error: Error) => error);
          if (baked instanceof Error) {
            // A figure that stands still has nothing that other frames could change.
            expect(baked.message).toMatch(/would change nothing/);
            expect(["lag", "stretch", "smooth", "stepping", "follow-through"]).toContain(kind);
            expect(shot.base).toEqual({});
            continue;
          }
          const drift = measureDrift(shot, baked.shot, shot.range);
          expect(drift.turn.amount).toBeLessThan(keys === "every" ? 1e-6 : bound.rotation + 1e-6);
          expect(drift.place.amount).toBeLessThan(keys === "every" ? 1e-9 : bound.move + 1e-9);
          if (keys === "every") continue;
          // Between frames it may be farther off: it is measured there, and said where the bound does not hold.
          const between = measureDrift(shot, baked.shot, shot.range, { step: 0.25 });
          expect(baked.report.drift?.turn.amount).toBeCloseTo(between.turn.amount, 9);
          if (between.turn.amount > bound.rotation + 1e-6)
            expect(baked.report.notes.join(" ")).toContain(`between frames up to ${between.turn.amount.toFixed(2)}°`);
        }
    }
  });

  test("with a marked range only that is baked, in base motion or a pass above; outside all is as it was", async () => {
    for (const base of [movingShot(), unkeyed(movingShot())])
      for (const by of [0, 1000]) {
        const shot = shifted({ ...base, passes: [made[kind]] }, by);
        const range = { start: 12 + by, end: 25 + by };
        for (const into of ["base", "pass"] as const)
          for (const keys of ["every", "fewest"] as const) {
            const baked = await run(bakePasses, shot, { keys, into }, { range }).catch((error: Error) => error);
            if (baked instanceof Error) {
              expect(baked.message).toMatch(/would change nothing|works with other frames/);
              if (/other frames/.test(baked.message)) expect(into).toBe("base");
              continue;
            }
            const { shot: after, report } = baked;
            expect(report.summary).toContain(`frames ${range.start} to ${range.end}`);
            const drift = measureDrift(shot, after, shot.range);
            expect(drift.turn.amount).toBeLessThan(keys === "every" ? 1e-6 : 0.1 + 1e-6);
            // The pass has no weight within, or lies under the new one; its own keys are as they were.
            expect(after.passes[0].curves).toEqual(shot.passes[0].curves);
            if (into === "pass") expect(after.passes[1].range).toMatchObject(range);
            else expect(after.base).not.toEqual(shot.base);
          }
      }
  });
});

test("passes by chance, several at once, in any order: the bound of the turn holds as it is seen", async () => {
  const kinds = Object.keys(made).filter((kind) => kind !== "replaces");
  for (let seed = 1; seed <= 12; seed++) {
    const chance = new Chance(seed);
    const passes = Array.from({ length: 2 + chance.below(3) }, (_, n) => ({ ...made[chance.of(kinds)], id: `p${n}`, name: `P ${n}` }));
    const shot = { ...movingShot(), passes };
    const rotation = chance.between(0.05, 2);
    const { shot: after, report } = await run(bakePasses, shot, { keys: "fewest", rotation, move: 0.01 });
    const drift = measureDrift(shot, after, shot.range);
    if (!report.warnings.some((one) => /does not hold/.test(one))) expect(drift.turn.amount).toBeLessThan(rotation + 1e-6);
    // What the card says is what is measured, between frames too.
    expect(report.drift?.turn.amount).toBeCloseTo(measureDrift(shot, after, shot.range, { step: 0.25 }).turn.amount, 9);
  }
});

test("a tremor over a lantern that was never keyed is not lost", async () => {
  const tremor = operationById("tremor");
  const { shot } = await run(tremor, movingShot(), { rotate: 2 }, { controls: ["hand-right"] });
  const { shot: baked, report } = await run(bakePasses, shot, { keys: "fewest" });
  expect(Object.keys(baked.base)).toEqual(expect.arrayContaining(["hand-right.rotateX", "hand-right.rotateY", "hand-right.rotateZ"]));
  expect(report.notes.join(" ")).toMatch(/hand right/);
  expect(report.warnings.join(" ")).not.toMatch(/is empty/);
});
