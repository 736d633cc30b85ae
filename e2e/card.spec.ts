import { expect, test } from "@playwright/test";
import { card, openDemo } from "./bench.ts";

/** What has nothing to do on the blocked shot says why, in words that lead on. */
const REFUSED: Readonly<Record<string, RegExp>> = {
  Stagger: /pick the controls of a chain/,
  "Paste keys": /nothing has been copied yet/,
  "Remove poses": /no frame is given/,
  "Swap poses": /both are the pose of frame 1/,
  Overlap: /no chain is chosen/,
  "Follow-through": /pick the controls of a chain/,
  "Lock ends": /base motion has no ends to lock/,
  "Bake the rounds": /no curve in scope repeats after its last key.*Run-in and run-out/,
  "Bake passes": /no pass is on/,
  "Bake follow": /no control in scope follows another/,
  "Apply action": /none is chosen yet/,
};

test("every operation runs from the card: a live result and one step to undo, or a refusal that helps", async ({ page }) => {
  await openDemo(page, "Hop aboard");
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
        // An operation that adds a pass chooses it; the next one is for base motion again.
        // What had nothing to change makes no step; whatever made one is taken back by one undo.
        if (await undo.isEnabled()) await undo.click();
      }
      await expect(undo).toBeDisabled();
    });
});
