import { expect, test } from "@playwright/test";
import { apply, card, command, frameField, goToFrame, openDemo, scope, watchErrors } from "./bench.ts";

/** What is small and met every minute: marks of an arc, weights that are typed, the list of operations, its help. */

test("an arc's marks tell their frame and lead there; a control is picked over its channel", async ({ page }) => {
  const errors = watchErrors(page);
  await openDemo(page, "Hop aboard");
  await page.keyboard.press("v");
  await apply(page);
  await page.getByRole("button", { name: "Tail 4", exact: true }).click();
  await expect(page.getByRole("button", { name: "Tail 4 rotate X", exact: true })).toBeVisible();
  await page.getByRole("button", { name: "Tail 4 rotate X", exact: true }).click();
  await expect(scope(page)).toContainText("Tail 4 · 1 curve");
  await page.getByRole("button", { name: "Tail 4", exact: true }).click();
  await expect(scope(page)).toContainText("Tail 4 · 3 curves");
  // A picked control that is clicked stays picked, and its channels stay open: only the arrow folds.
  await page.getByRole("button", { name: "Tail 4", exact: true }).click();
  await expect(scope(page)).toContainText("Tail 4 · 3 curves");
  await expect(page.getByRole("button", { name: "Tail 4 rotate X", exact: true })).toBeVisible();

  const view = await page.locator(".view-stage canvas").boundingBox();
  if (!view) throw new Error("no view");
  const note = page.locator(".mark-note:not(.part)");
  /** Look for a mark from left to right in the lower half of the view, where the tail goes along. */
  const find = async () => {
    for (let y = view.height * 0.45; y < view.height * 0.85; y += 9)
      for (let x = view.width * 0.3; x < view.width * 0.66; x += 9) {
        await page.mouse.move(view.x + x, view.y + y);
        if (await note.isVisible()) return [view.x + x, view.y + y] as const;
      }
    throw new Error("no mark");
  };
  const [x, y] = await find();
  const frame = /frame\s*(\d+)/.exec((await note.textContent()) ?? "")?.[1];
  await expect(note).toContainText("Tail 4");
  await page.mouse.click(x, y);
  await expect(frameField(page)).toHaveValue(frame ?? "");
  await expect(scope(page)).toContainText("Tail 4");
  expect(errors).toEqual([]);
});

test("a weight key is typed where it stands, with arithmetic, and made only on purpose", async ({ page }) => {
  await openDemo(page, "Hop aboard");
  await page.keyboard.press("a");
  const line = page.locator(".band-grab");
  const box = await page.locator(".band.adds").boundingBox();
  if (!box) throw new Error("no band");
  // Two quick presses drag nothing and make nothing.
  await page.mouse.dblclick(box.x + box.width / 2, box.y + box.height / 2);
  await expect(page.locator(".band-weight-key")).toHaveCount(0);
  await expect(line).toBeAttached();
  await goToFrame(page, 20);
  await page.keyboard.press("Shift+K");
  await expect(page.locator(".band-weight-key")).toHaveCount(2);
  await page.locator(".band-weight-key").nth(1).click();
  const field = page.getByRole("textbox", { name: /^Weight of Pass 1 at frame \d+, percent$/ });
  await expect(field).toBeFocused();
  await field.fill("+25");
  await field.press("Enter");
  await expect(field).toBeHidden();
  await page.keyboard.press("End");
  await goToFrame(page, 46);
  // The field shows the weight at the playhead.
  const weight = page.getByRole("textbox", { name: "Weight of Pass 1, percent" });
  await expect(weight).toHaveValue(/^(100|125)$/);
});

test("the list of operations is searched, says what is missing, and every card has its page of help; first steps come once", async ({
  page,
}) => {
  await openDemo(page, "Hop aboard");
  await expect(page.getByRole("region", { name: "First steps" })).toBeVisible();
  await page.keyboard.press("o");
  const search = card(page).getByRole("textbox", { name: "Find an operation" });
  await expect(search).toBeFocused();
  await page.keyboard.type("bake dow");
  await expect(card(page).locator(".operation-help")).toContainText("It needs something that is led.");
  await page.keyboard.press("Enter");
  await expect(page.getByText("Bake down: it needs something that is led.")).toBeVisible();
  await search.fill("mirr");
  await page.keyboard.press("ArrowDown");
  await page.keyboard.press("Enter");
  await expect(page.locator(".work-body")).toBeVisible();
  await page.keyboard.press("Escape");

  await command(page, "about overlap");
  const help = page.getByRole("dialog", { name: "Overlap" });
  await expect(help.getByRole("img", { name: /before and after/ })).toBeVisible();
  await help.getByRole("button", { name: "Use it" }).click();
  await expect(card(page).getByRole("heading", { name: "Overlap" })).toBeVisible();
  await page.keyboard.press("Escape");
  // A word that names nothing says so, and offers what is nearest.
  await page.keyboard.press("Control+k");
  await page.getByRole("combobox", { name: "Find a command" }).fill("simplfy");
  await expect(page.getByText('Nothing is called "simplfy". Nearest to it:')).toBeVisible();
  await expect(page.getByRole("listbox", { name: "Commands" }).getByRole("option").first()).toContainText("Simplify");
  await page.keyboard.press("Escape");
  await page.reload();
  await expect(card(page).getByRole("heading", { name: "Rework" })).toBeVisible();
  await expect(page.getByRole("region", { name: "First steps" })).toBeHidden();
});
