import { makePlayer, readShot, type Shot, withPass } from "@kneader/core";
import { expect, type Page, test } from "@playwright/test";
import { Actions } from "./actions.ts";
import { apply, card, command, drag, exportAs, frameField, openDemo, previewed, setNumber, watchErrors } from "./bench.ts";

/** Jumps that weigh something: flights found, shaped in the view and by numbers. */

const now = async (page: Page): Promise<Shot> => (await readShot(new Uint8Array(await exportAs(page, "Kneader shot")), "now.json")).shot;

function worlds(shot: Shot, frame: number): number[] {
  const player = makePlayer(shot);
  player.pose(frame);
  return [...player.worlds];
}

/** Where a grip is in the view: looked for with the pointer, as its name comes up beside it. */
async function grip(page: Page, name: string): Promise<[number, number]> {
  const box = await page.locator(".stage-side canvas").first().boundingBox();
  if (!box) throw new Error("no view");
  const note = page.locator(".mark-note");
  for (let y = box.y + 20; y < box.y + box.height - 20; y += 14)
    for (let x = box.x + 20; x < box.x + box.width - 20; x += 14) {
      await page.mouse.move(x, y);
      if ((await note.count()) > 0 && (await note.textContent())?.includes(name)) return [x, y];
    }
  throw new Error(`no grip is called ${name}`);
}

test("Hop aboard: the flight is found, its landing moved onto the rail, its top raised, later poses ripple; muted it is the old hop: 6", async ({
  page,
}) => {
  const errors = watchErrors(page);
  await openDemo(page, "Hop aboard");
  const before = await now(page);
  const actions = new Actions(page);
  await actions.press("Control+k");
  await actions.type("flight");
  await actions.press("Enter");
  await previewed(page);
  await expect(card(page).getByRole("group", { name: "Flights" })).toContainText("15 → 36");
  const landing = await grip(page, "landing");
  await drag(page, landing, [landing[0] + 38, landing[1] - 51], async () => {
    await expect(page.locator(".mark-note")).toContainText("up");
    await expect(frameField(page)).toHaveValue("36");
  });
  actions.count++;
  await expect.poll(() => card(page).getByRole("textbox", { name: "Top" }).inputValue()).not.toBe("0.920 m");
  const top = await grip(page, "top");
  await drag(page, top, [top[0], top[1] - 14]);
  actions.count++;
  await expect(card(page)).toContainText(/lands at (3[7-9]|4\d)/);
  await actions.press("Enter");
  await expect(card(page).getByRole("heading", { name: "Rework" })).toBeVisible();
  expect(actions.count).toBe(6);

  const after = await now(page);
  const [pass] = after.passes;
  const [flight] = pass.settings.flights as { landingBy: number[]; frames: number }[];
  // The rail is half a metre over the deck.
  expect(flight.landingBy[1]).toBeGreaterThan(0.3);
  const later = flight.frames - 21;
  expect(later).toBeGreaterThan(0);
  expect(after.range.end).toBe(46 + later);
  // As posed at the ends, and every later pose comes as much later, where the landing was moved to.
  const [, y] = flight.landingBy;
  const stood = worlds(before, 41);
  const stands = worlds(after, 41 + later);
  expect(stands[13] - stood[13]).toBeCloseTo(y, 6);
  const muted = withPass(after, pass.id, (one) => ({ ...one, on: false }));
  for (const frame of [1, 11, 15, 20.5, 26, 36, 46]) expect(worlds(muted, frame)).toEqual(worlds(before, frame));
  await page.keyboard.press("Control+z");
  expect((await now(page)).passes).toEqual([]);
  expect(errors).toEqual([]);
});

test("a flight by its numbers: typed top, hang time and landing; timing rules and says how strong gravity is; Esc leaves all as it was", async ({
  page,
}) => {
  await openDemo(page, "Hop aboard");
  await command(page, "flight");
  await previewed(page);
  const number = (name: string) => card(page).getByRole("textbox", { name, exact: true });
  await setNumber(page, "In the air", "24");
  await expect(card(page)).toContainText("lands at 39, 24 frames");
  await card(page).getByRole("button", { name: "All numbers" }).click();
  await setNumber(page, "Up", "0.2");
  await expect(number("Up")).toHaveValue("0.200 m");
  await setNumber(page, "Bounces", "2");
  await expect(card(page)).toContainText("2 bounces");
  await card(page).getByRole("button", { name: "As it was" }).click();
  await expect(card(page)).toContainText("21 frames, top");
  await setNumber(page, "Top", "-1");
  await card(page).getByRole("combobox", { name: "What rules" }).click();
  await page.getByText("Timing: the frames stay").click();
  await expect(number("Gravity")).toBeVisible();
  await setNumber(page, "Gravity", "2");
  await expect(card(page)).toContainText("2 × the earth's gravity");
  // Too far between to be a flight at all.
  await setNumber(page, "Landing", "15");
  await expect(card(page).getByRole("alert")).toContainText("frames 15 to 15 are no flight");
  await page.keyboard.press("Escape");
  await expect(card(page).getByRole("heading", { name: "Rework" })).toBeVisible();
  expect((await now(page)).passes).toEqual([]);
});

test("a dragged grip is given up with Esc; a flight that was made is shaped anew from its pass", async ({ page }) => {
  await openDemo(page, "Hop aboard");
  await command(page, "flight");
  await previewed(page);
  const landing = await grip(page, "landing");
  await page.mouse.move(...landing);
  await page.mouse.down();
  await page.mouse.move(landing[0] + 30, landing[1] - 30, { steps: 4 });
  await expect(card(page)).not.toContainText("top 0.92 m");
  await page.keyboard.press("Escape");
  await page.mouse.up();
  await expect(card(page)).toContainText("top 0.92 m");
  await apply(page);
  await command(page, "flight");
  await previewed(page);
  await expect(card(page)).toContainText("15 → 36");
  await setNumber(page, "Top", "1.3");
  await expect(card(page)).toContainText("Will change 1 flight");
  await apply(page);
  const after = await now(page);
  expect(after.passes).toHaveLength(1);
  expect(after.range.end).toBeGreaterThan(46);
});
