import { makePlayer, readShot, type Shot, switchesOf } from "@kneader/core";
import { expect, type Locator, type Page, test } from "@playwright/test";
import { Actions } from "./actions.ts";
import { apply, card, command, drag, exportAs, goToFrame, openDemo, previewed, saved, watchErrors } from "./bench.ts";

/** What goes along with what: the tie tray, spaces, planted feet, carriers, baking down. */

const ties = (page: Page) => page.getByRole("group", { name: "Ties" });
const now = async (page: Page): Promise<Shot> => (await readShot(new Uint8Array(await exportAs(page, "Kneader shot")), "now.json")).shot;
const controlRow = (page: Page, name: string) => page.getByRole("group", { name: "Channels" }).getByRole("button", { name, exact: true });

/** How far a control is from where another state of the shot has it, at some frames. */
function apart(a: Shot, b: Shot, control: string, frames: readonly number[]): number {
  const players = [a, b].map((shot) => makePlayer(shot));
  return Math.max(
    ...frames.map((frame) => {
      const places = players.map((player) => {
        player.pose(frame);
        const at = 16 * (player.controlIndex.get(control) as number);
        return player.worlds.slice(at, at + 16);
      });
      return Math.max(...places[0].map((value, k) => Math.abs(value - places[1][k])));
    }),
  );
}

async function middle(target: Locator): Promise<[number, number]> {
  const box = await target.boundingBox();
  if (!box) throw new Error("not to be seen");
  return [box.x + box.width / 2, box.y + box.height / 2];
}

test("the strip of a lantern that goes from hand to hand to hook: switches dragged, by keys, taken out; poses stay", async ({ page }) => {
  const errors = watchErrors(page);
  await openDemo(page, "Hand over the lantern");
  const row = ties(page).getByRole("group", { name: "Row of Lantern" });
  for (const name of ["Hand right", "Hand left", "Hook"]) await expect(row.getByRole("button", { name, exact: true })).toBeVisible();
  const before = await now(page);
  const first = row.getByRole("button", { name: "Switch at frame 28 to Hand left" });
  const [x, y] = await middle(first);
  await drag(page, [x, y], [x + 20, y]);
  const moved = row.getByRole("button", { name: /^Switch at frame (29|3\d) to Hand left$/ });
  await expect(moved).toBeVisible();
  const frame = Number(/\d+/.exec((await moved.getAttribute("aria-label")) ?? "")?.[0]);
  const dragged = await now(page);
  expect(apart(dragged, before, "lantern", [1, 27, 28, frame - 1, frame, 60, 84])).toBeLessThan(1e-9);
  // Pressed with the mouse it leaves the bench its keys; reached with the keyboard, arrows move it.
  await page.keyboard.press("ArrowRight");
  await expect(moved).toBeVisible();
  await page.keyboard.press("Tab");
  await moved.focus();
  await page.keyboard.press("ArrowRight");
  await expect(row.getByRole("button", { name: `Switch at frame ${frame + 1} to Hand left` })).toBeVisible();
  await page.keyboard.press("Control+z");
  await page.keyboard.press("Control+z");
  await page.keyboard.press("Tab");
  await row.getByRole("button", { name: "Switch at frame 60 to Hook" }).focus();
  await page.keyboard.press("Delete");
  await expect(row.getByRole("button", { name: "Hook", exact: true })).toBeHidden();
  const out = await now(page);
  expect(switchesOf(out, "lantern").map(({ space }) => space)).toEqual(["hand-right", "hand-left"]);
  expect(apart(out, before, "lantern", [27, 28, 59, 60, 84])).toBeLessThan(1e-9);
  expect(errors).toEqual([]);
});

test("as a new user: the feet planted, the lantern to the hook, the hop carried elsewhere, and all of it baked", async ({ page }) => {
  const errors = watchErrors(page);
  await openDemo(page, "Half a walk");
  const act = new Actions(page);
  await act.click(ties(page).getByRole("button", { name: "Add a tie" }));
  await act.click(page.getByRole("menuitem", { name: "Plant …" }));
  await previewed(page);
  await expect(card(page).getByText(/Foot left: 1 contact, slid \d+ mm, will slide 0\.00 mm\./)).toBeVisible();
  await act.apply();
  expect(act.count).toBe(3);
  const contact = ties(page).getByRole("button", { name: /^Contact from frame 1 to \d+$/ });
  await page.keyboard.press("Tab");
  await contact.focus();
  await page.keyboard.press("Shift+ArrowLeft");
  await expect(ties(page).getByRole("button", { name: "Contact from frame 1 to 12" })).toBeVisible();
  await ties(page).getByRole("textbox", { name: "Strength of Foot left planted, percent" }).fill("50");
  await page.keyboard.press("Enter");
  await page.keyboard.press("Control+z");

  // The lantern to the hook: pick it, go to the frame, say where it lives from there.
  await openDemo(page, "Hop aboard");
  const hop = new Actions(page);
  await hop.fill(page.getByRole("textbox", { name: "Filter channels" }), "lantern");
  await hop.click(controlRow(page, "Lantern"));
  await goToFrame(page, 20);
  hop.count++;
  await hop.press("Shift+I");
  await hop.click(card(page).getByRole("combobox", { name: "Lives in" }));
  await page.keyboard.type("Hook");
  await hop.press("Enter");
  await previewed(page);
  await expect(card(page).getByText("Will switch Lantern to Hook at frame 20")).toBeVisible();
  await hop.apply();
  expect(hop.count).toBe(7);
  await expect(ties(page).getByRole("group", { name: "Row of Lantern" }).getByRole("button", { name: "Hook", exact: true })).toBeVisible();

  // The whole hop elsewhere: a carrier above all, moved like any control.
  await page.getByRole("textbox", { name: "Filter channels" }).fill("");
  await page.keyboard.press("Escape");
  await page.keyboard.press("w");
  const before = await now(page);
  await command(page, "add a carrier");
  await apply(page);
  await expect(controlRow(page, "Carrier")).toHaveAttribute("aria-pressed", "true");
  const move = page.getByRole("textbox", { name: "Carrier move Z", exact: true });
  await move.fill("1.5");
  await move.press("Enter");
  const carried = await now(page);
  expect(Math.abs(apart(carried, before, "hips", [1, 16, 31]) - 1.5)).toBeLessThan(1e-9);

  // All of it baked: plain keys, nothing leads any more.
  await page.keyboard.press("w");
  await page.keyboard.press("Shift+B");
  await card(page).getByRole("combobox", { name: "Keys" }).click();
  await page.getByTitle("On every frame", { exact: true }).click();
  await previewed(page);
  await apply(page);
  const baked = await now(page);
  expect(baked.constraints.every(({ on }) => !on)).toBe(true);
  for (const control of ["hips", "lantern", "head"]) expect(apart(baked, carried, control, [1, 9, 20, 31])).toBeLessThan(1e-9);
  await saved(page);
  expect(errors).toEqual([]);
});

test("a control dragged onto another with Shift is tied to it; a circle is refused with the names; let go, and undone", async ({
  page,
}) => {
  await openDemo(page, "Hop aboard");
  const from = await middle(controlRow(page, "Chest"));
  await page.keyboard.down("Shift");
  await drag(page, from, await middle(controlRow(page, "Belly")), async () => {
    await expect(page.getByText("Chest → Belly")).toBeVisible();
  });
  await page.keyboard.up("Shift");
  await page.getByRole("menuitem", { name: "Chest follows it …" }).click();
  await apply(page);
  const row = ties(page).getByRole("group", { name: "Row of Chest follows Belly" });
  await expect(row).toBeVisible();
  await row.getByRole("button", { name: "Chest follows Belly on" }).click();
  await expect(row.getByRole("button", { name: "Chest follows Belly on" })).toHaveAttribute("aria-pressed", "false");
  // Told anew from its menu it stays one.
  await row.click({ button: "right", position: { x: 30, y: 10 } });
  await page.getByRole("menuitem", { name: "Settings …" }).click();
  await card(page).getByRole("combobox", { name: "Follows" }).click();
  await page.getByTitle("Turn alone", { exact: true }).click();
  await apply(page);
  await expect(ties(page).getByRole("group", { name: /^Row of Chest/ })).toHaveCount(1);
  await page.getByRole("button", { name: "Base motion" }).click();
  // The other way round it would be a circle.
  await controlRow(page, "Belly").click();
  await controlRow(page, "Chest").click({ modifiers: ["Shift"] });
  await page.keyboard.press("Shift+F");
  await expect(card(page).getByText(/"Chest" moves with .*"Belly".*: a circle/)).toBeVisible();
  await page.keyboard.press("Escape");
  await row.hover();
  await row.getByRole("button", { name: "Let go of Chest follows Belly" }).click();
  await expect(row).toBeHidden();
  await page.keyboard.press("Control+z");
  await expect(row).toBeVisible();
});
