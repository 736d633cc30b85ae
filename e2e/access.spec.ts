import AxeBuilder from "@axe-core/playwright";
import { expect, type Page, test } from "@playwright/test";
import { card, command, openShelf, openShot, previewed, scope, settled } from "./bench.ts";

/** What is seriously wrong with a page, or with what has come onto it; another theme has other colours and nothing else. */
async function serious(page: Page, colours: "all" | "colours" = "all", part?: string): Promise<string[]> {
  const whole = new AxeBuilder({ page }).options({ resultTypes: ["violations"] });
  const axe = part ? whole.include(part) : whole;
  const wanted =
    colours === "all" ? axe.withTags(["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"]) : axe.withRules(["color-contrast"]);
  const { violations } = await wanted.analyze();
  return violations
    .filter(({ impact }) => impact === "serious" || impact === "critical")
    .map(
      ({ id, help, nodes }) =>
        `${id}: ${help}: ${nodes
          .map(({ target }) => target.join(" "))
          .slice(0, 4)
          .join(" | ")}`,
    );
}

for (const theme of ["light", "dusk"])
  test(`axe-core finds nothing serious on shelf and bench, ${theme} theme`, async ({ page }) => {
    const what = theme === "light" ? "all" : "colours";
    await openShelf(page);
    if (theme === "dusk") await page.getByRole("button", { name: "Dusk theme" }).click();
    await expect(page.locator("html")).toHaveAttribute("data-theme", theme);
    expect(await serious(page, what), "shelf").toEqual([]);

    await openShot(page, "Hop aboard");
    await page.keyboard.press("a");
    await expect(page.getByRole("region", { name: "Pass 1" })).toBeVisible();
    expect(await serious(page, what), "bench").toEqual([]);
    await page.getByRole("button", { name: "Base motion" }).click();
    await page.keyboard.press("s");
    await expect(card(page).getByRole("heading", { name: "Simplify" })).toBeVisible();
    await settled(page);
    expect(await serious(page, what, ".work"), "work card").toEqual([]);
    await page.keyboard.press("Escape");
    if (theme === "dusk") return;
    await page.keyboard.press("e");
    await expect(page.getByRole("dialog", { name: "Export" })).toBeVisible();
    await settled(page);
    expect(await serious(page, what, ".ant-modal"), "export").toEqual([]);
    await page.keyboard.press("Escape");
    await expect(page.getByRole("dialog", { name: "Export" })).toBeHidden();
    await page.keyboard.press("Control+k");
    await expect(page.getByRole("combobox", { name: "Find a command" })).toBeVisible();
    await settled(page);
    expect(await serious(page, what, ".ant-modal"), "finder").toEqual([]);
    await page.keyboard.press("Escape");
    await page.getByRole("button", { name: "History" }).click();
    await settled(page);
    expect(await serious(page, what, ".ant-drawer"), "history").toEqual([]);
  });

for (const theme of ["light", "dusk"])
  test(`axe-core finds nothing serious on the pages beside the bench, ${theme} theme`, async ({ page }) => {
    const what = theme === "light" ? "all" : "colours";
    await openShelf(page);
    if (theme === "dusk") await page.getByRole("button", { name: "Dusk theme" }).click();
    await expect(page.locator("html")).toHaveAttribute("data-theme", theme);
    await openShot(page, "Hop aboard");
    await page.getByText("Compare", { exact: true }).click();
    await expect(page.getByRole("region", { name: /^Left: / })).toBeVisible();
    await settled(page);
    expect(await serious(page, what), "compare").toEqual([]);

    await page.getByText("Rig", { exact: true }).click();
    await expect(page.getByText("Everything lands on its reflection.")).toBeVisible();
    expect(await serious(page, what), "rig").toEqual([]);
    if (theme === "light") {
      await page.getByRole("button", { name: "Back to the bench" }).click();
      await expect(page.getByRole("region", { name: "Rack" })).toBeVisible();
      await command(page, "pose field");
      await previewed(page);
      await page.keyboard.press("Enter");
      await expect(page.getByRole("button", { name: "Record" })).toBeVisible();
      await settled(page);
      expect(await serious(page, what, ".work"), "pose field").toEqual([]);
    }

    await page.goto("/pantry");
    await expect(page.getByRole("button", { name: /Tail flick/ })).toBeVisible();
    expect(await serious(page, what), "pantry").toEqual([]);
    await page.goto("/recipes");
    await page.getByRole("combobox", { name: "Recipe" }).click();
    await page.getByTitle("Overlap").click();
    await page.getByRole("button", { name: /^Overlap/ }).click();
    await page.getByRole("checkbox", { name: "Select all" }).check();
    expect(await serious(page, what), "recipes").toEqual([]);
    await page.goto("/settings");
    await expect(page.getByRole("heading", { name: "Shortcuts" })).toBeVisible();
    expect(await serious(page, what), "settings").toEqual([]);
  });

test("every control of the walk is reached and used from the keyboard alone", async ({ page }) => {
  test.setTimeout(240_000);
  await openShelf(page);
  /** Tab until the focused element has this name; what a person without a mouse does. */
  const tabTo = async (name: RegExp, most = 160) => {
    for (let n = 0; n < most; n++) {
      await page.keyboard.press("Tab");
      const focused = await page.evaluate(() => {
        const element = document.activeElement as HTMLElement | null;
        const label = element?.closest("label")?.textContent?.trim();
        return element?.getAttribute("aria-label") ?? (element?.textContent?.trim() || label || "");
      });
      if (name.test(focused ?? "")) return;
    }
    throw new Error(`No ${name} within ${most} tabs`);
  };

  await tabTo(/^Open Captured signal$/);
  await page.keyboard.press("Enter");
  await expect(page.getByRole("region", { name: "Rack" })).toBeVisible();

  // Focus is visible wherever it is.
  await tabTo(/^Export$/);
  const outline = await page.evaluate(() => {
    const style = getComputedStyle(document.activeElement as Element);
    return style.outlineStyle !== "none" || style.boxShadow !== "none";
  });
  expect(outline).toBe(true);

  await command(page, "simplify");
  await previewed(page);
  await expect(card(page).getByRole("textbox", { name: "Rotation within" })).toBeFocused();
  await page.keyboard.type("2");
  await tabTo(/^Strength, percent$/);
  await page.keyboard.type("105");
  await page.keyboard.press("Tab");
  await expect(card(page).getByRole("slider", { name: "Strength" })).toHaveAttribute("aria-valuenow", "105");
  await previewed(page);
  await tabTo(/^Apply/);
  await page.keyboard.press("Enter");
  await expect(card(page).getByRole("heading", { name: "Rework" })).toBeVisible();

  // The channel list is one stop; arrows walk its lines.
  await tabTo(/fold Ferryman$/);
  const focused = () => page.evaluate(() => document.activeElement?.textContent ?? "");
  for (let at = await focused(); at !== "Upper arm left"; at = await focused()) {
    await page.keyboard.press("ArrowDown");
    // The focus moves with the next picture.
    await page.waitForFunction((before) => (document.activeElement?.textContent ?? "") !== before, at);
  }
  await page.keyboard.press("Enter");
  await expect(scope(page)).toContainText("Upper arm left");
  await page.keyboard.press("Shift+ArrowRight");
  await page.keyboard.press("h");
  await expect(scope(page)).toContainText("key");
  await command(page, "keys flat");
  await command(page, "adding pass");
  await tabTo(/^Weight of Pass 1, percent$/);
  await page.keyboard.type("150");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("textbox", { name: "Weight of Pass 1, percent" })).toHaveValue("150");
  await tabTo(/^Pass 1 on$/);
  await page.keyboard.press("Space");
  await expect(page.getByRole("button", { name: "Pass 1 on" })).toHaveAttribute("aria-pressed", "false");
  await tabTo(/^Base motion$/);
  await page.keyboard.press("Enter");
  await page.keyboard.press("w");
  await tabTo(/^Gap from frame/);
  await page.keyboard.type("90");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("textbox", { name: /^Gap from frame 1 to 91$/ })).toBeVisible();
  await tabTo(/^Bench$/);
  await page.keyboard.press("ArrowRight");
  await expect(page).toHaveURL(/compare/);
  await expect(page.getByRole("region", { name: /^Left: / })).toBeVisible();
  await tabTo(/^Compare$/);
  await page.keyboard.press("ArrowRight");
  await expect(page).toHaveURL(/rigs/);
  await expect(page.getByRole("region", { name: "Controls" })).toBeVisible();
  await tabTo(/^Rig$/);
  await page.keyboard.press("ArrowRight");
  await expect(page).toHaveURL(/pantry/);
});
