import { expect, test } from "@playwright/test";
import { readFile } from "node:fs/promises";
import { apply, card, command, openDemo, previewed, shotOf, watchErrors } from "./bench.ts";

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
  await card(page).getByRole("textbox", { name: "Name of the recipe" }).fill("Few keys");
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
  await expect(page.getByText('"Few keys" is kept in this browser.')).toBeVisible();
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
