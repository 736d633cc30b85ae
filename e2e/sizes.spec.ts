import AxeBuilder from "@axe-core/playwright";
import { expect, type Page, test } from "@playwright/test";
import { card, command, openDemo, previewed, settled } from "./bench.ts";

/** From a small laptop to a large screen nothing is cut off, the figure is large, and everything is near for the keyboard. */

const sizes = [
  { width: 1024, height: 768 },
  { width: 1280, height: 800 },
  { width: 2560, height: 1440 },
];

/** Words and buttons that are cut off, by what they say; what scrolls may end outside what is seen of it. */
function cutOff(): string[] {
  const found: string[] = [];
  const scrolls = (element: Element) => /auto|scroll/.test(getComputedStyle(element).overflowY + getComputedStyle(element).overflowX);
  const inScroller = (element: Element): boolean => {
    for (let at = element.parentElement; at; at = at.parentElement) if (scrolls(at)) return true;
    return false;
  };
  for (const element of document.querySelectorAll<HTMLElement>(
    ".page button, .page b, .page input, .page label, .page kbd, .page h2, .page .ant-segmented-item-label, .page .quiet",
  )) {
    const box = element.getBoundingClientRect();
    if (box.width === 0 || box.height === 0 || inScroller(element)) continue;
    if (element.closest(".pose-strip, .plot, .curve-plot, .sr-only, .ant-slider")) continue;
    const name = `${element.tagName} ${(element.getAttribute("aria-label") ?? element.textContent ?? "").trim().slice(0, 40)}`;
    if (box.right > innerWidth + 1 || box.bottom > innerHeight + 1 || box.left < -1 || box.top < -1)
      found.push(`${name}: outside the window`);
    for (let at = element.parentElement; at && at !== document.body; at = at.parentElement) {
      if (getComputedStyle(at).overflow === "visible") continue;
      const within = at.getBoundingClientRect();
      if (box.right > within.right + 1.5 || box.bottom > within.bottom + 1.5) found.push(`${name}: beyond ${at.className}`);
      break;
    }
    const style = getComputedStyle(element);
    if (style.overflow !== "visible" && element.tagName !== "INPUT" && element.scrollWidth > element.clientWidth + 1)
      found.push(`${name}: its words end early`);
  }
  return [...new Set(found)];
}

/** The height of the dark figure in the view, as a share of the view's height. */
function figureShare(): number {
  const canvas = document.querySelector<HTMLCanvasElement>(".view-stage canvas");
  if (!canvas) return 0;
  const copy = document.createElement("canvas");
  copy.width = canvas.width;
  copy.height = canvas.height;
  const pen = copy.getContext("2d");
  pen?.drawImage(canvas, 0, 0);
  const { data } = pen?.getImageData(0, 0, copy.width, copy.height) ?? { data: [] };
  let [top, bottom] = [copy.height, 0];
  for (let y = 0; y < copy.height; y++)
    for (let x = 0; x < copy.width; x++) {
      const at = 4 * (y * copy.width + x);
      if (data[at] + data[at + 1] + data[at + 2] > 140) continue;
      top = Math.min(top, y);
      bottom = Math.max(bottom, y);
      break;
    }
  return (bottom - top) / copy.height;
}

async function axe(page: Page): Promise<string[]> {
  const { violations } = await new AxeBuilder({ page })
    .options({ resultTypes: ["violations"] })
    // What else there is does not depend on the size.
    .withRules(["target-size", "scrollable-region-focusable", "color-contrast"])
    .analyze();
  return violations.map(
    ({ id, help, nodes }) =>
      `${id}: ${help}: ${nodes
        .map(({ target }) => target.join(" "))
        .slice(0, 4)
        .join(" | ")}`,
  );
}

for (const size of sizes)
  test(`at ${size.width}x${size.height} nothing is cut off, axe-core is content, and the figure is large`, async ({ page }) => {
    await page.setViewportSize(size);
    await openDemo(page, "Hop aboard");
    await settled(page);
    const look = async (what: string) => {
      await settled(page);
      expect(await page.evaluate(cutOff), what).toEqual([]);
    };
    await look("first steps");
    await page.keyboard.press("o");
    await look("operations");
    // Larger pages have nothing that the smallest has not.
    if (size === sizes[0]) expect(await axe(page), "bench").toEqual([]);
    await page.keyboard.press("Escape");
    await page.keyboard.press("a");
    await look("with a pass");
    for (const key of ["s", "Shift+P", "Shift+O"]) {
      await page.keyboard.press(key);
      await expect(page.locator(".work-body")).toBeVisible();
      await look(`card of ${key}`);
      await page.keyboard.press("Escape");
    }
    for (const layout of ["look", "shape", "balanced"]) {
      await page.keyboard.press("y");
      await expect(page.getByRole("button", { name: `Layout: ${layout}` })).toBeVisible();
      await look(`layout ${layout}`);
    }
    await command(page, "free camera");
    await command(page, "silhouette");
    await page.getByRole("button", { name: "Set", exact: true }).click();
    await page.getByRole("button", { name: "Ghosts", exact: true }).click();
    await page.keyboard.press("f");
    await expect.poll(() => page.evaluate(figureShare)).toBeGreaterThan(1 / 3);
    expect(await page.evaluate(figureShare)).toBeLessThan(1);
  });

test("every control of every card is within six Tabs of where it opens", async ({ page }) => {
  test.setTimeout(240_000);
  await openDemo(page, "Hop aboard");
  // The figure is not looked at: small, it is soon drawn.
  for (const _ of ["look", "shape"]) await page.keyboard.press("y");
  await expect(page.getByRole("button", { name: "Layout: shape" })).toBeVisible();
  await page.keyboard.press("a");
  await command(page, "pick all");
  await command(page, "copy keys");
  await page.keyboard.press("o");
  const titles = (await card(page).locator("dd button").allTextContents()).filter((title, i, all) => all.indexOf(title) === i);
  expect(titles.length).toBeGreaterThan(40);
  const far: string[] = [];
  let opened = 0;
  for (const title of titles) {
    await command(page, title);
    const body = page.locator(".work-body");
    await expect(page.locator(".ant-modal")).toHaveCount(0);
    // What needs something that is not there stays shut.
    if (!(await body.isVisible())) continue;
    opened++;
    const stops = await body.evaluate((element) =>
      [...element.querySelectorAll<HTMLElement>("input:not(:disabled), textarea:not(:disabled), button:not(:disabled), [role=slider]")]
        .filter(({ tabIndex }) => tabIndex >= 0)
        .map((stop) => stop.getAttribute("aria-label") ?? stop.textContent ?? ""),
    );
    // Tab goes round within the card, either way.
    if (stops.length > 13) far.push(`${title}: ${stops.length} stops`);
    await page.keyboard.press("Escape");
  }
  expect(opened).toBeGreaterThan(38);
  expect(far).toEqual([]);
});

test("Tab goes round in a card, from the first field to the last button and back", async ({ page }) => {
  await openDemo(page, "Captured signal");
  await page.keyboard.press("s");
  await previewed(page);
  const name = () => page.evaluate(() => document.activeElement?.getAttribute("aria-label") ?? document.activeElement?.textContent?.trim());
  expect(await name()).toBe("Rotation within");
  // Last come the buttons of the report: it is read after Apply, which is right behind the settings.
  await page.keyboard.press("Shift+Tab");
  expect(await name()).toContain(" → ");
  await page.keyboard.press("Tab");
  expect(await name()).toBe("Rotation within");
  const seen = new Set<string | undefined>();
  for (let n = 0; n < 13; n++) {
    seen.add(await name());
    await page.keyboard.press("Tab");
  }
  for (const stop of ["Position within", "Strength, percent", "Tolerance on", "Tangents", "Keys kept at frames"])
    expect([...seen]).toContain(stop);
});
