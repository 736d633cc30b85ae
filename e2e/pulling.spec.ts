import { expect, type Page, test } from "@playwright/test";
import { command, drag, exportAs, frameField, goToFrame, openDemo, previewed, scope, shotOf, watchErrors } from "./bench.ts";

/** Posing in the view: a part of the figure is dragged, and the difference lands in the chosen layer. */

const stage = (page: Page) => page.locator(".view-stage canvas");
const passesOf = async (page: Page) =>
  (
    (await shotOf(page)) as unknown as {
      passes: { curves: Record<string, { times: number[]; values: number[] }> }[];
    }
  ).passes;

/** A spot near the top of the figure: there the cursor offers to take hold. */
async function topOf(page: Page): Promise<[number, number]> {
  const box = await stage(page).boundingBox();
  if (!box) throw new Error("no view");
  for (const share of [0.63, 0.6, 0.57, 0.54])
    for (let y = box.y + 50; y < box.y + box.height - 120; y += 6) {
      const x = box.x + box.width * share;
      await page.mouse.move(x, y);
      if ((await stage(page).evaluate((canvas) => canvas.style.cursor)) === "grab") return [x, y + 6];
    }
  throw new Error("nothing of the figure is there");
}

test("a part pulled in the view turns, with Alt what it hangs on reaches; Esc and undo leave no trace", async ({ page }) => {
  const errors = watchErrors(page);
  await openDemo(page, "Waiting on board");
  const file = (await exportAs(page, "Kneader shot")).toString();
  const [x, y] = await topOf(page);

  await drag(page, [x, y], [x - 18, y + 14], async () => {
    await expect(page.getByText("Let go to keep it")).toBeVisible();
    await page.keyboard.press("Escape");
  });
  expect((await exportAs(page, "Kneader shot")).toString()).toBe(file);

  // A press that goes nowhere only picks.
  await page.mouse.click(x, y);
  await expect(scope(page)).not.toContainText("Whole figure");
  expect((await exportAs(page, "Kneader shot")).toString()).toBe(file);

  const before = (await shotOf(page)).base;
  await drag(page, [x, y], [x - 18, y + 14]);
  const turned = (await shotOf(page)).base;
  const changed = Object.keys(turned).filter((key) => JSON.stringify(turned[key]) !== JSON.stringify(before[key]));
  expect(new Set(changed.map((key) => key.replace(/\.\w+$/, ""))).size).toBe(1);
  expect(changed.every((key) => key.includes(".rotate") && turned[key].times.includes(1))).toBe(true);
  await page.keyboard.press("Control+z");
  expect((await exportAs(page, "Kneader shot")).toString()).toBe(file);

  await page.keyboard.down("Alt");
  await drag(page, [x, y], [x - 18, y + 14]);
  await page.keyboard.up("Alt");
  const reached = (await shotOf(page)).base;
  const others = Object.keys(reached).filter((key) => JSON.stringify(reached[key]) !== JSON.stringify(before[key]));
  expect(others.length).toBeGreaterThan(0);
  expect(others.some((key) => changed.includes(key))).toBe(false);
  expect(errors).toEqual([]);
});

test("in a pass one pull changes the whole shot, in a range it is a nudge, and what takes no keys says so", async ({ page }) => {
  const errors = watchErrors(page);
  await openDemo(page, "Waiting on board");
  const { base } = await shotOf(page);
  await page.keyboard.press("a");
  await expect(page.getByText("into Pass 1", { exact: true })).toBeVisible();
  const [x, y] = await topOf(page);
  await drag(page, [x, y], [x - 18, y + 14]);
  const [lean] = await passesOf(page);
  expect(Object.values(lean.curves).map(({ times }) => times)).toEqual([[1], [1], [1]]);

  await page.keyboard.press("a");
  await goToFrame(page, 20);
  await page.keyboard.press("[");
  await goToFrame(page, 40);
  await page.keyboard.press("]");
  await goToFrame(page, 30);
  await expect(page.getByText("into Pass 2, 20–40")).toBeVisible();
  const [u, v] = await topOf(page);
  await drag(page, [u, v], [u + 14, v + 18]);
  const [same, nudge] = await passesOf(page);
  expect(same).toEqual(lean);
  for (const { times, values } of Object.values(nudge.curves)) {
    expect(times).toEqual([20, 30, 40]);
    expect([values[0], values[2]]).toEqual([0, 0]);
  }
  expect(Object.values(nudge.curves).some(({ values }) => Math.abs(values[1]) > 0.5)).toBe(true);
  expect((await shotOf(page)).base).toEqual(base);
  await expect(frameField(page)).toHaveValue("30");

  await command(page, "tremor");
  await previewed(page);
  await drag(page, [u, v], [u + 14, v + 18]);
  await expect(page.getByText("Tremor is being tried. Apply or cancel it")).toBeVisible();
  await expect(page.getByText("A preview is shown")).toBeVisible();
  await page.keyboard.press("Enter");
  await expect(page.getByText("takes no keys")).toBeVisible();
  const steps = await passesOf(page);
  await drag(page, [u, v], [u + 14, v + 18]);
  await expect(page.getByText("is worked out and takes no keys")).toBeVisible();
  expect(await passesOf(page)).toEqual(steps);
  expect(errors).toEqual([]);
});
