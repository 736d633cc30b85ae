import { expect, type Page, test } from "@playwright/test";
import { card, command, frameField, goToFrame, openDemo, previewed, saved, scope, shotOf } from "./bench.ts";

/** Keys go where the animator works; numbers that cannot be are refused; nothing is lost over a reload. */

const playing = (page: Page) => page.getByRole("button", { name: "Pause" });

/** Space plays and stops again, whatever was clicked last. */
async function spacePlays(page: Page, after: string): Promise<void> {
  await page.keyboard.press("Space");
  await expect(playing(page), after).toBeVisible();
  await page.keyboard.press("Space");
  await expect(playing(page), after).toBeHidden();
}

test("after a click on a toggle, a pose, a camera, a channel or a list the bench's keys are the bench's", async ({ page }) => {
  await openDemo(page, "Hop aboard");
  await page.getByRole("button", { name: "Arc", exact: true }).click();
  await spacePlays(page, "a toggle");
  await expect(page.getByRole("button", { name: "Arc", exact: true })).toHaveAttribute("aria-pressed", "false");
  await page.getByText("Side", { exact: true }).click();
  await spacePlays(page, "a camera");
  await page.locator("[data-pose='16']").click();
  await spacePlays(page, "a pose");
  await page.getByRole("button", { name: "Tail 3", exact: true }).click();
  await page.keyboard.press("Home");
  await page.keyboard.press("ArrowRight");
  await expect(frameField(page)).toHaveValue("2");
  await page.getByRole("button", { name: "Tail 3 rotate X", exact: true }).click();
  await page.keyboard.press("ArrowRight");
  await expect(frameField(page)).toHaveValue("3");
  await page.getByRole("combobox", { name: "Which poses are shown" }).click();
  await page.getByTitle("Some control has a key", { exact: true }).last().click();
  await page.keyboard.press("ArrowRight");
  await expect(frameField(page)).toHaveValue("4");
  // The filter lets go on Enter and on Esc.
  for (const key of ["Enter", "Escape"]) {
    await page.getByRole("textbox", { name: "Filter channels" }).fill("tail");
    await page.keyboard.press(key);
    await spacePlays(page, `the filter, ${key}`);
  }
});

test("Enter takes a card over and Esc gives it up from any of its fields; opened by key its first field is ready", async ({ page }) => {
  await openDemo(page, "Captured signal");
  await page.keyboard.press("s");
  await expect(card(page).getByRole("textbox", { name: "Rotation within" })).toBeFocused();
  await page.keyboard.press("Escape");
  // What an operation asks for before all else is typed first, though its dial stands at the right.
  await command(page, "scale values");
  await expect(card(page).getByRole("textbox", { name: "Scale, percent" })).toBeFocused();
  await expect(card(page).getByRole("textbox", { name: "Frame", exact: true })).toHaveCount(0);
  await page.keyboard.press("Escape");
  await page.keyboard.press("s");
  await expect(card(page).getByRole("textbox", { name: "Rotation within" })).toBeFocused();
  // The finder opens out of a field, and leaves it as it was.
  await page.keyboard.press("Control+k");
  await expect(page.getByRole("combobox", { name: "Find a command" })).toBeFocused();
  await page.keyboard.press("Escape");
  await card(page).getByRole("textbox", { name: "Rotation within" }).focus();
  // Typed and taken in one go: what is applied is what was typed.
  await page.keyboard.type("2");
  await page.keyboard.press("Enter");
  await expect(card(page).getByRole("heading", { name: "Rework" })).toBeVisible();
  const coarse = Object.values((await shotOf(page)).base).reduce((sum, { times }) => sum + times.length, 0);
  await page.keyboard.press("Control+z");
  await page.keyboard.press("s");
  await previewed(page);
  await page.keyboard.press("Enter");
  const fine = Object.values((await shotOf(page)).base).reduce((sum, { times }) => sum + times.length, 0);
  expect(coarse).toBeLessThan(fine);
  // From a switch, from a closed list, and with a number half typed.
  await page.keyboard.press("p");
  await card(page).getByRole("switch", { name: "Mirrored" }).click();
  await page.keyboard.press("Escape");
  await expect(card(page).getByRole("heading", { name: "Rework" })).toBeVisible();
  await page.keyboard.press("l");
  await card(page).getByRole("combobox", { name: "What it does" }).focus();
  await page.keyboard.press("Escape");
  await expect(card(page).getByRole("heading", { name: "Rework" })).toBeVisible();
  await page.keyboard.press("s");
  await page.keyboard.type("7");
  await page.keyboard.press("Escape");
  await expect(card(page).getByRole("heading", { name: "Rework" })).toBeVisible();
  // In a field of several lines Enter is a line, and Ctrl Enter takes the card over.
  await page.keyboard.press("Shift+S");
  await card(page).getByRole("textbox", { name: "Notes" }).fill("first");
  await page.keyboard.press("Enter");
  await page.keyboard.type("second");
  await expect(card(page).getByRole("heading", { name: /Save as action/ })).toBeVisible();
  await previewed(page);
  await page.keyboard.press("Control+Enter");
  await expect(card(page).getByRole("heading", { name: "Rework" })).toBeVisible();
});

test("a number that cannot be is refused with the reason and not applied; Ctrl A picks keys, Ctrl C says when there is nothing", async ({
  page,
}) => {
  await openDemo(page, "Hop aboard");
  await page.keyboard.press("s");
  await previewed(page);
  await page.keyboard.type("900");
  await page.keyboard.press("Enter");
  await expect(page.getByText(/Rotation within: 900 is more than 90.*It stays 0\.50°/)).toBeVisible();
  await expect(card(page).getByRole("heading", { name: /Simplify/ })).toBeVisible();
  await expect(card(page).getByRole("textbox", { name: "Rotation within" })).toHaveValue("0.50°");
  await page.keyboard.press("Escape");
  await frameField(page).fill("soon");
  await frameField(page).press("Enter");
  await expect(page.getByText(/Frame: "soon" is no number/)).toBeVisible();

  await page.keyboard.press("Control+a");
  await expect(scope(page)).toContainText(/\d+ keys on 150 curves/);
  expect(await page.evaluate(() => window.getSelection()?.toString() ?? "")).toBe("");
  await page.keyboard.press("Escape");
  await page.getByRole("button", { name: "Cap", exact: true }).click();
  await page.keyboard.press("Control+a");
  await expect(scope(page)).toContainText(/and \d+ more/);
  await page.keyboard.press("w");
  await command(page, "show all");
  await page.getByRole("button", { name: "Hook", exact: true }).click();
  await expect(scope(page)).toContainText("never keyed");
  await page.keyboard.press("Control+c");
  await expect(page.getByText(/There is no key to copy here/)).toBeVisible();
});

test("set and camera stay when the figure is retimed, and come along when everything is meant; keys beyond the range are offered room", async ({
  page,
}) => {
  await openDemo(page, "Hop aboard");
  await expect(scope(page)).toHaveText("Whole figure · 150 curves");
  await page.keyboard.press("Shift+E");
  await expect(scope(page)).toHaveText("Everything in the shot · 162 curves");
  await page.keyboard.press("w");
  const before = await shotOf(page);
  await page.getByRole("textbox", { name: "Gap from frame 11 to 16" }).fill("9");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("textbox", { name: "Gap from frame 11 to 20" })).toBeVisible();
  const after = await shotOf(page);
  const moved = Object.keys(before.base).filter((key) => JSON.stringify(before.base[key].times) !== JSON.stringify(after.base[key].times));
  expect(moved.filter((key) => /^(ferry|shot-camera)\./.test(key))).toEqual([]);
  expect(moved.length).toBeGreaterThan(100);

  // A key after the end: said, and the shot is made longer with one click.
  await page.getByRole("button", { name: "Head", exact: true }).click();
  await goToFrame(page, 70);
  const value = page.getByRole("textbox", { name: "Head rotate X" });
  await value.fill("9");
  await value.press("Enter");
  await expect(page.getByText("1 key of Head lies after frame 50, where the shot ends.")).toBeVisible();
  await page.getByRole("button", { name: "End the shot at 70" }).click();
  await expect(page.getByRole("textbox", { name: "Last frame" })).toHaveValue("70");
});

test("the last change and the steps before it are there after a reload", async ({ page }) => {
  await openDemo(page, "Hop aboard");
  await page.getByRole("button", { name: "Chest", exact: true }).click();
  const value = page.getByRole("textbox", { name: "Chest rotate X" });
  for (const degrees of ["5", "11"]) {
    await value.fill(degrees);
    await value.press("Enter");
  }
  await saved(page);
  await page.reload();
  await expect(page.getByRole("region", { name: "Rack" })).toBeVisible();
  await page.getByRole("button", { name: "Chest", exact: true }).click();
  await expect(value).toHaveValue("11.0°");
  const undo = page.getByRole("button", { name: "Undo", exact: true });
  await expect(undo).toBeEnabled();
  await page.keyboard.press("Control+z");
  await expect(value).toHaveValue("5.0°");
  await page.keyboard.press("Control+z");
  await expect(undo).toBeDisabled();
});
