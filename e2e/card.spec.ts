import { expect, test } from "@playwright/test";
import { card, openShelf, openShot } from "./bench.ts";

/** What has nothing to do on the blocked shot says why, in words that lead on. */
const REFUSED: Readonly<Record<string, RegExp>> = {
  Stagger: /pick the controls of a chain/,
  "Bake the loop": /no curve in scope repeats after its last key.*Repeat, hold or go on/,
  "Bake passes": /no pass is on/,
  "Bake follow": /no control in scope follows another/,
  "Apply action": /none is chosen yet/,
};

test("every operation runs from the card: a live result and one step to undo, or a refusal that helps", async ({ page }) => {
  test.setTimeout(120_000);
  await openShelf(page);
  await openShot(page, "Hop aboard");
  const choice = card(page).locator(".work-choice dd button");
  const undo = page.getByRole("button", { name: "Undo", exact: true });
  for (const title of await choice.allTextContents())
    await test.step(title, async () => {
      const apply = card(page).getByRole("button", { name: /^(Apply|Save) Enter$/ });
      const closed = card(page).getByRole("heading", { name: "Rework", exact: true });
      await card(page).getByRole("button", { name: title, exact: true }).click();
      if (title in REFUSED) {
        await expect(card(page).getByRole("alert")).toHaveText(REFUSED[title]);
        await expect(apply).toBeDisabled();
      } else {
        await expect(apply).toBeEnabled({ timeout: 20_000 });
        await expect(card(page).getByRole("status")).toContainText(/Keys[\d ]+→[\d ]+/);
      }
      if (title in REFUSED || title === "Save as action") {
        await card(page).getByRole("button", { name: "Cancel" }).click();
        await expect(closed).toBeVisible();
      } else {
        await apply.click();
        await expect(closed).toBeVisible();
        // What had nothing to change makes no step; whatever made one is taken back by one undo.
        if (await undo.isEnabled()) await undo.click();
      }
      await expect(undo).toBeDisabled();
    });
});
