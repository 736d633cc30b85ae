import { expect, test } from "@playwright/test";
import { makeCharacter } from "../packages/core/test/help/characters.ts";
import { openShelf } from "./bench.ts";

/** No words run over their neighbours: in long lists, on the rig page of a character with problems. */

/** Words of a list's lines that reach beyond their cell and are seen to. */
function runsOver(list: string): string[] {
  const lines = [...document.querySelectorAll<HTMLElement>(list)];
  if (lines.length === 0) return ["no lines at all"];
  return lines
    .flatMap((line) => [...line.querySelectorAll<HTMLElement>(":scope > *, :scope > * > *")])
    .filter(
      (cell) =>
        getComputedStyle(cell).overflow === "visible" &&
        (cell.scrollWidth > cell.clientWidth + 1 || cell.scrollHeight > cell.clientHeight + 2) &&
        getComputedStyle(cell).display !== "inline",
    )
    .map((cell) => `${cell.className}: ${cell.textContent}`);
}

test("groups of operations and lines of the rig page keep to their cells, at 1024x768", async ({ page }) => {
  await page.setViewportSize({ width: 1024, height: 768 });
  await openShelf(page);
  const bytes = await makeCharacter({ influences: 4, seconds: 2, tail: 4, oddNodes: true });
  await page.getByLabel("Shot file").setInputFiles({ name: "heron.glb", mimeType: "model/gltf-binary", buffer: Buffer.from(bytes) });
  await page
    .getByRole("dialog", { name: /^What to open/ })
    .getByRole("button", { name: "Open the shot" })
    .click();
  await expect(page.getByRole("button", { name: "Breast", exact: true })).toBeVisible();
  await page.keyboard.press("o");
  await expect(page.locator(".work-choice")).toBeVisible();
  expect(await page.evaluate(runsOver, ".work-choice dl > div")).toEqual([]);
  await page.keyboard.press("Escape");
  await page
    .getByRole("link", { name: "Rig" })
    .or(page.locator(".ant-segmented-item", { hasText: "Rig" }))
    .first()
    .click();
  const table = page.getByRole("region", { name: "Controls" });
  await expect(table.getByRole("status")).toContainText("needs a look");
  expect(await page.evaluate(runsOver, ".rig-row")).toEqual([]);
  const beyond = await table.evaluate(
    (box) =>
      [...box.querySelectorAll(".rig-row > *, .rig-head > *")].filter(
        (cell) => cell.getBoundingClientRect().right > box.getBoundingClientRect().right,
      ).length,
  );
  expect(beyond).toBe(0);
});
