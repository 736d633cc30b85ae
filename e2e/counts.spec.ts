import { expect, type Page, test } from "@playwright/test";
import { Actions } from "./actions.ts";
import { backToShelf, card, dragOver, frameField, openDemo, openShot, shotOf } from "./bench.ts";

/** How few actions the work takes: a click, a key, a drag and a typed field are one each. */

const whole = async (page: Page) =>
  (await shotOf(page)) as unknown as {
    base: Record<string, { times: number[]; values: number[] }>;
    passes: { kind: string; name: string; weight: { times: number[]; values: number[] }; curves: Record<string, { times: number[] }> }[];
    range: { end: number };
  };

test("ten gaps changed: 3", async ({ page }) => {
  await openDemo(page, "Hop aboard");
  const act = new Actions(page);
  await act.press("Shift+G");
  await act.type("6 4 3 2 3 hold 8 4 6 7 4");
  await act.apply();
  expect(act.count).toBeLessThanOrEqual(4);
  const { base } = await whole(page);
  expect(base["chest.rotateX"].times).toEqual([1, 7, 11, 14, 16, 19, 27, 31, 37, 44, 48]);
});

test("a capture simplified and played: 3", async ({ page }) => {
  await openDemo(page, "Captured signal");
  const act = new Actions(page);
  await act.press("s");
  await act.apply();
  await act.press("Space");
  await expect(page.getByRole("button", { name: "Pause" })).toBeVisible();
  expect(act.count).toBeLessThanOrEqual(3);
});

test("a lean at 150 %, then at 70 % with two keyed weights: 8", async ({ page }) => {
  await openDemo(page, "Captured signal");
  const act = new Actions(page);
  await act.press("a");
  await act.click(page.getByRole("button", { name: "Chest", exact: true }));
  await act.fill(page.getByRole("textbox", { name: "Chest rotate X" }), "14");
  const weight = page.getByRole("textbox", { name: "Weight of Pass 1, percent" });
  await act.fill(weight, "150");
  await act.press("Shift+K", "End");
  await act.fill(weight, "70");
  expect(act.count).toBeLessThanOrEqual(9);
  const [pass] = (await whole(page)).passes;
  expect(pass.weight.values[0]).toBe(1.5);
  expect(pass.weight.values[pass.weight.values.length - 1]).toBe(0.7);
  expect(pass.weight.times).toHaveLength(2);
  await expect(weight).toHaveValue("70");
});

test("overlap on tail and tassel with a locked hand pass at 70 %, baked: 8", async ({ page }) => {
  await openDemo(page, "Waiting on board");
  const act = new Actions(page);
  await act.click(page.getByRole("button", { name: "Tail 1", exact: true }));
  await act.click(page.getByRole("button", { name: "Tassel 1", exact: true }), "Shift");
  await act.press("Control+k");
  await act.type("overlap");
  await act.press("Enter");
  await act.apply();
  const made = (await whole(page)).passes;
  expect(made.map(({ weight }) => weight.values[0])).toEqual([1, 0.7]);
  await page.keyboard.press("b");
  act.count++;
  await act.apply();
  expect(act.count).toBeLessThanOrEqual(9);
  expect((await whole(page)).passes).toEqual([]);
});

test("on twos with the camera, off and on along the shot: 7", async ({ page }) => {
  await openDemo(page, "Waiting on board");
  const act = new Actions(page);
  await act.press("Shift+O");
  await act.click(card(page).getByRole("switch", { name: "Ride with the camera" }));
  await act.apply();
  const attached = page.getByRole("textbox", { name: /rides along/ });
  for (const [frame, value] of [
    ["20", "0"],
    ["40", "1"],
  ]) {
    await act.fill(frameField(page), frame);
    await act.fill(attached, value);
  }
  expect(act.count).toBeLessThanOrEqual(7);
  const [pass] = (await whole(page)).passes;
  expect(Object.values(pass.curves)[0].times).toEqual(expect.arrayContaining([20, 40]));
});

test("a hop appended after itself: 5", async ({ page }) => {
  await openDemo(page, "Hop aboard");
  const before = await whole(page);
  const act = new Actions(page);
  await act.press("Control+a", "Control+c", "End", "Control+v");
  await act.apply();
  expect(act.count).toBeLessThanOrEqual(5);
  const { base, range } = await whole(page);
  expect(range.end).toBe(91);
  const key = "root.moveX" in base ? "root.moveX" : "ferryman.moveX";
  const gone = ({ values }: { values: number[] }) => values[values.length - 1] - values[0];
  expect(gone(base[key])).toBeCloseTo(2 * gone(before.base[key]), 6);
});

test("an action saved: 3; laid in another shot, carrying on: 3 from the drawer, by one drag", async ({ page }) => {
  await openDemo(page, "Captured signal");
  const act = new Actions(page);
  await act.press("Shift+S");
  await expect(card(page).getByRole("textbox", { name: "Name" })).toBeFocused();
  await act.type("Signal, whole");
  await act.apply();
  expect(act.count).toBe(3);
  await expect(page.getByText(/Saved "Signal, whole"/)).toBeVisible();
  await backToShelf(page);
  await openShot(page, "Waiting on board");
  const before = await shotOf(page);
  const lay = new Actions(page);
  await lay.press("j");
  await lay.type("signal, whole");
  await dragOver(page, page.locator(".drawer").getByRole("button", { name: /Signal, whole/ }), page.locator(".ruler-plot"), 120);
  await expect(page.getByText(/As keys, in place of what is there, frames/)).toBeVisible();
  await expect(page.getByText(/Carries on from where the figure stands/)).toBeVisible();
  await page.mouse.up();
  lay.count++;
  await expect(page.getByText(/Laid "Signal, whole" on .* as keys/)).toBeVisible();
  expect(lay.count).toBeLessThanOrEqual(4);
  expect((await shotOf(page)).base).not.toEqual(before.base);
});

test("an action on the upper body only, over a walk, as a pass: 5", async ({ page }) => {
  await openDemo(page, "Half a walk");
  const act = new Actions(page);
  await act.press("j");
  await act.type("hop aboard");
  await dragOver(
    page,
    page.locator(".drawer").getByRole("button", { name: /Hop aboard/ }),
    page.getByRole("group", { name: "Passes", exact: true }),
    40,
  );
  await expect(page.getByText(/As a pass that plays it, frames/)).toBeVisible();
  await page.mouse.up();
  act.count++;
  await expect(page.getByRole("region", { name: "Hop aboard" })).toBeVisible();
  await act.click(page.getByRole("button", { name: "More for Hop aboard" }));
  await act.click(page.getByRole("menuitem", { name: "Only the upper body" }));
  expect(act.count).toBe(5);
  const { passes } = await shotOf(page);
  const members = passes[0].members as string[];
  expect(members).toContain("head.rotateX");
  expect(members.some((key) => /^(thigh|shin|foot|hips|ferryman|tail)/.test(key))).toBe(false);
});
