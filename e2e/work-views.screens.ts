import { test } from "@playwright/test";
import { command, drag, goToFrame, openShelf, openShot } from "./bench.ts";
import { drawSmoothly, shoot } from "./shoot.ts";

drawSmoothly();

test("strain", async ({ page }) => {
  await openShelf(page);
  await openShot(page, "Captured signal");
  await page.getByRole("button", { name: "Upper arm left", exact: true }).click();
  await page.keyboard.press("Escape");
  await goToFrame(page, 58);
  await command(page, "tune");
  await page.waitForTimeout(2500);
  const plot = await page.getByRole("region", { name: "Strain" }).getByRole("img").boundingBox();
  if (!plot) throw new Error("no strips");
  const lane = plot.y + plot.height - 8;
  await drag(page, [plot.x + 105, lane], [plot.x + 245, lane]);
  await page.mouse.move(plot.x + 190, plot.y + 26);
  await page.waitForTimeout(500);
  await shoot(page, "strain");
});

test("a recipe on many shots", async ({ page }) => {
  await page.goto("/recipes");
  await page.getByRole("combobox", { name: "Recipe" }).click();
  await page.getByTitle("Hand over to a game engine").click();
  await page.getByRole("button", { name: /^Bake down/ }).click();
  await page.getByRole("checkbox", { name: "Select all" }).check();
  await page.getByRole("button", { name: "Run on 5 shots" }).click();
  await page.getByText("5 of 5 done").waitFor();
  await page
    .getByRole("row", { name: /^(Expand|Collapse) row Choose Captured signal/ })
    .getByRole("button", { name: "Expand row" })
    .click();
  await page.mouse.move(640, 50);
  await page.waitForTimeout(500);
  await shoot(page, "many");
});
