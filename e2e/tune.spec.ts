import { expect, test } from "@playwright/test";
import { card, command, drag, openDemo, previewed, saved, shotOf, watchErrors } from "./bench.ts";

/** The machine moves the keys there are, watched and steered. */

test("a capture is tuned: found, watched, steered while it goes on, painted, kept when it is good enough: 3", async ({ page }) => {
  const errors = watchErrors(page);
  await openDemo(page, "Captured signal");
  const before = await shotOf(page);
  await command(page, "tune");
  const strain = page.getByRole("region", { name: "Strain" });
  await expect(strain).toBeVisible();
  // It is seen to get better while it goes on.
  await expect(strain.getByRole("button", { name: /^Jerk −\d+ %$/ })).toBeVisible();
  await expect(card(page)).toContainText("It is still getting better. Enter keeps what there is so far.");
  const jerk = async () => Number(/−(\d+) %/.exec((await strain.getByRole("button", { name: /^Jerk/ }).textContent()) ?? "")?.[1] ?? 0);
  await expect.poll(jerk).toBeGreaterThan(30);

  // Another weight while it goes on: it goes on from there and does not begin anew.
  const sofar = await jerk();
  await card(page).getByRole("switch", { name: "Sliding feet" }).focus();
  await page.keyboard.press("ArrowRight");
  await expect(card(page).getByRole("textbox", { name: "Weight of sliding feet" })).toHaveValue("1.1");
  expect(await jerk()).toBeGreaterThan(sofar / 2);

  // Painted, those frames stay within a tenth of a degree; the others go on.
  const plot = await strain.getByRole("img").boundingBox();
  if (!plot) throw new Error("no strips");
  const lane = plot.y + plot.height - 8;
  await drag(page, [plot.x + 120, lane], [plot.x + 240, lane]);
  await expect(strain.getByRole("img")).toHaveAccessibleName(/; 1 spans? painted$/);
  // What is wrong at a frame is said in words.
  await page.mouse.move(plot.x + 300, plot.y + 26);
  await expect(strain.getByText(/ is jerked by [\d.]+ mm a frame, each frame$/)).toBeVisible();
  // It stays within the strips, wherever the pointer is.
  for (const share of [0.06, 0.5, 0.93]) {
    await page.mouse.move(plot.x + share * plot.width, plot.y + 8);
    const note = strain.locator(".strain-said");
    await expect(note).toBeVisible();
    const said = await note.boundingBox();
    if (!said) throw new Error("nothing is said any more");
    expect(said.x).toBeGreaterThanOrEqual(plot.x - 1);
    expect(said.x + said.width).toBeLessThanOrEqual(plot.x + plot.width + 1);
  }
  await expect.poll(jerk).toBeGreaterThan(30);

  await page.keyboard.press("Enter");
  await expect(card(page).getByRole("heading", { name: "Rework" })).toBeVisible();
  await expect(strain).toBeHidden();
  const after = await shotOf(page);
  for (const [key, { times }] of Object.entries(before.base)) expect(after.base[key].times).toEqual(times);
  expect(JSON.stringify(after.base)).not.toBe(JSON.stringify(before.base));
  await page.keyboard.press("Control+z");
  expect(JSON.stringify((await shotOf(page)).base)).toBe(JSON.stringify(before.base));
  expect(errors).toEqual([]);
});

test("tuned to its end; a paint stroke is given up with Esc; painted by numbers; nothing left to move is said", async ({ page }) => {
  await openDemo(page, "Half a walk");
  await command(page, "tune");
  await expect(card(page).getByRole("textbox", { name: "Closeness" })).toBeVisible();
  await previewed(page);
  await expect(card(page).getByText("It is still getting better")).toBeHidden({ timeout: 30_000 });
  await expect(card(page)).toContainText(/Will tune \d+ keys: less jerk, sliding feet, crooked arcs/);
  const plot = await page.getByRole("region", { name: "Strain" }).getByRole("img").boundingBox();
  if (!plot) throw new Error("no strips");
  const lane = plot.y + plot.height - 8;
  await page.mouse.move(plot.x + 60, lane);
  await page.mouse.down();
  await page.mouse.move(plot.x + 160, lane, { steps: 3 });
  await page.keyboard.press("Escape");
  await page.mouse.up();
  await expect(page.getByRole("region", { name: "Strain" }).getByRole("img")).toHaveAccessibleName(/; 0 spans painted$/);
  // All painted as close as can be by numbers: nothing moves by more than a hundredth of a degree.
  await card(page).getByRole("textbox", { name: "Closeness" }).fill("1000");
  await card(page).getByRole("textbox", { name: "Closeness" }).press("Tab");
  await expect(card(page)).toContainText("turn under 0.01°");
  // Every cost switched off, one by one from the keyboard.
  await card(page).getByRole("switch", { name: "Jerk" }).focus();
  for (const [n, key] of ["Space", "ArrowDown", "Space", "ArrowDown", "Space"].entries()) await page.keyboard.press(key, { delay: n });
  await expect(card(page).getByRole("alert")).toHaveText(/nothing is to get better/);
  await page.keyboard.press("Escape");
  await expect(card(page).getByRole("heading", { name: "Rework" })).toBeVisible();
  await saved(page);
});
