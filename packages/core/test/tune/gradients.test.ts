import { capturedSignal } from "../../../demo/src/shots/capturedSignal.ts";
import { halfAWalk } from "../../../demo/src/shots/halfAWalk.ts";
import { handOverTheLantern } from "../../../demo/src/shots/handOverTheLantern.ts";
import { curveFrom } from "../../src/curve/make.ts";
import { atOnce } from "../../src/inPieces.ts";
import type { Shot } from "../../src/model/shot.ts";
import { makePass } from "../../src/model/shotFields.ts";
import { costs } from "../../src/tune/costs/costs.ts";
import { Chance } from "../help/chance.ts";
import { run } from "../help/promises.ts";
import { randomShot } from "../help/randomRig.ts";
import { objectiveOf, shaken } from "../help/tuned.ts";

/*
 * How strain changes with keys, against central differences of the strain itself, which is asked of a player of the
 * changed shot and knows nothing of derivatives.
 */

const moves = { slopes: true, times: true };
const all = costs.map(({ id }) => id);

/** The largest difference of a part of the slope from its central difference, against the length of the slope. */
function worstPart(shot: Shot, layer: string, only: readonly string[], chance: Chance): number {
  const { objective, costs: known } = objectiveOf(shot, layer, moves, { only });
  const weights = known.map(() => chance.between(0.5, 2));
  const size = objective.variables.length;
  const x = Float64Array.from({ length: size }, () => chance.between(-0.2, 0.2));
  const slope = new Float64Array(size);
  atOnce(objective.strain(x, weights, slope));
  const steep = Math.max(1e-9, Math.hypot(...slope));
  // Some numbers one by one, and all of them along a few directions.
  const ways = [
    ...Array.from({ length: 4 }, () => {
      const way = new Float64Array(size);
      way[chance.below(size)] = 1;
      return way;
    }),
    ...Array.from({ length: 2 }, () => Float64Array.from({ length: size }, () => chance.between(-1, 1) / Math.sqrt(size))),
  ];
  // What has no say would pass any check.
  expect(steep).toBeGreaterThan(1e-6);
  let worst = 0;
  for (const way of ways) {
    const far = (by: number) =>
      atOnce(
        objective.strain(
          x.map((one, i) => one + by * way[i]),
          weights,
          null,
        ),
      );
    const h = 1e-4;
    // Richardson's: the error of a central difference falls by sixteen when the step is halved and both are weighed.
    const [wide, narrow] = [(far(h) - far(-h)) / (2 * h), (far(h / 2) - far(-h / 2)) / h];
    const along = way.reduce((sum, one, i) => sum + one * slope[i], 0);
    worst = Math.max(worst, Math.abs(along - (4 * narrow - wide) / 3) / steep);
  }
  return worst;
}

const pass = (id: string, compose: "channel" | "rotation", shot: Shot, chance: Chance, kind = "adds") => ({
  ...makePass(id, id, kind),
  compose,
  weight: curveFrom([
    [1, 0.4],
    [20, 1.3],
  ]),
  curves: Object.fromEntries(
    Object.keys(shot.base)
      .filter((key) => /rotate|moveY/.test(key) && chance.next() < 0.7)
      .map((key) => [key, curveFrom([1, 9, 17].map((frame) => [frame, chance.between(-1, 1) * (key.includes("rotate") ? 20 : 0.05)]))]),
  ),
});

/** A walk bent far over to one side, so that there is something to say about its balance too. */
async function crooked(): Promise<Shot> {
  const shot = await halfAWalk();
  const bent = ["belly.rotateZ", "chest.rotateZ"].map((key) => [
    key,
    { ...shot.base[key], values: shot.base[key].values.map((value) => value + 50) },
  ]);
  return { ...shot, base: { ...shot.base, ...Object.fromEntries(bent) } };
}
const walk = async (chance: Chance) => shaken(await crooked(), chance, 0.7);
const planted = async (chance: Chance) => shaken((await run("plant", await crooked())).shot, chance, 0.7);

const shots: Readonly<Record<string, (chance: Chance) => Promise<[Shot, string]>>> = {
  "under passes added as channels and as rotations": async (chance) => {
    const shot = await walk(chance);
    return [{ ...shot, passes: [pass("a", "channel", shot, chance), pass("b", "rotation", shot, chance)] }, "base"];
  },
  "in a pass added as rotations, under another": async (chance) => {
    const shot = await walk(chance);
    return [{ ...shot, passes: [pass("a", "rotation", shot, chance), pass("b", "rotation", shot, chance)] }, "a"];
  },
  "in a pass added as channels, under one that replaces for a while": async (chance) => {
    const shot = await walk(chance);
    const above = { ...pass("b", "channel", shot, chance, "replaces"), range: { start: 4, end: 11, easeIn: 2, easeOut: 3 } };
    return [{ ...shot, passes: [pass("a", "channel", shot, chance), above] }, "a"];
  },
  "in a pass that replaces as channels, under one added as rotations": async (chance) => {
    const shot = await walk(chance);
    return [{ ...shot, passes: [pass("a", "channel", shot, chance, "replaces"), pass("b", "rotation", shot, chance)] }, "a"];
  },
  "with planted feet": async (chance) => [await planted(chance), "base"],
  "with a lantern that follows": async (chance) => [shaken(await handOverTheLantern(), chance, 2), "base"],
  "on twos": async (chance) => {
    const shot = await walk(chance);
    return [(await run("stepping", shot, { frames: 2 })).shot, "base"];
  },
  "a rig by chance, scaled and mirrored": async (chance) => [randomShot(chance), "base"],
};

test.each(costs.map(({ id }) => id))("%s changes with any keys and handles as differences have it", async (id) => {
  const chance = new Chance(costs.findIndex((cost) => cost.id === id) + 11);
  expect(worstPart(await walk(chance), "base", [id], chance)).toBeLessThan(1e-5);
});

test.each(Object.keys(shots))("%s: all costs together change with the keys as differences have it", async (name) => {
  const chance = new Chance(name.length);
  const [shot, layer] = await shots[name](chance);
  expect(worstPart(shot, layer, all, chance)).toBeLessThan(1e-5);
});

test("what is computed above stays as it was while the keys move, and all costs together are their weighed sum", async () => {
  const shot = await capturedSignal();
  const { objective, costs: known } = objectiveOf(
    shot,
    "base",
    { slopes: false, times: false },
    { keep: (key) => key.startsWith("head.") },
  );
  const still = new Float64Array(objective.variables.length);
  const slope = still.slice();
  const each = known.map((_, n) =>
    atOnce(
      objective.strain(
        still,
        known.map((_one, k) => (k === n ? 2 : 0)),
        slope,
      ),
    ),
  );
  const together = atOnce(
    objective.strain(
      still,
      known.map(() => 2),
      slope,
    ),
  );
  expect(together).toBeCloseTo(
    each.reduce((sum, one) => sum + one, 0),
    9,
  );
});
