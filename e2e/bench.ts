import { readFile } from "node:fs/promises";
import { expect, type Locator, type Page } from "@playwright/test";

/** What a person does on the shelf and the bench, in their words. */

export async function openShelf(page: Page): Promise<void> {
  await page.goto("/");
  await expect(page.getByRole("heading", { name: "At the landing" })).toBeVisible();
}

export async function openShot(page: Page, name: string): Promise<void> {
  await page.getByRole("button", { name: `Open ${name}` }).click();
  await onBench(page, name);
}

/** Wait until a shot is on the bench; waiting for a place is looked at more often than an expectation. */
async function onBench(page: Page, name: string): Promise<void> {
  await page.getByRole("region", { name: "Rack" }).waitFor();
  await page.locator(".crumbs b").getByText(name, { exact: true }).waitFor();
}

/** Addresses of the demo's shots. */
export const demoIds: Readonly<Record<string, string>> = {
  "Half a walk": "demo-half-a-walk",
  "Hop aboard": "demo-hop-aboard",
  "Hand over the lantern": "demo-hand-over",
  "Captured signal": "demo-captured-signal",
  "Waiting on board": "demo-waiting",
};

/** A demo shot by its address, for what does not begin at the shelf. */
export async function openDemo(page: Page, name: string): Promise<void> {
  await page.goto(`/shots/${demoIds[name]}`);
  await onBench(page, name);
}

export async function backToShelf(page: Page): Promise<void> {
  await page.getByRole("link", { name: "Kneader, to the shelf of shots" }).click();
  await expect(page.getByRole("heading", { name: "At the landing" })).toBeVisible();
}

export const frameField = (page: Page) => page.getByRole("textbox", { name: "Frame", exact: true });
export const card = (page: Page) => page.getByRole("region", { name: "Work card" });
export const scope = (page: Page) => page.getByTestId("scope");

export async function goToFrame(page: Page, frame: number): Promise<void> {
  await frameField(page).fill(String(frame));
  await frameField(page).blur();
  await expect(frameField(page)).toHaveValue(String(frame));
}

/** Find a command by words and run it. */
export async function command(page: Page, words: string): Promise<void> {
  await page.keyboard.press("Control+k");
  const finder = page.getByRole("combobox", { name: "Find a command" });
  await finder.fill(words);
  await finder.press("Enter");
  await expect(finder).toBeHidden();
}

/** Wait until the preview of the operation at hand is there. */
export async function previewed(page: Page): Promise<void> {
  await card(page)
    .getByRole("button", { name: /^(Apply|Save) Enter$/, disabled: false })
    .waitFor({ timeout: 30_000 });
}

export async function apply(page: Page): Promise<void> {
  await previewed(page);
  await card(page)
    .getByRole("button", { name: /^(Apply|Save) Enter$/ })
    .click();
  await expect(card(page).getByRole("heading", { name: "Rework" })).toBeVisible();
}

/** Set a number of the work card. */
export async function setNumber(page: Page, name: string, value: string): Promise<void> {
  const field = card(page).getByRole("textbox", { name, exact: true });
  await field.fill(value);
  await field.press("Tab");
}

/** Keys before and after, as the report says. */
export async function reportedKeys(page: Page): Promise<[number, number]> {
  const text = ((await page.getByTestId("keys-report").textContent()) ?? "").replaceAll(/[\s\u202f]/g, "");
  const [, before, after] = /^(\d+)→(\d+)/.exec(text) ?? [];
  return [Number(before), Number(after)];
}

/** Export the shot on the bench and read the file. */
export async function exportAs(page: Page, title: string): Promise<Buffer> {
  await page.keyboard.press("e");
  const dialog = page.getByRole("dialog", { name: "Export" });
  await dialog.getByRole("radio", { name: title }).check();
  const [download] = await Promise.all([
    page.waitForEvent("download"),
    dialog.getByRole("button", { name: "Export", exact: true }).click(),
  ]);
  const bytes = await readFile(await download.path());
  await dialog.getByRole("button", { name: "Close" }).last().click();
  await expect(dialog).toBeHidden();
  return bytes;
}

export async function saved(page: Page): Promise<void> {
  await expect(page.getByRole("status").filter({ hasText: /Saved here|As saved/ })).toBeVisible();
}

/** Fail on any error the page reports. */
export function watchErrors(page: Page): string[] {
  const errors: string[] = [];
  page.on("pageerror", (error) => errors.push(error.message));
  page.on("console", (message) => {
    if (message.type() === "error") errors.push(message.text());
  });
  return errors;
}

/** Press, drag and let go; `between` looks at the preview while the button is down. */
export async function drag(
  page: Page,
  from: [number, number],
  to: [number, number],
  between?: () => Promise<void>,
  button: "left" | "middle" = "left",
): Promise<void> {
  await page.mouse.move(...from);
  await page.mouse.down({ button });
  await page.mouse.move((from[0] + to[0]) / 2, (from[1] + to[1]) / 2, { steps: 4 });
  await page.mouse.move(...to, { steps: 4 });
  await between?.();
  await page.mouse.up({ button });
}

/** The shot on the bench, as its own file says. */
export async function shotOf(page: Page): Promise<{
  passes: { kind: string; members: string[] | null; settings: Record<string, unknown> }[];
  actions: unknown[];
  base: Record<string, { times: number[]; values: number[]; kindOut: string | string[] }>;
  locked: string[];
  sets: { name: string; channels: string[] }[];
}> {
  return JSON.parse((await exportAs(page, "Kneader shot")).toString()).shot;
}

/** Wait until nothing on the page is on its way in or out. */
export async function settled(page: Page): Promise<void> {
  await page.evaluate(async () => {
    const ends = (animation: Animation) => animation.effect?.getComputedTiming().endTime !== Number.POSITIVE_INFINITY;
    // What ends may begin something else.
    for (let round = 0; round < 5; round++) {
      await new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)));
      const running = document.getAnimations().filter(ends);
      if (running.length === 0) return;
      await Promise.all(running.map((animation) => animation.finished.catch(() => undefined)));
    }
  });
}

/** Wait until a part of the page looks the same twice running, and answer its picture. */
export async function stillPicture(part: Locator): Promise<Buffer> {
  let last = await part.screenshot();
  await expect
    .poll(async () => {
      const now = await part.screenshot();
      const same = now.equals(last);
      last = now;
      return same;
    })
    .toBe(true);
  return last;
}

/** Drag something over something else, so far from its left end, and hold it there. */
export async function dragOver(page: Page, from: Locator, to: Locator, x: number): Promise<void> {
  const [start, end] = [await from.first().boundingBox(), await to.first().boundingBox()];
  if (!start || !end) throw new Error("nothing to drag");
  await page.mouse.move(start.x + 30, start.y + 30);
  await page.mouse.down();
  await page.mouse.move(start.x + 50, start.y + 20, { steps: 2 });
  const gutter = (await page.locator(".ruler-plot").boundingBox())?.x ?? end.x;
  await page.mouse.move(Math.max(end.x, gutter) + x, end.y + Math.min(14, end.height / 2), { steps: 4 });
}
