import { fileURLToPath } from "node:url";
import { type Page, test } from "@playwright/test";

export const shoot = (page: Page, name: string) =>
  page.screenshot({ path: fileURLToPath(new URL(`../docs/screenshots/${name}.png`, import.meta.url)) });

/** Drawn with smooth edges, as a person sees it; the tests leave them out for speed. */
export function drawSmoothly(): void {
  test.beforeEach(({ page }) => page.addInitScript(() => Object.defineProperty(navigator, "webdriver", { get: () => false })));
}
