import { expect, test } from "@playwright/test";
import { readFile } from "node:fs/promises";
import { Actions } from "./actions.ts";
import { apply, card, command, openDemo, openShelf, previewed, shotOf, watchErrors } from "./bench.ts";

/** What was done to one shot is done to another. */

test("steps of the history become a recipe: put in order, changed, kept, downloaded, and run on another shot as one step", async ({
  page,
}) => {
  const errors = watchErrors(page);
  await openDemo(page, "Captured signal");
  for (const words of ["despike", "simplify"]) {
    await command(page, words);
    await apply(page);
  }
  await page.getByRole("button", { name: "History" }).click();
  await page.getByRole("button", { name: "Make a recipe" }).click();
  const steps = card(page).getByRole("listitem");
  await expect(steps).toHaveCount(2);
  await expect(steps.first()).toContainText("Despike");
  // Made of what was done here it is not tried here, and Enter in its name keeps it: the shot stays as it is.
  const done = (await shotOf(page)).base;
  await expect(card(page)).toContainText("nothing of it is tried here");
  await card(page).getByRole("textbox", { name: "Name of the recipe" }).fill("Few keys");
  await card(page).getByRole("textbox", { name: "Name of the recipe" }).press("Enter");
  await expect(page.getByText('"Few keys" is kept in this browser.').first()).toBeVisible();
  expect((await shotOf(page)).base).toEqual(done);
  // Opened, a step says whom it is for, when, and how.
  await steps
    .nth(1)
    .getByRole("button", { name: /^Simplify/ })
    .click();
  await card(page).getByRole("combobox", { name: "Whom the step is for" }).click();
  await page.getByTitle('the part "legs"').click();
  await card(page).getByRole("textbox", { name: "Rotation within" }).fill("2");
  await card(page).getByRole("textbox", { name: "Rotation within" }).press("Tab");
  await expect(steps.nth(1)).toContainText('the part "legs"');
  await card(page).getByRole("button", { name: "Step 2 earlier" }).click();
  await expect(steps.first()).toContainText("Simplify");
  await card(page).getByRole("switch", { name: "Step 2 is done" }).click();
  await card(page).getByRole("button", { name: "Keep the recipe" }).click();
  await expect(page.getByText('"Few keys" is kept in this browser.').first()).toBeVisible();
  const [file] = await Promise.all([
    page.waitForEvent("download"),
    card(page).getByRole("button", { name: "Download the recipe" }).click(),
  ]);
  const told = JSON.parse(await readFile(await file.path(), "utf8"));
  expect(told.steps.map(({ operation, on, who }: { operation: string; on: boolean; who: object }) => [operation, on, who])).toEqual([
    ["simplify", true, { part: "legs" }],
    ["despike", false, {}],
  ]);
  await page.keyboard.press("Escape");

  await openDemo(page, "Half a walk");
  const before = await shotOf(page);
  await command(page, "recipe");
  await expect(card(page).getByText("Choose a recipe, open a file, or make one of steps in the history.")).toBeVisible();
  await card(page).getByRole("combobox", { name: "Recipe" }).click();
  await page.getByTitle("Few keys").click();
  await previewed(page);
  await expect(card(page)).toContainText('Will do "Few keys": 1 step');
  await apply(page);
  const after = await shotOf(page);
  const changed = Object.keys(before.base).filter((key) => JSON.stringify(before.base[key]) !== JSON.stringify(after.base[key]));
  expect(changed.length).toBeGreaterThan(3);
  expect(changed.every((key) => /^(thigh|shin|foot|toes)-/.test(key))).toBe(true);
  await page.keyboard.press("Control+z");
  expect(JSON.stringify((await shotOf(page)).base)).toBe(JSON.stringify(before.base));

  // A file that is no recipe is told with what is wrong and where; what is at hand stays.
  await command(page, "recipe");
  const broken = JSON.stringify({ ...told, steps: [{ operation: "untwist" }, { operation: "bake-cake" }] });
  await card(page)
    .getByLabel("Recipe file")
    .setInputFiles({ name: "cake.json", mimeType: "application/json", buffer: Buffer.from(broken) });
  await expect(page.getByText(/"cake\.json": Step 2 of the recipe is "bake-cake", which is no operation/)).toBeVisible();
  expect(errors).toEqual([]);
});

test("one recipe on many shots: what fails stops nothing, the way back is one click, and what another tab has is left alone", async ({
  page,
  context,
}) => {
  const errors = watchErrors(page);
  const other = await context.newPage();
  await openDemo(other, "Waiting on board");
  // A page behind another one draws but once a second.
  await page.bringToFront();
  await openShelf(page);
  const act = new Actions(page);
  await act.click(page.getByRole("button", { name: "Run a recipe" }));
  const recipe = {
    format: "kneader-recipe",
    version: 1,
    name: "Lower after landing",
    steps: [
      { operation: "simplify", settings: { rotation: 1 }, asks: ["rotation"] },
      { operation: "shift-values", who: { part: "head" }, when: { kind: "from", moment: "landing" }, settings: { rotation: 3 } },
    ],
  };
  const file = { name: "lower.json", mimeType: "application/json", buffer: Buffer.from(JSON.stringify(recipe)) };
  await page.getByLabel("Recipe file").setInputFiles(file);
  await page.getByRole("textbox", { name: "Rotation within" }).fill("2");
  await page.getByRole("textbox", { name: "Rotation within" }).press("Tab");
  const table = page.getByRole("region", { name: "Shots" });
  for (const name of ["Hop aboard", "Captured signal", "Waiting on board"])
    await act.click(table.getByRole("checkbox", { name: `Choose ${name}` }));
  await act.click(page.getByText("In place", { exact: true }));
  await expect(page.getByText("3 shots will be changed. It is one step in the history of each")).toBeVisible();
  await act.press("Control+Enter");
  // With the recipe chosen and one setting answered.
  expect(act.count).toBe(6);
  await expect(page.getByText("1 of 3 done, 2 failed")).toBeVisible({ timeout: 30_000 });
  const row = (name: string) => table.getByRole("row", { name: new RegExp(name) });
  await expect(row("Captured signal")).toContainText("Step 2, Shift values: there is no landing 1 in the shot.");
  await expect(row("Waiting on board")).toContainText("It is open in another tab");
  await row("Hop aboard").getByRole("button", { name: "Expand row" }).click();
  await expect(table.getByText(/^1\. Simplify: /)).toBeVisible();

  // One step of its own history, there after the page is opened anew.
  await openDemo(page, "Hop aboard");
  await page.getByRole("button", { name: "History" }).click();
  await expect(page.getByRole("button", { name: /Did "Lower after landing": 2 steps/ })).toHaveAttribute("aria-current", "true");
  await page.keyboard.press("Escape");
  const after = await shotOf(page);

  // As new shots, all of which go again; in place, what was changed meanwhile is not undone.
  await page.goto("/recipes");
  await page.getByRole("combobox", { name: "Recipe" }).click();
  await page.getByTitle("Clean a capture").click();
  for (const name of ["Hop aboard", "Captured signal"]) await table.getByRole("checkbox", { name: `Choose ${name}` }).check();
  await page.getByRole("button", { name: "Run on 2 shots" }).click();
  await expect(page.getByText("2 of 2 done")).toBeVisible({ timeout: 30_000 });
  await expect(table.getByRole("link", { name: "Open Captured signal, Clean a capture" })).toBeVisible();
  await page.getByRole("button", { name: "Undo all" }).click();
  await expect(row("Captured signal").getByText("put back")).toBeVisible();
  await expect(table.getByRole("row")).toHaveCount(6);
  await page.getByText("In place", { exact: true }).click();
  await page.getByRole("button", { name: "Run on 2 shots" }).click();
  await expect(page.getByText("2 of 2 done")).toBeVisible({ timeout: 30_000 });
  await page.getByRole("button", { name: "Undo all" }).click();
  await expect(row("Captured signal").getByText("put back")).toBeVisible();
  await openDemo(page, "Hop aboard");
  expect(JSON.stringify((await shotOf(page)).base) === JSON.stringify(after.base)).toBe(true);
  expect(errors).toEqual([]);
});
