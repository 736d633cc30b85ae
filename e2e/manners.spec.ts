import { expect, test } from "@playwright/test";
import { apply, card, command, frameField, goToFrame, openDemo, previewed } from "./bench.ts";

/** What gets in nobody's way: locks, fields and keys. */

test("a locked pass is in nobody's way who does not touch it; who would change it is told, and keeps the card", async ({ page }) => {
  await openDemo(page, "Half a walk");
  await page.keyboard.press("a");
  await command(page, "whole figure");
  await page.getByRole("button", { name: "Head", exact: true }).click();
  await goToFrame(page, 9);
  await page.keyboard.press("k");
  await goToFrame(page, 1);
  await page.getByRole("button", { name: /More for Pass 1/ }).click();
  await page.getByRole("menuitem", { name: "Lock", exact: true }).click();
  await page.getByRole("button", { name: "Base motion" }).first().click();
  await page.keyboard.press("s");
  await previewed(page);
  await apply(page);
  // The timing of the whole figure would take the locked pass along.
  await command(page, "whole figure");
  await command(page, "insert or remove frames");
  await previewed(page);
  await card(page)
    .getByRole("button", { name: /^Apply/ })
    .click();
  await expect(page.getByText(/Pass "Pass 1" is locked/)).toBeVisible();
  await expect(card(page).getByRole("heading", { name: /Insert or remove frames/ })).toBeVisible();
});

/** The lower tray as this browser keeps it; runs in the page. */
async function keptTray(): Promise<unknown> {
  const database = await new Promise<IDBDatabase>((resolve, reject) => {
    const request = indexedDB.open("kneader");
    request.onsuccess = () => resolve(request.result);
    request.onerror = () => reject(request.error);
  });
  const request = database.transaction("preferences").objectStore("preferences").get("preferences");
  const kept = await new Promise<{ below?: unknown } | undefined>((resolve) => {
    request.onsuccess = () => resolve(request.result);
    request.onerror = () => resolve(undefined);
  });
  database.close();
  return kept?.below;
}

test("letters typed as a tag are letters; trays chosen by key are still there after a reload", async ({ page }) => {
  await openDemo(page, "Half a walk");
  await command(page, "save as action");
  await previewed(page);
  const tags = card(page).getByRole("combobox", { name: "Tags" });
  await tags.click();
  await page.keyboard.type("swagd");
  await expect(tags).toHaveValue("swagd");
  await expect(card(page).getByRole("heading", { name: /Save as action/ })).toBeVisible();
  await page.keyboard.press("Enter");
  await page.keyboard.press("Escape");
  await page.keyboard.press("Escape");
  await page.locator(".curve-plot canvas").focus();
  await page.keyboard.press("d");
  await expect(page.getByRole("region", { name: "Sheet" })).toBeVisible();
  await page.keyboard.press("Shift+D");
  await expect(page.getByRole("region", { name: "Spacing" })).toBeVisible();
  await expect.poll(() => page.evaluate(keptTray)).toBe("spacing");
  await page.reload();
  await expect(page.getByRole("region", { name: "Sheet" })).toBeVisible();
  await expect(page.getByRole("region", { name: "Spacing" })).toBeVisible();
});

test("after a click on a choice the bench's keys are the bench's", async ({ page }) => {
  await openDemo(page, "Half a walk");
  await page.getByRole("radiogroup", { name: "Detail" }).getByText("Sheet", { exact: true }).click();
  await page.keyboard.press("ArrowRight");
  await expect(frameField(page)).toHaveValue("2");
  await expect(page.getByRole("region", { name: "Sheet" })).toBeVisible();
  await page.keyboard.press("Space");
  await expect.poll(async () => Number(await frameField(page).inputValue())).not.toBe(2);
  await page.keyboard.press("Space");
});
