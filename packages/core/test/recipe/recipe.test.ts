import { capturedSignal } from "../../../demo/src/shots/capturedSignal.ts";
import { halfAWalk } from "../../../demo/src/shots/halfAWalk.ts";
import { handOverTheLantern } from "../../../demo/src/shots/handOverTheLantern.ts";
import { hopAboard } from "../../../demo/src/shots/hopAboard.ts";
import { waitingOnBoard } from "../../../demo/src/shots/waitingOnBoard.ts";
import { shotToJson } from "../../src/formats/schema.ts";
import { figureControls, splitChannelKey } from "../../src/model/rig.ts";
import type { Shot } from "../../src/model/shot.ts";
import { makePass } from "../../src/model/shotFields.ts";
import { operationById } from "../../src/operations/catalogue.ts";
import { madeBy } from "../../src/operations/history.ts";
import { noContext, WHOLE_FIGURE } from "../../src/operations/operation.ts";
import { readRecipe, recipeFromSteps, runRecipe } from "../../src/recipe/recipes.ts";
import { makeRecipe, type Recipe, recipeStep, recipeToText } from "../../src/operations/recipes/recipe.ts";
import { PLAIN_RUN, type RecipeRun } from "../../src/operations/recipes/runRecipe.ts";
import { shippedRecipes } from "../../src/operations/recipes/shipped.ts";
import { findWhen, sayWhen } from "../../src/operations/recipes/when.ts";
import { findWho, sayWho } from "../../src/operations/recipes/who.ts";
import { captureShot } from "../help/capture.ts";
import { run } from "../help/promises.ts";

const done = (shot: Shot, recipe: Recipe, more: Partial<RecipeRun> = {}) => runRecipe(shot, recipe, { ...PLAIN_RUN, ...more }, noContext);
const bits = (shot: Shot) => JSON.stringify(shotToJson(shot));

describe("what was done becomes a recipe", () => {
  test("recorded on one capture it runs on another figure, and does there what the operations do by hand", async () => {
    const captured = await capturedSignal();
    const head = { ...WHOLE_FIGURE, controls: ["head"] };
    const steps = [
      madeBy(operationById("despike"), WHOLE_FIGURE, {}),
      madeBy(operationById("smooth"), head, { method: "bell" }),
      madeBy(operationById("shift-values"), { ...WHOLE_FIGURE, range: { start: 1, end: 60.5 } }, { rotation: 3 }),
    ];
    const { recipe, left } = recipeFromSteps(
      "Calm",
      steps.map((made) => ({ made, before: captured })),
    );
    expect(left).toEqual([]);
    expect(recipe.steps.map(({ who, when }) => `${sayWho(who)}; ${sayWhen(when)}`)).toEqual([
      "the whole figure; the whole shot",
      '"Head"; the whole shot',
      "the whole figure; the first half",
    ]);
    const other = captureShot();
    const { shot, steps: reports, drift } = await done(other, readRecipe(recipeToText(recipe)));
    expect(reports.map(({ step, title }) => `${step} ${title}`)).toEqual(["1 Despike", "2 Smooth", "3 Shift values"]);
    expect(drift?.turn.amount).toBeGreaterThan(0);
    // By hand, one after the other, on the very same controls and frames.
    const whom = findWho(other, recipe.steps[1].who, []);
    const frames = findWhen(other, recipe.steps[2].when, null);
    const byHand = await run("despike", other);
    const smoothed = await run("smooth", byHand.shot, { method: "bell" }, { controls: whom });
    const shifted = await run("shift-values", smoothed.shot, { rotation: 3 }, { range: frames });
    expect(bits(shot) === bits(shifted.shot)).toBe(true);
  });

  test("what was done by hand is left out and said; picked keys leave their controls", async () => {
    const shot = await halfAWalk();
    const byHand = operationById("move-keys");
    const picked = { ...WHOLE_FIGURE, keys: { "head.rotateX": [1] } };
    const over = { ...shot, passes: [makePass("p1", "Nods", "adds", {}), makePass("p2", "Sways", "adds", {})] };
    const { recipe, left } = recipeFromSteps("Some", [
      { made: madeBy(byHand, WHOLE_FIGURE, {}), before: shot },
      { made: madeBy(operationById("set-tangents"), picked, {}), before: shot },
      // A pass that was not there at first is known by its name.
      { made: madeBy(operationById("simplify"), { ...WHOLE_FIGURE, layer: "p1" }, {}), before: over },
    ]);
    expect(recipe.steps.map(({ layer }) => layer)).toEqual(["base", "Nods"]);
    expect(recipe.steps[0].who).toEqual({ names: ["Head"] });
    expect(left).toHaveLength(2);
  });

  test("a step that may be left out is, with the reason, where there is nothing or nobody for it; other errors still stop", async () => {
    const shot = await capturedSignal();
    const wings = recipeStep("simplify", { who: { part: "wings" }, optional: true });
    const ties = recipeStep("bake-down", { optional: true });
    const { steps, shot: after } = await done(shot, makeRecipe("May be", [wings, ties, recipeStep("despike")]));
    expect(steps.map(({ report }) => report.summary.split(":")[0])).toEqual(["Left out", "Left out", expect.stringMatching(/^Mended/)]);
    expect(steps[1].report.summary).toBe("Left out: nothing leads what is in scope.");
    expect(bits(after) === bits((await run("despike", shot)).shot)).toBe(true);
    const locked = { ...shot, locked: Object.keys(shot.base) };
    await expect(done(locked, makeRecipe("Locked", [recipeStep("despike", { optional: true })]))).rejects.toThrow(/are locked/);
    const wrong = makeRecipe("Ask", [recipeStep("simplify", { optional: true, asks: ["rotation"] })]);
    await expect(done(shot, wrong)).rejects.toThrow(/it asks for "rotation"/);
    // Shown with what it proposes, it need not be answered.
    await expect(done(shot, wrong, { shown: true })).resolves.toBeDefined();
  });

  test("a step that is off is passed over; what is asked for is answered when it is run", async () => {
    const shot = await capturedSignal();
    const steps = [recipeStep("simplify", { asks: ["rotation"] }), recipeStep("untwist", { on: false })];
    const recipe = readRecipe(recipeToText(makeRecipe("Ask", steps)));
    await expect(done(shot, recipe)).rejects.toThrow(/^Step 1, Simplify: it asks for "rotation", and nothing was said/);
    const coarse = await done(shot, recipe, { answers: { 0: { rotation: 5 } } });
    const fine = await done(shot, recipe, { answers: { 0: { rotation: 0.2 } } });
    expect(coarse.steps).toHaveLength(1);
    expect(coarse.steps[0].report.keysAfter).toBeLessThan(fine.steps[0].report.keysAfter);
  });
});

describe("who and when", () => {
  test("by part, by name with blanks and stars, by side, by what moves, by what is picked, and together", async () => {
    const shot = await halfAWalk();
    expect(findWho(shot, {}, [])).toBeNull();
    expect(findWho(shot, { part: "Legs", side: "left" }, [])).toEqual(["thigh-left", "shin-left", "foot-left", "toes-left"]);
    expect(findWho(shot, { names: ["tail*"] }, [])).toEqual(["tail-1", "tail-2", "tail-3", "tail-4"]);
    expect(findWho(shot, { names: ["UPPER arm_left"] }, [])).toEqual(["upper-arm-left"]);
    expect(findWho(shot, { part: "tail", side: "middle", names: ["*4"] }, [])).toEqual(["tail-4"]);
    expect(findWho(shot, { picked: true, part: "legs" }, ["head", "shin-left"])).toEqual(["shin-left"]);
    const moving = findWho(shot, { moves: true }, []) ?? [];
    expect(moving).toContain("hips");
    expect(moving.length).toBeLessThan(shot.rig.controls.length);
  });

  test("by shares of the shot, by the marked range, and from a landing on", async () => {
    const hop = (await run("convert-blocking", await hopAboard(), { to: "curves" })).shot;
    expect(findWhen(hop, { kind: "whole" }, null)).toBeNull();
    expect(findWhen(hop, { kind: "share", from: 0, to: 0.5 }, null)).toEqual({ start: 1, end: Math.round(1 + (hop.range.end - 1) / 2) });
    expect(findWhen(hop, { kind: "range" }, { start: 3, end: 9 })).toEqual({ start: 3, end: 9 });
    const landing = findWhen(hop, { kind: "from", moment: "landing", flight: 1 }, null);
    const takeOff = findWhen(hop, { kind: "from", moment: "take-off", flight: 1 }, null);
    expect(landing?.start).toBeGreaterThan(takeOff?.start ?? 0);
    expect(landing?.end).toBe(hop.range.end);
    expect(() => findWhen(hop, { kind: "from", moment: "landing", flight: 9 }, null)).toThrow(/there is no landing 9/);
  });
});

describe("the recipes that come along", () => {
  const demo: Readonly<Record<string, () => Promise<Shot> | Shot>> = {
    "Clean a capture": capturedSignal,
    "Finish and loop a walk": halfAWalk,
    "On twos with the camera": waitingOnBoard,
    Overlap: hopAboard,
    "Planted feet": halfAWalk,
    "Hand over to a game engine": waitingOnBoard,
  };

  test.each(shippedRecipes.map((recipe) => [recipe.name, recipe] as const))(
    "%s: read again as it is written, and does something",
    async (name, recipe) => {
      expect(readRecipe(recipeToText(recipe))).toEqual(recipe);
      const before = await demo[name]();
      const { shot, steps } = await done(before, recipe);
      expect(steps).toHaveLength(recipe.steps.length);
      expect(bits(shot)).not.toBe(bits(before));
    },
  );
});

test("handed over, every demo shot has plain keys on every frame, with no pass and no tie left", async () => {
  const recipe = shippedRecipes.find(({ name }) => name.startsWith("Hand over")) as Recipe;
  for (const make of [halfAWalk, hopAboard, handOverTheLantern, capturedSignal, waitingOnBoard]) {
    const before = await make();
    const { shot, drift } = await done(before, recipe);
    expect([shot.name, shot.constraints.length, shot.passes.filter(({ on }) => on).length]).toEqual([before.name, 0, 0]);
    const own = new Set(figureControls(shot.rig).map(({ id }) => id));
    for (const [key, { times }] of Object.entries(shot.base))
      if (times.length > 1 && own.has(splitChannelKey(key).control))
        expect(`${key} ${times.length > times[times.length - 1] - times[0]}`).toBe(`${key} true`);
    expect(Math.max(drift?.turn.amount ?? 0, drift?.place.amount ?? 0)).toBeLessThan(1e-6);
  }
});

describe("what is wrong with a recipe is said, with its step and place", () => {
  const text = (more: object, step: object = {}) =>
    JSON.stringify({
      format: "kneader-recipe",
      version: 1,
      name: "A",
      steps: [{ operation: "untwist" }, { operation: "simplify", ...step }],
      ...more,
    });

  test.each<[string, string, RegExp]>([
    ["no JSON", "{,", /not written as it should be: it makes no sense from line 1/],
    ["something else", '{"format":"kneader-action"}', /^This is no recipe/],
    ["of a newer version", text({ version: 2 }), /made by a newer Kneader \(version 2; this one knows 1\)/],
    ["no steps", text({ steps: [] }), /The recipe: steps should have 1 entries at the least/],
    ["an operation nobody knows", text({}, { operation: "bake-cake" }), /^Step 2 of the recipe is "bake-cake", which is no operation/],
    ["a setting nobody knows", text({}, { settings: { sugar: 1 } }), /^Step 2, Simplify: it has no setting "sugar"/],
    ["a setting out of its range", text({}, { settings: { rotation: -4 } }), /^Step 2, Simplify: .*rotation should not be below 0/],
    ["a query that is none", text({}, { who: { colour: "red" } }), /^The recipe: step 2, who/],
    ["a time that is none", text({}, { when: { kind: "later" } }), /^The recipe: step 2, when/],
  ])("%s", (_, given, message) => {
    expect(() => readRecipe(given)).toThrow(message);
  });

  test("a query that finds nobody names the step, what was looked for, and the parts there are", async () => {
    const recipe = makeRecipe("Wings", [recipeStep("untwist"), recipeStep("simplify", { who: { part: "wings" } })]);
    await expect(done(await capturedSignal(), recipe)).rejects.toThrow(
      /^Step 2, Simplify: nobody here is the part "wings"; the parts are .*legs.*\./,
    );
    const top = makeRecipe("Top", [recipeStep("simplify", { layer: "top" })]);
    await expect(done(await capturedSignal(), top)).rejects.toThrow(/^Step 1, Simplify: the shot has no pass/);
  });
});
