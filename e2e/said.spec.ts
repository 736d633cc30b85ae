import { expect, type Page, test } from "@playwright/test";
import { command, drag, goToFrame, openDemo, previewed, shotOf, watchErrors } from "./bench.ts";

/** What a drag in the view will key is said before the press, and nothing else is keyed. */

const stage = (page: Page) => page.locator(".view-stage canvas");
const said = (page: Page) => page.locator(".mark-note");

/** Frames at which curves of the base motion differ between two states. */
function changedFrames(
  before: Record<string, { times: number[]; values: number[] }>,
  after: Record<string, { times: number[]; values: number[] }>,
): number[] {
  const found = new Set<number>();
  for (const key of new Set([...Object.keys(before), ...Object.keys(after)])) {
    const [a, b] = [before[key], after[key]].map((curve) => new Map(curve?.times.map((time, n) => [time, curve.values[n]])));
    for (const time of new Set([...a.keys(), ...b.keys()]))
      if (!a.has(time) || !b.has(time) || Math.abs((a.get(time) as number) - (b.get(time) as number)) > 1e-6) found.add(time);
  }
  return [...found].sort((x, y) => x - y);
}

/** Numbers that look like chance and are the same each time. */
function chance(seed: number): () => number {
  let at = seed;
  return () => {
    at = (at * 16807) % 2147483647;
    return at / 2147483647;
  };
}

/** Pick a control by its name in the list. */
async function pickByName(page: Page, name: string, more = false): Promise<void> {
  const filter = page.getByRole("textbox", { name: "Filter channels" });
  await filter.fill(name);
  await page
    .locator(".control-name")
    .filter({ hasText: new RegExp(`^${name}$`) })
    .click(more ? { modifiers: ["Control"] } : {});
  await filter.fill("");
  await filter.press("Enter");
}

/** A spot of the picture at which something is said, from random ones. */
async function spotWithWord(page: Page, next: () => number): Promise<[number, number]> {
  const box = await stage(page).boundingBox();
  if (!box) throw new Error("no view");
  for (let n = 0; n < 60; n++) {
    const at: [number, number] = [box.x + box.width * (0.2 + 0.6 * next()), box.y + box.height * (0.12 + 0.7 * next())];
    await page.mouse.move(...at);
    await page.evaluate(() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done))));
    if (await said(page).isVisible()) return at;
  }
  throw new Error("nothing is said anywhere");
}

// Every camera in two shots, at least once with an end that reaches: the others would say no more.
for (const [name, frame, pick, led, cameras] of [
  ["Hand over the lantern", 45, ["Foot left"], "Hand right", ["Shot", "Side"]],
  ["Waiting on board", 20, ["Head", "Hand right"], null, ["Front", "Free"]],
  ["Half a walk", 7, ["Hips", "Foot right"], "Foot right", ["Free", "Front"]],
  ["Hop aboard", 16, ["Tail 2"], "Hand left", ["Side", "Shot"]],
] as const)
  test(`${name}, with arcs of ${pick.join(" and ")}${led ? `, ${led} reaching` : ""}, through ${cameras.join(" and ")}: a drag keys the frame that was said`, async ({
    page,
  }) => {
    const errors = watchErrors(page);
    await openDemo(page, name);
    await goToFrame(page, frame);
    if (led) {
      await pickByName(page, led);
      await command(page, "reach");
      await previewed(page);
      await page.keyboard.press("Enter");
      await expect(page.getByRole("heading", { name: "Rework" })).toBeVisible();
    }
    for (const [n, words] of pick.entries()) await pickByName(page, words, n > 0);
    const next = chance(frame * 7 + 3);
    let before = (await shotOf(page)).base;
    let keyed = 0;
    for (const camera of cameras) {
      await page.getByRole("region", { name: "View" }).getByText(camera, { exact: true }).click();
      const [x, y] = await spotWithWord(page, next);
      const word = Number(/frame\s*(-?[\d.]+)/.exec((await said(page).textContent()) ?? "")?.[1]);
      const isPart = await said(page).evaluate((note) => note.classList.contains("part"));
      // On a part of the figure as it stands it is the playhead's frame.
      if (isPart) expect(word).toBe(frame);
      await drag(page, [x, y], [x + 10, y - 8]);
      const after = (await shotOf(page)).base;
      const changed = changedFrames(before, after);
      expect(changed.filter((time) => Math.abs(time - word) > 1e-6)).toEqual([]);
      keyed += changed.length;
      before = after;
      await goToFrame(page, frame);
    }
    expect(keyed).toBeGreaterThan(0);
    expect(errors).toEqual([]);
  });

test("an end that reaches is pulled by its goal, whose mark is picked and dragged too", async ({ page }) => {
  const errors = watchErrors(page);
  await openDemo(page, "Half a walk");
  await page.getByRole("region", { name: "View" }).getByText("Front", { exact: true }).click();
  await goToFrame(page, 7);
  await pickByName(page, "Hand left");
  await command(page, "reach");
  await previewed(page);
  await page.keyboard.press("Enter");
  await expect(page.getByRole("heading", { name: "Rework" })).toBeVisible();
  const box = await stage(page).boundingBox();
  if (!box) throw new Error("no view");
  let at: [number, number] | null = null;
  for (let y = box.y + 40; y < box.y + box.height - 60 && !at; y += 9)
    for (let x = box.x + box.width * 0.2; x < box.x + box.width * 0.8 && !at; x += 9) {
      await page.mouse.move(x, y);
      const word = await page.evaluate(
        () => new Promise((done) => requestAnimationFrame(() => done(document.querySelector(".mark-note")?.textContent ?? ""))),
      );
      if (/Hand left goal/.test(String(word))) at = [x, y];
    }
  if (!at) throw new Error("the goal is not to be found");
  await page.mouse.click(...at);
  await expect(page.getByTestId("scope")).toContainText("Hand left goal");
  const before = (await shotOf(page)).base;
  await drag(page, at, [at[0] + 12, at[1] - 10]);
  const after = (await shotOf(page)).base;
  expect(Object.keys(after).filter((key) => JSON.stringify(after[key]) !== JSON.stringify(before[key]))).toEqual(
    expect.arrayContaining(["hand-left-goal.moveY"]),
  );
  expect(errors).toEqual([]);
});
