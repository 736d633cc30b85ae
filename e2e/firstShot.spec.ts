import { expect, type Page, test } from "@playwright/test";
import {
  apply,
  card,
  command,
  frameField,
  openDemo,
  openShelf,
  openShot,
  previewed,
  saved,
  setNumber,
  shotOf,
  watchErrors,
} from "./bench.ts";

/** The walk of docs/first-shot.md, once from the keyboard alone and once with the mouse. */

const LIST = "6 4 3 2 3 · hold 8 · 4";
const HEAD = "upper-arm-left.rotateX";

/** What both walks have made of "Hop aboard". */
async function expectHopRetimed(page: Page): Promise<void> {
  const { base } = await shotOf(page);
  const frames = [1, 7, 11, 14, 16, 19];
  expect(base[HEAD].times.slice(0, 6)).toEqual(frames);
  const kinds = [base[HEAD].kindOut].flat();
  expect(kinds).not.toContain("stepped");
}

/** What both have made of "Half a walk": a whole cycle that repeats and travels. */
async function expectWalkWhole(page: Page): Promise<void> {
  const shot = await shotOf(page);
  const hips = shot.base["upper-leg-left.rotateX"] ?? Object.values(shot.base)[3];
  expect(hips.times[hips.times.length - 1]).toBe(25);
  expect(JSON.stringify(shot.base)).toContain('"travel"');
}

async function tabTo(page: Page, name: RegExp, most = 60): Promise<void> {
  for (let n = 0; n < most; n++) {
    await page.keyboard.press("Tab");
    const label = await page.evaluate(
      () => document.activeElement?.getAttribute("aria-label") ?? document.activeElement?.textContent ?? "",
    );
    if (name.test(label.trim())) return;
  }
  throw new Error(`No ${name} within ${most} tabs`);
}

test("the first shot from the keyboard alone", async ({ page }) => {
  const errors = watchErrors(page);
  await openShelf(page);
  await tabTo(page, /^Open Hop aboard$/);
  await page.keyboard.press("Enter");
  await expect(page.locator(".crumbs b")).toHaveText("Hop aboard");

  await page.keyboard.press("v");
  await previewed(page);
  await page.keyboard.press("Enter");
  await expect(card(page).getByRole("heading", { name: "Rework" })).toBeVisible();

  await page.keyboard.press("Shift+G");
  // The list stands there, all of it selected: typing replaces it.
  await expect(card(page).getByRole("textbox", { name: "Gaps" })).toBeFocused();
  await page.keyboard.type(LIST);
  await previewed(page);
  await page.keyboard.press("Enter");
  await expect(card(page).getByRole("heading", { name: "Rework" })).toBeVisible();

  await page.keyboard.press("Space");
  await expect(page.getByRole("button", { name: "Pause" })).toBeVisible();
  await page.keyboard.press("Space");
  await expect(page.getByRole("button", { name: "Play", exact: true })).toBeVisible();
  await expectHopRetimed(page);

  // On twos, and off again.
  await page.keyboard.press("Shift+O");
  await previewed(page);
  await page.keyboard.press("Enter");
  await expect(page.getByRole("region", { name: "Stepping" })).toBeVisible();
  await page.keyboard.press("m");
  await expect(page.getByRole("button", { name: "Stepping on" })).toHaveAttribute("aria-pressed", "false");

  // The shelf, and half a walk made whole.
  await command(page, "shots shelf");
  await expect(page.getByRole("heading", { name: "At the landing" })).toBeVisible();
  await tabTo(page, /^Open Half a walk$/);
  await page.keyboard.press("Enter");
  await expect(page.locator(".crumbs b")).toHaveText("Half a walk");
  await makeWalkWhole(page);
  await expectWalkWhole(page);
  await saved(page);
  expect(errors).toEqual([]);
});

/** Nine keys: pick, copy, go, paste mirrored, apply, close, apply, repeat, apply. */
async function makeWalkWhole(page: Page): Promise<void> {
  await page.keyboard.press("Control+a");
  await page.keyboard.press("Control+c");
  await page.keyboard.press("End");
  for (const key of ["Shift+M", "Shift+C", "l"]) {
    await page.keyboard.press(key);
    await previewed(page);
    await page.keyboard.press("Enter");
    await expect(card(page).getByRole("heading", { name: "Rework" })).toBeVisible();
  }
}

test("the first shot with the mouse", async ({ page }) => {
  const errors = watchErrors(page);
  await openDemo(page, "Hop aboard");
  await page.getByRole("button", { name: "To the operations" }).click();
  const choose = (title: string) => card(page).getByRole("button", { name: title, exact: true }).first().click();

  await choose("Stepped or curves");
  await apply(page);
  await page.getByRole("button", { name: "Gaps, as a list" }).click();
  await expect(card(page).getByRole("textbox", { name: "Gaps" })).toBeFocused();
  await page.keyboard.type(LIST);
  await apply(page);

  await page.getByRole("button", { name: "Play", exact: true }).click();
  await page.getByRole("button", { name: "Pause" }).click();
  await expectHopRetimed(page);

  // A gap is dragged: later poses come along.
  const gap = page.getByRole("textbox", { name: "Gap from frame 1 to 7" });
  const box = await gap.boundingBox();
  if (!box) throw new Error("no gap");
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 + 30, box.y + box.height / 2, { steps: 4 });
  await page.mouse.up();
  await expect(page.getByRole("textbox", { name: "Gap from frame 1 to 7" })).toBeHidden();
  await page.keyboard.press("Control+z");

  await choose("Stepping");
  await apply(page);
  await page.getByRole("button", { name: "Stepping on" }).click();
  await expect(page.getByRole("button", { name: "Stepping on" })).toHaveAttribute("aria-pressed", "false");
  // Space plays after a click on a switch, and does not press it again.
  await page.keyboard.press("Space");
  await expect(page.getByRole("button", { name: "Pause" })).toBeVisible();
  await page.keyboard.press("Space");
  await expect(page.getByRole("button", { name: "Stepping on" })).toHaveAttribute("aria-pressed", "false");

  await page.getByRole("link", { name: "Kneader, to the shelf of shots" }).click();
  await openShot(page, "Half a walk");
  await command(page, "pick all keys");
  await command(page, "copy keys");
  await page.getByRole("button", { name: "Last frame", exact: true }).click();
  await command(page, "mirror keys");
  await apply(page);
  await choose("Close the cycle");
  await apply(page);
  await choose("Run-in and run-out");
  await setNumber(page, "Extra rounds", "2");
  await apply(page);
  await expect(frameField(page)).toHaveValue("13");
  await expectWalkWhole(page);
  expect(errors).toEqual([]);
});
