import { expect, type Page, test } from "@playwright/test";
import {
  apply,
  backToShelf,
  card,
  command,
  exportAs,
  frameField,
  goToFrame,
  openDemo,
  openShot,
  previewed,
  reportedKeys,
  saved,
  scope,
  setNumber,
  watchErrors,
} from "./bench.ts";

/** Simplify the whole figure with live preview. */
async function simplifyWhole(page: Page): Promise<void> {
  await page.keyboard.press("s");
  await previewed(page);
  const [before, after] = await reportedKeys(page);
  expect(after).toBeLessThan(before * 0.2);
  // Dragging the tolerance up leaves fewer keys, before anything is applied.
  await card(page).getByRole("slider", { name: "Rotation within slider" }).press("ArrowRight");
  await setNumber(page, "Rotation within", "1.5");
  await expect.poll(async () => (await reportedKeys(page))[1]).toBeLessThan(after);
  await setNumber(page, "Rotation within", "0.5");
  await expect.poll(async () => (await reportedKeys(page))[1]).toBe(after);
  // The worst drift can be gone to.
  await card(page)
    .getByRole("button", { name: /Worst curve|at frame/ })
    .first()
    .click();
  expect(Number(await frameField(page).inputValue())).toBeGreaterThan(1);
  await apply(page);
}

/** Flatten two extremes. */
async function flattenExtremes(page: Page): Promise<void> {
  await page.getByRole("button", { name: "Upper arm left", exact: true }).click();
  await expect(scope(page)).toContainText("Upper arm left · 3 curves");
  await page.keyboard.press("Home");
  for (let n = 0; n < 2; n++) {
    for (let k = 0; k < 3; k++) await page.keyboard.press("Shift+ArrowRight");
    await page.keyboard.press("h");
    await expect(scope(page)).toContainText("keys on");
    await page.getByRole("button", { name: "Make the picked keys flat" }).click();
  }
  await command(page, "whole figure");
  await expect(scope(page)).toContainText("Whole figure");
}

/** A lean in an adding pass, turned up to 150 % and back to 60 %. */
async function leanInAPass(page: Page): Promise<void> {
  await page.keyboard.press("a");
  await expect(scope(page)).toContainText("in Pass 1");
  await page.getByRole("button", { name: "Chest", exact: true }).click();
  const lean = page.getByRole("textbox", { name: "Chest rotate X" });
  await lean.fill("14");
  await lean.press("Enter");
  const weight = page.getByRole("textbox", { name: "Weight of Pass 1, percent" });
  for (const percent of ["150", "60"]) {
    await weight.fill(percent);
    await weight.press("Enter");
    await expect(weight).toHaveValue(percent);
  }
  await page.getByRole("button", { name: "Base motion" }).click();
  await command(page, "whole figure");
}

/** Paste the pose mirrored at another frame. */
async function pasteMirrored(page: Page): Promise<void> {
  await goToFrame(page, 40);
  await page.keyboard.press("c");
  await goToFrame(page, 116);
  await page.keyboard.press("p");
  await previewed(page);
  await expect(card(page).getByRole("textbox", { name: "Pose of frame" })).toHaveValue("40");
  await expect(card(page).getByRole("switch", { name: "Mirrored" })).toBeChecked();
  await apply(page);
}

/** Change a gap from 5 to 3 with ripple. */
async function changeAGap(page: Page): Promise<void> {
  // A pose five frames after another: keyed by hand, as an animator would.
  await goToFrame(page, 111);
  await page.keyboard.press("k");
  await goToFrame(page, 106);
  await page.keyboard.press("k");
  const gap = page.getByRole("textbox", { name: "Gap from frame 106 to 111" });
  await expect(gap).toBeVisible();
  await gap.fill("3");
  await gap.press("Enter");
  await expect(page.getByRole("textbox", { name: "Gap from frame 106 to 109" })).toBeVisible();
  await expect(page.getByRole("textbox", { name: "Last frame" })).toHaveValue("118");
}

/** Reverse a range. */
async function reverseARange(page: Page): Promise<void> {
  await goToFrame(page, 30);
  await page.keyboard.press("[");
  await goToFrame(page, 60);
  await page.keyboard.press("]");
  await expect(scope(page)).toContainText("frames 30–60");
  await page.keyboard.press("r");
  await apply(page);
  await command(page, "whole figure");
}

/** Repeat twice and bake the loop. */
async function repeatAndBake(page: Page): Promise<void> {
  await page.keyboard.press("l");
  await previewed(page);
  await setNumber(page, "Extra rounds", "2");
  await apply(page);
  await expect(page.getByRole("textbox", { name: "Last frame" })).toHaveValue("352");
  await page.keyboard.press("Shift+L");
  await apply(page);
}

/** Bake the passes. */
async function bakeThePasses(page: Page): Promise<void> {
  await page.keyboard.press("b");
  await apply(page);
  await expect(page.getByRole("region", { name: "Pass 1" })).toHaveCount(0);
  await saved(page);
}

/** The lantern that lives in hands and on a hook gets keys of its own, the picture unchanged within 1e-6. */
async function bakeTheLantern(page: Page): Promise<void> {
  await backToShelf(page);
  await openShot(page, "Hand over the lantern");
  const numbers = (file: Buffer) => file.toString().split("Frame Time:")[1].trim().split(/\s+/).map(Number);
  const before = numbers(await exportAs(page, "BVH"));
  await page.keyboard.press("Shift+B");
  await card(page).getByRole("combobox", { name: "Keys" }).click();
  await page.getByTitle("On every frame", { exact: true }).click();
  await previewed(page);
  await expect(card(page).getByText("under 0.01 mm").or(card(page).getByText("0.00 mm"))).toBeVisible();
  await apply(page);
  const after = numbers(await exportAs(page, "BVH"));
  expect(after).toHaveLength(before.length);
  let worst = 0;
  after.forEach((value, i) => {
    // Angles may differ by whole turns.
    const off = Math.abs(value - before[i]) % 360;
    worst = Math.max(worst, Math.min(off, 360 - off));
  });
  expect(worst).toBeLessThan(1e-6);
}

/** Save a range as an action and apply it in another shot. */
async function saveAndApply(page: Page): Promise<void> {
  await goToFrame(page, 20);
  await page.keyboard.press("[");
  await goToFrame(page, 40);
  await page.keyboard.press("]");
  await page.getByRole("button", { name: "Head", exact: true }).click();
  await page.keyboard.press("Shift+S");
  const name = card(page).getByRole("textbox", { name: "Name" });
  await name.fill("Look down and up");
  await apply(page);
  await backToShelf(page);
  await openShot(page, "Captured signal");
  await goToFrame(page, 50);
  await page.getByText("Pantry", { exact: true }).click();
  await page.getByRole("button", { name: /Look down and up/ }).click();
  await page.getByRole("button", { name: "Lay it on Captured signal" }).click();
  await apply(page);
  await expect(page.getByText(/Laid "Look down and up" on 3 curves as keys, frames 50 to 70/)).toBeVisible();
  await expect(page.getByRole("region", { name: "Rack" })).toBeVisible();
}

test("an animator's day: clean a captured shot, layer, mirror, retime, loop, bake, reuse, export, and go back", async ({ page }) => {
  test.setTimeout(300_000);
  const errors = watchErrors(page);
  await openDemo(page, "Captured signal");
  const original = (await exportAs(page, "Kneader shot")).toString();

  await test.step("simplify the whole figure with live preview", () => simplifyWhole(page));
  await test.step("flatten two extremes", () => flattenExtremes(page));
  await test.step("a lean in an adding pass, turned up to 150 % and back to 60 %", () => leanInAPass(page));
  await test.step("paste the pose mirrored at another frame", () => pasteMirrored(page));
  await test.step("change a gap from 5 to 3 with ripple", () => changeAGap(page));
  await test.step("reverse a range", () => reverseARange(page));
  await test.step("repeat twice and bake the loop", () => repeatAndBake(page));
  await test.step("bake the passes", () => bakeThePasses(page));
  await test.step("the lantern gets keys of its own, the picture unchanged within 1e-6", () => bakeTheLantern(page));
  await test.step("save a range as an action and apply it in another shot", () => saveAndApply(page));

  const files: Record<string, Buffer> = {};
  await test.step("export glTF, BVH, CSV and JSON", async () => {
    for (const title of ["glTF, one binary file", "BVH", "CSV table", "Kneader shot"]) files[title] = await exportAs(page, title);
    expect(files["glTF, one binary file"].subarray(0, 4).toString()).toBe("glTF");
    expect(files.BVH.toString()).toMatch(/^HIERARCHY[\s\S]*Frames: 352/);
    expect(files["CSV table"].toString().split("\n")).toHaveLength(352 + 2);
    expect(JSON.parse(files["Kneader shot"].toString()).format).toBe("kneader-shot");
  });

  await test.step("undo everything: equal to the original, bit for bit; redo it all", async () => {
    const undo = page.getByRole("button", { name: "Undo", exact: true });
    let steps = 0;
    while (await undo.isEnabled()) {
      await page.keyboard.press("Control+z");
      steps++;
      expect(steps).toBeLessThan(40);
    }
    expect(steps).toBeGreaterThanOrEqual(12);
    expect((await exportAs(page, "Kneader shot")).toString()).toBe(original);
    for (let n = 0; n < steps; n++) await page.keyboard.press("Control+Shift+z");
    await expect(page.getByRole("button", { name: "Redo", exact: true })).toBeDisabled();
    expect((await exportAs(page, "Kneader shot")).equals(files["Kneader shot"])).toBe(true);
  });

  await test.step("reload: all still there", async () => {
    await saved(page);
    await page.reload();
    await expect(page.getByRole("region", { name: "Rack" })).toBeVisible();
    expect((await exportAs(page, "Kneader shot")).equals(files["Kneader shot"])).toBe(true);
  });

  expect(errors).toEqual([]);
});
