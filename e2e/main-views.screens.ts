import { expect, type Page, test } from "@playwright/test";
import { makeCharacter } from "../packages/core/test/help/characters.ts";
import { apply, card, command, dragOver, goToFrame, openDemo, openShelf, openShot, previewed } from "./bench.ts";
import { drawSmoothly, shoot } from "./shoot.ts";

drawSmoothly();

async function layeredHop(page: Page): Promise<void> {
  await openShot(page, "Hop aboard");
  await page.keyboard.press("t");
  await previewed(page);
  await card(page)
    .getByRole("button", { name: /^Apply/ })
    .click();
  await page.keyboard.press("a");
  await page.getByRole("button", { name: "Chest", exact: true }).click();
  for (const [frame, value] of [
    [1, "0"],
    [16, "12"],
    [26, "-8"],
    [46, "0"],
  ] as const) {
    await goToFrame(page, frame);
    const field = page.getByRole("textbox", { name: "Chest rotate X" });
    await field.fill(value);
    await field.press("Enter");
  }
  await page.getByRole("button", { name: "Pass 1", exact: true }).dblclick();
  await page.getByRole("textbox", { name: "Name of the pass" }).fill("Lean into it");
  await page.keyboard.press("Enter");
  await page.getByRole("button", { name: "Base motion" }).click();
  const gap = page.getByRole("textbox", { name: "Gap from frame 11 to 16" });
  await gap.fill("3");
  await gap.press("Enter");
  await page.getByRole("button", { name: "Tail 2", exact: true }).click();
  await goToFrame(page, 22);
  await page.mouse.move(700, 786);
  await page.waitForTimeout(2500);
}

/** The first visit shows what matters; the pictures show what comes then. */
async function pastFirstSteps(page: Page): Promise<void> {
  await page.keyboard.press("o");
  await page.keyboard.press("Escape");
}

test("look and help", async ({ page }) => {
  await openShelf(page);
  await openShot(page, "Hop aboard");
  await page.keyboard.press("v");
  await apply(page);
  await page.getByRole("button", { name: "Tail 4", exact: true }).click();
  await page.getByRole("button", { name: "Hand left", exact: true }).click({ modifiers: ["Shift"] });
  for (const key of ["y", "n", "n"]) await page.keyboard.press(key);
  await goToFrame(page, 21);
  await page.mouse.move(700, 786);
  await page.waitForTimeout(4000);
  await shoot(page, "look");
  for (const key of ["y", "y", "n"]) await page.keyboard.press(key);
  await command(page, "about overlap");
  await page.waitForTimeout(4000);
  await shoot(page, "help");
});

test("shelf", async ({ page }) => {
  await openShelf(page);
  await page.getByRole("button", { name: "More for Half a walk" }).click();
  await page.getByRole("menuitem", { name: "Duplicate" }).click();
  await page.mouse.move(640, 740);
  await page.waitForTimeout(4000);
  await shoot(page, "shelf");
});

test("bench", async ({ page }) => {
  await openShelf(page);
  await layeredHop(page);
  await shoot(page, "bench");
  await page.getByRole("button", { name: "Dusk theme" }).click();
  await page.mouse.move(700, 786);
  await page.waitForTimeout(2500);
  await shoot(page, "bench-dusk");
});

test("sheet", async ({ page }) => {
  await openShelf(page);
  await openShot(page, "Hop aboard");
  await pastFirstSteps(page);
  await page.getByRole("button", { name: "Chest", exact: true }).click();
  await page.keyboard.press("d");
  await page.waitForTimeout(2000);
  await shoot(page, "sheet");
});

test("ties", async ({ page }) => {
  await openShelf(page);
  await openShot(page, "Hand over the lantern");
  await pastFirstSteps(page);
  const filter = page.getByRole("textbox", { name: "Filter channels" });
  const channels = page.getByRole("group", { name: "Channels" });
  await filter.fill("hand left");
  await channels.getByRole("button", { name: "Hand left", exact: true }).click();
  await page.keyboard.press("Shift+R");
  await apply(page);
  await filter.fill("lantern");
  await channels.getByRole("button", { name: "Lantern", exact: true }).click();
  await goToFrame(page, 40);
  await page.mouse.move(700, 786);
  await page.waitForTimeout(2500);
  await shoot(page, "ties");
});

test("pantry", async ({ page }) => {
  await openShelf(page);
  await openShot(page, "Waiting on board");
  await page.getByText("Pantry", { exact: true }).click();
  await page.getByRole("button", { name: /Lantern lift/ }).click();
  await page.waitForTimeout(6000);
  await page.getByRole("button", { name: "On the jetty 2" }).hover();
  await page.waitForTimeout(500);
  await shoot(page, "pantry");
});

test("drawer, and an action dropped on the passes", async ({ page }) => {
  await openShelf(page);
  await openShot(page, "Half a walk");
  await pastFirstSteps(page);
  await page.keyboard.press("j");
  await page.waitForTimeout(5000);
  await page.locator(".drawer .tile-scroller").evaluate((element) => element.scrollBy(0, 132));
  await page.waitForTimeout(3000);
  await dragOver(
    page,
    page.locator(".drawer").getByRole("button", { name: /^Nod/ }),
    page.getByRole("group", { name: "Passes", exact: true }),
    120,
  );
  await page.waitForTimeout(2500);
  await shoot(page, "drawer");
});

test("who takes whose motion", async ({ page }) => {
  await page.goto("/pantry");
  await page.getByLabel("Action file").setInputFiles("packages/core/test/fixtures/cmu-01-01.bvh");
  await expect(page.getByText("The action is in the pantry.")).toBeVisible();
  await openDemo(page, "Waiting on board");
  await pastFirstSteps(page);
  await page.keyboard.press("j");
  await page.locator(".drawer").getByRole("textbox", { name: "Find an action" }).fill("cmu");
  await expect(page.locator(".drawer").getByRole("button", { name: /cmu/ })).toBeVisible();
  await page.keyboard.press("Enter");
  await page.getByRole("button", { name: /Who takes whose motion/ }).click();
  await previewed(page);
  await page.getByRole("button", { name: /Who takes whose motion/ }).scrollIntoViewIfNeeded();
  await page.waitForTimeout(2500);
  await shoot(page, "mapping");
});

test("flight", async ({ page }) => {
  await openShelf(page);
  await openShot(page, "Hop aboard");
  await pastFirstSteps(page);
  await command(page, "flight");
  await previewed(page);
  // The landing goes onto the rail, where the figure is then looked at in the air.
  await page.mouse.move(334, 263);
  await page.mouse.down();
  await page.mouse.move(350, 240, { steps: 4 });
  await page.mouse.move(372, 212, { steps: 6 });
  await page.mouse.up();
  await previewed(page);
  await card(page).getByRole("button", { name: "All numbers" }).click();
  await goToFrame(page, 22);
  await page.mouse.move(700, 786);
  await page.waitForTimeout(2500);
  await shoot(page, "flight");
});

test("takes and a capture device", async ({ page }) => {
  await openShelf(page);
  await openShot(page, "Captured signal");
  await pastFirstSteps(page);
  await command(page, "record by hand");
  await card(page).getByRole("switch", { name: "Count in" }).click();
  await card(page).getByRole("combobox", { name: "Hand" }).click();
  await page.getByText("A capture device", { exact: true }).click();
  await card(page).getByRole("button", { name: "Connect" }).click();
  await expect(card(page)).toContainText("48 controls");
  for (const take of ["Take 1", "Take 2"]) {
    await goToFrame(page, 1);
    await page.keyboard.press("Shift+Q");
    await expect(card(page)).toContainText(take, { timeout: 20_000 });
  }
  await page.getByRole("textbox", { name: "Filter channels" }).fill("thigh left");
  await page.getByRole("button", { name: "Thigh left", exact: true }).click();
  await goToFrame(page, 60);
  await page.mouse.move(700, 786);
  await page.waitForTimeout(2500);
  await shoot(page, "takes");
});

test("loop", async ({ page, context }) => {
  await context.grantPermissions(["clipboard-read", "clipboard-write"]);
  await openShelf(page);
  await openShot(page, "Half a walk");
  for (const key of ["Shift+X", "l"]) {
    await page.keyboard.press(key);
    await apply(page);
  }
  await page.getByRole("button", { name: "Hips", exact: true }).click();
  await page.keyboard.press("Shift+d");
  await goToFrame(page, 45);
  await page.mouse.move(700, 786);
  await page.waitForTimeout(6000);
  await shoot(page, "loop");
});

test("rig", async ({ page }) => {
  await openShelf(page);
  await openShot(page, "Half a walk");
  await command(page, "rig partners");
  await page.getByRole("textbox", { name: "Find a control or a part" }).fill("leg");
  await page.getByRole("button", { name: "How Toes left is mirrored: mirrored" }).click();
  await page.locator(".ant-select-dropdown:visible").getByText("left out", { exact: true }).click();
  await page.mouse.move(700, 786);
  await page.waitForTimeout(2500);
  await shoot(page, "rig");
});

test("pose field", async ({ page }) => {
  await openShelf(page);
  await openShot(page, "Hop aboard");
  await command(page, "pose field");
  await previewed(page);
  await page.keyboard.press("Enter");
  const plane = page.locator(".field-card .field-plane");
  await plane.waitFor();
  const box = await plane.boundingBox();
  if (!box) throw new Error("no plane");
  await page.getByRole("button", { name: "Record" }).click();
  await page.mouse.move(box.x + box.width / 2, box.y + box.height * 0.75);
  await page.mouse.down();
  await page.getByText("recording").waitFor();
  for (let i = 0; i < 70; i++) {
    await page.mouse.move(box.x + box.width * (0.5 + 0.3 * Math.sin(i / 6)), box.y + box.height * (0.5 + 0.25 * Math.cos(i / 4)));
    await page.waitForTimeout(40);
  }
  await page.getByRole("button", { name: "Record" }).waitFor();
  await page.mouse.up();
  await goToFrame(page, 24);
  await page.mouse.move(700, 786);
  await page.waitForTimeout(4000);
  await shoot(page, "field");
});

test("compare", async ({ page }) => {
  await openShelf(page);
  await openShot(page, "Waiting on board");
  await page.getByRole("button", { name: "Tail 1", exact: true }).click();
  await command(page, "overlap");
  await apply(page);
  await page.getByRole("button", { name: "Versions" }).click();
  await page.getByRole("menuitem", { name: "Keep this state" }).click();
  await page.getByRole("textbox", { name: "Name of the version" }).fill("Loose tail");
  await page.keyboard.press("Enter");
  await page
    .getByRole("button", { name: "Weight of Tail follows, percent" })
    .or(page.getByRole("textbox", { name: "Weight of Tail follows, percent" }))
    .fill("50");
  await page.keyboard.press("Enter");
  await page.keyboard.press("a");
  await page.getByRole("button", { name: "Head", exact: true }).click();
  for (const [frame, value] of [
    [1, "0"],
    [28, "12"],
    [46, "0"],
  ] as const) {
    await goToFrame(page, frame);
    const field = page.getByRole("textbox", { name: "Head rotate X" });
    await field.fill(value);
    await field.press("Enter");
  }
  await page.getByRole("button", { name: "Pass 3", exact: true }).dblclick();
  await page.getByRole("textbox", { name: "Name of the pass" }).fill("Look up");
  await page.keyboard.press("Enter");
  await goToFrame(page, 28);
  await page.mouse.move(700, 786);
  await page.waitForTimeout(3000);
  await page.getByRole("button", { name: "Not kept yet" }).click();
  await page.getByRole("menuitem", { name: "Keep this state" }).click();
  await page.getByRole("textbox", { name: "Name of the version" }).fill("Tamed, looking up");
  await page.keyboard.press("Enter");
  await page.getByText("Compare", { exact: true }).click();
  await page.waitForTimeout(2500);
  await goToFrame(page, 30);
  await page.mouse.move(640, 50);
  await page.waitForTimeout(2500);
  await shoot(page, "compare");
});

test("a character from a file", async ({ page }) => {
  const bytes = await makeCharacter({
    influences: 4,
    animations: 4,
    morphs: true,
    picture: true,
    rings: 8,
    sides: 12,
    seconds: 2,
    tail: 4,
  });
  await openShelf(page);
  await page.getByLabel("Shot file").setInputFiles({ name: "heron.glb", mimeType: "model/gltf-binary", buffer: Buffer.from(bytes) });
  const question = page.getByRole("dialog", { name: /^What to open/ });
  await question.waitFor();
  await question.getByRole("button", { name: "Open the shot" }).click();
  await page.getByRole("region", { name: "Rack" }).waitFor();
  await pastFirstSteps(page);
  await page.getByRole("region", { name: "View" }).getByText("Free", { exact: true }).click();
  await page.getByRole("button", { name: "Neck", exact: true }).click();
  await goToFrame(page, 19);
  await page.mouse.move(700, 786);
  await page.waitForTimeout(9000);
  await shoot(page, "character");
});
