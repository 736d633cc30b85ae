import { expect, type Page, test } from "@playwright/test";
import { card, drag, exportAs, frameField, goToFrame, openDemo, previewed, scope, settled, stillPicture, watchErrors } from "./bench.ts";

/** What is done with the pointer: dragging keys, handles, gaps, bands and the playhead. */

const tray = (page: Page) => page.locator(".curve-plot canvas");

/** Where a key of the first shown curve stands on the screen, from what the shot's file says. */
async function keyPlace(page: Page, channel: string, index: number): Promise<[number, number]> {
  const curve = JSON.parse((await exportAs(page, "Kneader shot")).toString()).shot.base[channel];
  const box = await tray(page).boundingBox();
  if (!box) throw new Error("no curve tray");
  const frame = curve.times[index];
  const end = await page.getByRole("textbox", { name: "Last frame" }).inputValue();
  // The axis as it is fitted to the shot when it opens.
  const margin = Math.max(1, (Number(end) - 1) * 0.04);
  const [start, last] = [1 - margin, Number(end) + margin * 1.6];
  const x = box.x + ((frame - start) / (last - start)) * box.width;
  // Find the key in its column of pixels: picking says when it is hit.
  for (let y = box.y + 4; y < box.y + box.height - 4; y += 5) {
    await page.mouse.click(x, y);
    if ((await scope(page).textContent())?.includes("1 key on 1 curve")) return [x, y];
  }
  throw new Error(`key ${index} of ${channel} is not found`);
}

test("a key dragged in the curve tray previews live, commits as one step, and Esc gives up", async ({ page }) => {
  const errors = watchErrors(page);
  await openDemo(page, "Hop aboard");
  await page.getByRole("button", { name: "Head", exact: true }).click();
  await page.getByRole("button", { name: "Head rotate X", exact: true }).click();
  const at = await keyPlace(page, "head.rotateX", 3);
  const before = (await exportAs(page, "Kneader shot")).toString();

  await drag(page, at, [at[0] + 3, at[1] - 40], async () => {
    await expect(page.getByText("Let go to keep it")).toBeVisible();
    await page.keyboard.press("Escape");
  });
  expect((await exportAs(page, "Kneader shot")).toString()).toBe(before);

  await page.mouse.click(...at);
  await drag(page, at, [at[0], at[1] - 40]);
  const moved = JSON.parse((await exportAs(page, "Kneader shot")).toString()).shot.base["head.rotateX"];
  const was = JSON.parse(before).shot.base["head.rotateX"];
  expect(moved.values[3]).toBeGreaterThan(was.values[3]);
  expect(moved.times).toEqual(was.times);
  await page.keyboard.press("Control+z");
  expect((await exportAs(page, "Kneader shot")).toString()).toBe(before);
  expect(errors).toEqual([]);
});

test("keys are boxed, nudged, and removed", async ({ page }) => {
  await openDemo(page, "Hop aboard");
  await page.getByRole("button", { name: "Tail 2", exact: true }).click();
  const box = await tray(page).boundingBox();
  if (!box) throw new Error("no curve tray");
  await drag(page, [box.x + 30, box.y + 3], [box.x + box.width - 90, box.y + box.height - 3]);
  await expect(scope(page)).toContainText(/\d+ keys on 3 curves/);
  await tray(page).focus();
  await page.keyboard.press("Alt+ArrowRight");
  await expect(page.getByRole("button", { name: "Undo", exact: true })).toBeEnabled();
  await page.keyboard.press("Delete");
  await expect(scope(page)).toContainText("Tail 2");
  const shot = JSON.parse((await exportAs(page, "Kneader shot")).toString()).shot;
  expect(shot.base["tail-2.rotateX"]?.times.length ?? 0).toBeLessThan(10);
});

test("a gap is dragged, rolled, typed; Alt lets later poses stay; nonsense is refused", async ({ page }) => {
  await openDemo(page, "Hop aboard");
  const gap = (from: number, to: number) => page.getByRole("textbox", { name: `Gap from frame ${from} to ${to}` });
  const last = page.getByRole("textbox", { name: "Last frame" });
  const place = await gap(11, 16).boundingBox();
  if (!place) throw new Error("no gap");
  const middle: [number, number] = [place.x + place.width / 2, place.y + place.height / 2];
  // A gap of five frames is so wide on the screen: three frames more.
  const frame = (place.width + 8) / 5;
  await drag(page, middle, [middle[0] + 3.1 * frame, middle[1]]);
  await expect(gap(11, 19)).toBeVisible();
  await expect(last).toHaveValue("49");

  await gap(11, 19).hover();
  await page.mouse.wheel(0, 120);
  await expect(gap(11, 18)).toBeVisible();

  await gap(11, 18).fill("4");
  await gap(11, 18).press("Alt+Enter");
  await expect(gap(11, 15)).toBeVisible();
  await expect(gap(15, 23)).toBeVisible();
  await expect(last).toHaveValue("48");

  for (const bad of ["0", "-3", "1e9", "abc"]) {
    await gap(11, 15).fill(bad);
    await gap(11, 15).press("Enter");
    await expect(page.getByText(`"${bad}" is not. The gap stays 4.`)).toBeVisible();
  }
  await expect(gap(11, 15)).toBeVisible();
});

test("the ruler scrubs, Shift picks a range, a pose is clicked, the wheel zooms", async ({ page }) => {
  await openDemo(page, "Hop aboard");
  const ruler = page.locator(".ruler-plot");
  const box = await ruler.boundingBox();
  if (!box) throw new Error("no ruler");
  await page.mouse.click(box.x + box.width / 2, box.y + 12);
  await expect.poll(async () => Number(await frameField(page).inputValue())).toBeGreaterThan(18);
  await page.keyboard.down("Shift");
  await drag(page, [box.x + 100, box.y + 12], [box.x + 300, box.y + 12]);
  await page.keyboard.up("Shift");
  await expect(scope(page)).toContainText(/frames \d+–\d+/);
  await page.keyboard.press("w");
  await page.getByRole("button", { name: "Pose at frame 16" }).click();
  await expect(frameField(page)).toHaveValue("16");
  const gap = page.getByRole("textbox", { name: "Gap from frame 11 to 16" });
  const before = (await gap.boundingBox())?.width ?? 0;
  await page.mouse.move(box.x + 220, box.y + 12);
  await page.mouse.wheel(0, -400);
  await expect.poll(async () => (await gap.boundingBox())?.width ?? 0).toBeGreaterThan(before * 1.3);
  await page.keyboard.press("f");
  await expect.poll(async () => Math.round((await gap.boundingBox())?.width ?? 0)).toBe(Math.round(before));
});

test("passes: renamed, their long names seen whole, weighed by their band, ranged, put in order, soloed, removed", async ({ page }) => {
  await openDemo(page, "Hop aboard");
  await page.keyboard.press("a");
  await page.keyboard.press("a");
  const row = (name: string) => page.getByRole("region", { name, exact: true });
  await row("Pass 1").getByRole("button", { name: "Pass 1", exact: true }).dblclick();
  const name = page.getByRole("textbox", { name: "Name of the pass" });
  // A name too long for its column is cut, and whole while it is pointed at.
  const LONG = "Lean into the wind before the hop";
  await name.fill(LONG);
  await name.press("Enter");
  const long = row(LONG).getByRole("button", { name: LONG, exact: true });
  const rightOfText = () =>
    long.evaluate((button) => {
      const text = (button.querySelector(".name-text") ?? button).getBoundingClientRect().right;
      return getComputedStyle(button).overflow === "visible" ? text : Math.min(text, button.getBoundingClientRect().right);
    });
  await page.mouse.move(5, 5);
  const cut = await rightOfText();
  await long.hover();
  await expect.poll(rightOfText).toBeGreaterThan(cut + 20);
  await long.dblclick();
  await name.fill("Lean");
  await name.press("Enter");
  await expect(row("Lean")).toBeVisible();

  const band = await row("Lean").locator("svg.band").boundingBox();
  if (!band) throw new Error("no band");
  await drag(page, [band.x + band.width / 2, band.y + 11], [band.x + band.width / 2, band.y - 9]);
  await expect(page.getByRole("textbox", { name: "Weight of Lean, percent" })).toHaveValue("140");
  await drag(page, [band.x + 3, band.y + 11], [band.x + 120, band.y + 11]);
  await expect.poll(async () => (await row("Lean").locator("svg.band").boundingBox())?.x).toBeGreaterThan(band.x + 80);

  const order = () => page.locator(".pass-row .pass-name").allTextContents();
  expect(await order()).toEqual(["Pass 2", "Lean", "Base motion"]);
  const lean = row("Lean").getByRole("button", { name: "Lean", exact: true });
  const grip = await lean.boundingBox();
  if (!grip) throw new Error("no name");
  await drag(page, [grip.x + 15, grip.y + 8], [grip.x + 15, grip.y - 24]);
  await expect.poll(order).toEqual(["Lean", "Pass 2", "Base motion"]);
  await lean.focus();
  await page.keyboard.press("Alt+ArrowDown");
  await expect.poll(order).toEqual(["Pass 2", "Lean", "Base motion"]);

  await page.getByRole("button", { name: "Lean alone" }).click();
  await expect(row("Pass 2")).toHaveClass(/silent/);
  await row("Lean").hover();
  await page.getByRole("button", { name: "Remove Lean" }).click();
  await expect(row("Lean")).toHaveCount(0);
  await page.keyboard.press("Control+z");
  await expect(row("Lean")).toBeVisible();
});

test("channels are filtered by words, values typed with arithmetic", async ({ page }) => {
  await openDemo(page, "Hop aboard");
  const filter = page.getByRole("textbox", { name: "Filter channels" });
  await filter.fill("tail rot y");
  await expect(page.locator(".channel")).toHaveCount(4);
  await filter.fill("nothing such");
  await expect(page.getByText('No channel has "nothing such" in its name.')).toBeVisible();
  await filter.fill("hips move y");
  const value = page.getByRole("textbox", { name: "Hips move Y" });
  await value.fill("0.25");
  await value.press("Enter");
  await value.fill("*2");
  await value.press("Enter");
  await expect(value).toHaveValue("0.500");
  await value.fill("wrong");
  await value.press("Enter");
  await expect(value).toHaveValue("0.500");
});

test("a control is picked in the view, its arc drawn; cameras change", async ({ page }) => {
  await openDemo(page, "Captured signal");
  const view = page.getByRole("region", { name: "View" }).locator("canvas");
  await expect(view).toBeVisible();
  await stillPicture(view);
  const box = await view.boundingBox();
  if (!box) throw new Error("no view");
  await page.mouse.click(box.x + box.width * 0.55, box.y + box.height * 0.62);
  await expect(scope(page)).not.toContainText("Whole figure");
  for (const camera of ["Front", "Side", "Free", "Shot"]) await page.getByText(camera, { exact: true }).click();
  await page.keyboard.press("Escape");
  await expect(scope(page)).toContainText("Whole figure");
});

test("an operation is tried, looked at before and after, cancelled; history goes anywhere", async ({ page }) => {
  await openDemo(page, "Captured signal");
  await goToFrame(page, 60);
  await page.keyboard.press("s");
  await previewed(page);
  const before = card(page).getByRole("button", { name: "See before" });
  await expect(page.getByText("A preview is shown")).toBeVisible();
  await before.hover();
  await page.mouse.down();
  await expect(page.getByText("A preview is shown")).toHaveCount(0);
  await page.mouse.up();
  await expect(page.getByText("A preview is shown")).toBeVisible();
  await page.keyboard.press("Escape");
  await expect(card(page).getByRole("heading", { name: "Rework" })).toBeVisible();
  await expect(page.getByRole("button", { name: "Undo", exact: true })).toBeDisabled();

  await page.keyboard.press("a");
  await page.keyboard.press("a");
  await page.getByRole("button", { name: "History" }).click();
  await page.getByRole("button", { name: /As opened/ }).click();
  await expect(page.getByRole("region", { name: "Pass 1" })).toHaveCount(0);
  await page.getByRole("button", { name: /Add Pass 2/ }).click();
  await expect(page.getByRole("region", { name: "Pass 2" })).toBeVisible();
});

test("shortcuts can be changed, and a taken one moves", async ({ page }) => {
  await page.goto("/settings");
  const simplify = page.getByRole("textbox", { name: "Shortcut of Simplify" });
  await simplify.focus();
  await page.keyboard.press("5");
  await expect(simplify).toHaveValue("5");
  await page.getByRole("textbox", { name: "Shortcut of Reverse" }).focus();
  await page.keyboard.press("5");
  // A taken one is given over only when one says so.
  const dialog = page.getByRole("dialog", { name: '5 is the shortcut of "Simplify"' });
  await dialog.waitFor();
  await settled(page);
  await dialog.getByRole("button", { name: "Leave it" }).click();
  await expect(dialog).toBeHidden();
  await expect(simplify).toHaveValue("5");
  await page.getByRole("textbox", { name: "Shortcut of Reverse" }).blur();
  await page.getByRole("textbox", { name: "Shortcut of Reverse" }).focus();
  await page.keyboard.press("5");
  await dialog.waitFor();
  await settled(page);
  await dialog.getByRole("button", { name: 'Give it to "Reverse"' }).click();
  await expect(simplify).toHaveValue("");
  await page.getByRole("textbox", { name: "Shortcut of Smooth", exact: true }).focus();
  await page.keyboard.press("Space");
  await expect(page.getByText(/cannot be given away/)).toBeVisible();
  await page.goto("/shots/demo-hop-aboard");
  await expect(page.getByRole("region", { name: "Rack" })).toBeVisible();
  await page.keyboard.press("5");
  await expect(card(page).getByRole("heading", { name: "Reverse" })).toBeVisible();
});

test("in the sheet keys are picked by line, boxed, dragged in time; poses that are not complete show", async ({ page }) => {
  const errors = watchErrors(page);
  await openDemo(page, "Hop aboard");
  await page.keyboard.press("d");
  await expect(page.getByRole("button", { name: "All keys" })).toBeVisible();
  await page.getByRole("textbox", { name: "Filter channels" }).fill("tail 2");
  await expect(page.getByRole("button", { name: "Tail 3", exact: true })).toHaveCount(0);
  await page.getByRole("button", { name: "Unfold Tail 2" }).click();
  await expect(page.getByRole("button", { name: "rotate Y", exact: true })).toBeVisible();

  const sheet = await page.locator(".curve-plot canvas").boundingBox();
  const gap = await page.getByRole("textbox", { name: "Gap from frame 11 to 16" }).boundingBox();
  if (!sheet || !gap) throw new Error("no sheet");
  // The line of Tail 2, under the summary; frame 11 is where its gap begins.
  const [x, y] = [gap.x - 4, sheet.y + 34 + 36];
  await page.mouse.click(x, y);
  await expect(scope(page)).toContainText("3 keys on 3 curves");
  await drag(page, [x, y], [x + (2.1 * (gap.width + 8)) / 5, y]);
  const moved = JSON.parse((await exportAs(page, "Kneader shot")).toString()).shot.base;
  expect(moved["tail-2.rotateX"].times).toEqual([1, 6, 13, 16, 21, 26, 31, 36, 41, 46]);
  expect(moved["hips.rotateX"].times).toContain(11);

  await drag(page, [sheet.x + 4, sheet.y + 34 + 26], [sheet.x + 300, sheet.y + 34 + 46]);
  await expect(scope(page)).toContainText(/1\d keys on 3 curves/);
  await page.keyboard.press("Control+z");
  // The filter is one for all trays.
  await page.getByRole("textbox", { name: "Filter channels" }).fill("");
  await page.locator(".curve-plot canvas").focus();
  await page.keyboard.press("d");
  const chart = page.getByRole("img", { name: /^Spacing of/ });
  await expect(chart).toBeVisible();
  await page.getByRole("button", { name: "Hand left", exact: true }).click();
  await expect(page.getByRole("img", { name: /^Spacing of Hand left: at most [\d.]+ mm a frame/ })).toBeVisible();
  await page.keyboard.press("d");
  await expect(page.getByRole("group", { name: "Key marks" })).toBeVisible();
  expect(errors).toEqual([]);
});
