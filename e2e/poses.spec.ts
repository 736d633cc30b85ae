import { arcPaths, readShot, type Shot } from "@kneader/core";
import { expect, type Page, test } from "@playwright/test";
import { type PerspectiveCamera, Vector3 } from "three";
import { shotCameraAt } from "../apps/web/src/bench/view/arcs/flatArcs.ts";
import { Actions } from "./actions.ts";
import { card, command, goToFrame, drag, exportAs, openDemo, openShelf, previewed, saved, settled, shotOf, watchErrors } from "./bench.ts";

/** Mirroring, the rig page, arcs that are dragged, the pose field. */

const stage = (page: Page) => page.locator(".view-stage canvas");
/** The shot as it stands; what is read from a file has an id of its own. */
const now = async (page: Page): Promise<Shot> => ({
  ...(await readShot(new Uint8Array(await exportAs(page, "Kneader shot")), "now.json")).shot,
  id: "now",
});

/** Where the shot camera, as it stands at frame 1, has a control's place at a frame on the screen. */
async function onScreen(page: Page, shot: Shot, control: string, frame: number): Promise<[number, number]> {
  const box = await stage(page).boundingBox();
  if (!box) throw new Error("no view");
  const camera = shotCameraAt(shot, box.width / box.height)?.(1) as PerspectiveCamera;
  const [{ places }] = arcPaths(shot, [control], Float64Array.of(frame));
  const at = new Vector3(places[0], places[1], places[2]).project(camera);
  return [box.x + ((at.x + 1) / 2) * box.width, box.y + ((1 - at.y) / 2) * box.height];
}

test("half a walk to a whole looped one: 4 actions; what gives way is marked in tray and sheet before", async ({ page }) => {
  await openDemo(page, "Half a walk");
  // The pose where the halves meet is not the mirrored first one.
  await page.getByRole("button", { name: "Chest", exact: true }).click();
  await goToFrame(page, 13);
  await page.getByRole("textbox", { name: "Chest rotate X" }).fill("20");
  await page.getByRole("textbox", { name: "Chest rotate X" }).press("Enter");
  await page.keyboard.press("Escape");
  const act = new Actions(page);
  await act.press("Shift+X");
  await previewed(page);
  await expect(card(page).getByText("Will mirror frames 1 to 13 onto 13 to 25")).toBeVisible();
  await expect(card(page).getByText(/at frame 13 (is|are) overwritten/)).toBeVisible();
  await expect(page.locator(".pose-dot.gives-way")).toHaveCount(1);
  await act.apply();
  await act.press("l");
  await act.apply();
  expect(act.count).toBe(4);
  const { base, range } = (await shotOf(page)) as unknown as {
    base: Record<string, { times: number[]; values: number[] }>;
    range: { end: number };
  };
  expect(range.end).toBe(73);
  for (const [key, { times, values }] of Object.entries(base))
    if (times.at(-1) === 25 && times[0] === 1 && !key.startsWith("ferryman.move"))
      expect(Math.abs(values[values.length - 1] - values[0])).toBeLessThan(1e-9);
});

test("a pose mirrored in place: 2 actions; a picked part alone; undone in one step", async ({ page }) => {
  await openDemo(page, "Hop aboard");
  const before = await shotOf(page);
  await page.getByRole("button", { name: "Pose at frame 11", exact: true }).click();
  const act = new Actions(page);
  await act.press("x");
  await act.apply();
  expect(act.count).toBe(2);
  const value = ({ base }: typeof before, key: string) => base[key].values[base[key].times.indexOf(11)];
  const after = await shotOf(page);
  expect(value(after, "upper-arm-left.rotateX")).toBeCloseTo(value(before, "upper-arm-right.rotateX"), 9);
  expect(value(after, "upper-arm-left.rotateZ")).toBeCloseTo(-value(before, "upper-arm-right.rotateZ"), 9);
  await page.keyboard.press("Control+z");
  expect(await shotOf(page)).toEqual(before);
});

test("the rig page: from shelf, bench and finder; a second partner is refused; other shots alike; undo and keyboard", async ({ page }) => {
  const errors = watchErrors(page);
  await openShelf(page);
  await page.getByRole("button", { name: "More for Half a walk" }).click();
  await page.getByRole("menuitem", { name: "Rig: partners and sides" }).click();
  const table = page.getByRole("region", { name: "Controls" });
  await expect(table.getByRole("status")).toHaveText("Everything lands on its reflection.");

  // A partner that is taken is not taken away.
  await page.getByRole("button", { name: "Partner of Hand left: Hand right" }).click();
  await page.keyboard.type("Foot right");
  await page.keyboard.press("Enter");
  await expect(page.getByText("Foot right cannot be the partner of Hand left: it is the partner of Foot left already.")).toBeVisible();

  // Whoever has no mouse goes on where they were.
  await expect(page.getByRole("button", { name: "Partner of Hand left: Hand right" })).toBeFocused();

  // Let go of, both stand alone and say so; from names they find each other again.
  await page.getByRole("button", { name: "Partner of Ear left: Ear right" }).click();
  await page.keyboard.type("nobody");
  await page.keyboard.press("Enter");
  await expect(table.getByRole("status")).toContainText("2 controls need a look.");
  await page.getByRole("switch", { name: "Only problems" }).click();
  await expect(table.locator(".rig-row")).toHaveCount(2);
  await page.keyboard.press("Control+z");
  await expect(table.getByText("No control has a problem.")).toBeVisible();
  await page.keyboard.press("Control+Shift+z");
  await expect(table.locator(".rig-row")).toHaveCount(2);
  await page.getByRole("button", { name: "From names" }).click();
  await expect(page.getByText("From names: 2 controls have another partner now.")).toBeVisible();
  await page.getByRole("switch", { name: "Only problems" }).click();

  // How far a joint turns, typed for one and turned round for its partner; what cannot be is refused.
  await table.getByRole("group", { name: "Forearm left" }).click();
  const turn = (end: string) => page.getByRole("textbox", { name: `Forearm left turns about Y ${end}` });
  await turn("from").fill("-10");
  await turn("from").press("Enter");
  await turn("to").fill("40");
  await turn("to").press("Enter");
  await turn("to").fill("-20");
  await turn("to").press("Enter");
  await expect(page.getByText("Forearm left rotate Y cannot go from -10° to -20°.")).toBeVisible();
  await expect(turn("to")).toHaveValue("40.0°");
  await table.getByRole("group", { name: "Forearm right" }).click();
  await expect(page.getByRole("textbox", { name: "Forearm right turns about Y from" })).toHaveValue("-40.0°");

  // Fingers left out, here and in the other shots with this rig.
  await page.getByRole("textbox", { name: "Find a control or a part" }).fill("thumb");
  await page.getByRole("button", { name: "How Thumb left is mirrored: mirrored" }).click();
  await page.locator(".ant-select-dropdown:visible").getByText("left out", { exact: true }).click();
  await expect(page.getByRole("button", { name: "How Thumb right is mirrored: left out" })).toBeVisible();
  await saved(page);
  await page.getByRole("button", { name: "Take over to other shots …" }).click();
  await expect(page.getByText(/"Hop aboard", "Hand over the lantern"/)).toBeVisible();
  await page.getByRole("button", { name: "Mirror them alike" }).click();
  await expect(page.getByText("4 shots are mirrored alike.")).toBeVisible();
  await openDemo(page, "Hop aboard");
  const thumb = (await now(page)).rig.controls.find(({ id }) => id === "thumb-left");
  expect(thumb?.mirror).toBe("left out");
  expect((await now(page)).rig.controls.find(({ id }) => id === "forearm-right")).toMatchObject({ ranges: { rotateY: [-40, 10] } });
  await command(page, "rig partners");
  await expect(table).toBeVisible();
  await page.getByRole("button", { name: "Back to the bench" }).click();
  await expect(page.getByRole("region", { name: "Rack" })).toBeVisible();
  expect(errors).toEqual([]);
});

test("a mark of an arc is dragged: the control is there at that frame, the playhead and other frames stay", async ({ page }) => {
  await openDemo(page, "Hop aboard");
  await page.keyboard.press("v");
  await previewed(page);
  await page.keyboard.press("Enter");
  await page.getByRole("button", { name: "Hips", exact: true }).click();
  await settled(page);
  const before = await now(page);
  const from = await onScreen(page, before, "hips", 21);
  const to: [number, number] = [from[0] + 14, from[1] - 22];
  await page.mouse.move(...from);
  await expect(page.locator(".mark-note")).toContainText("frame 21 Hips");
  await drag(page, from, to, async () => {
    await page.keyboard.press("Escape");
  });
  expect(await now(page)).toEqual(before);
  await drag(page, from, to);
  const after = await now(page);
  const there = await onScreen(page, after, "hips", 21);
  expect(Math.hypot(there[0] - to[0], there[1] - to[1])).toBeLessThan(0.5);
  await expect(page.getByRole("textbox", { name: "Frame", exact: true })).toHaveValue("1");
  for (const [key, curve] of Object.entries(before.base)) {
    const isOther = (time: number) => Math.abs(time - 21) > 1e-6;
    const values = (of: Shot) => [...of.base[key].times].flatMap((time, i) => (isOther(time) ? [[time, of.base[key].values[i]]] : []));
    expect(values(after)).toEqual(values(before));
    if (!key.startsWith("hips.move")) expect([...after.base[key].times]).toEqual([...curve.times]);
  }
  await page.keyboard.press("Control+z");
  expect(await now(page)).toEqual(before);
  // The bends it has are stepped through with a key.
  await page.keyboard.press("z");
  await expect(page.getByText(/Hips turns by \d+° at frame \d+/)).toBeVisible();
});

test("a pose field: laid in 2 actions, its spot keyed and recorded, a pose dragged onto it, merged into keys", async ({ page }) => {
  const errors = watchErrors(page);
  await openDemo(page, "Hop aboard");
  await command(page, "pose field");
  await expect(card(page).locator(".field-plane")).toBeVisible();
  await previewed(page);
  await page.keyboard.press("Enter");
  const field = page.getByRole("group", { name: "Pose field Pose field" });
  await expect(field).toBeVisible();
  const fieldOf = async () => (await now(page)).passes[0];
  expect((await fieldOf()).kind).toBe("field");

  // A pose from the pose tray onto the plane.
  const plane = await field.locator(".field-plane").boundingBox();
  const pose = await page.getByRole("button", { name: "Pose at frame 26", exact: true }).boundingBox();
  if (!plane || !pose) throw new Error("no plane or no pose");
  await drag(page, [pose.x + 20, pose.y + 25], [plane.x + plane.width / 2, plane.y + plane.height / 2]);
  await expect(field.getByRole("button", { name: /^Pose Frame 26/ })).toBeVisible();

  await field.getByRole("button", { name: "Key here" }).click();
  expect(Object.keys((await fieldOf()).curves)).toEqual(["Field.x", "Field.y"]);
  const spot = field.getByRole("slider", { name: "Spot" });
  await spot.focus();
  await page.keyboard.press("ArrowRight");
  expect([...(await fieldOf()).curves["Field.x"].values]).toEqual([0.52]);

  await field.getByRole("button", { name: "Record" }).click();
  await page.mouse.move(plane.x + 40, plane.y + 60);
  await page.mouse.down();
  await expect(field.getByText("recording")).toBeVisible();
  for (let i = 0; i < 12; i++) await page.mouse.move(plane.x + 40 + 10 * i, plane.y + 60 + 8 * (i % 3));
  await expect(field.getByRole("button", { name: "Record" })).toBeVisible({ timeout: 20_000 });
  await page.mouse.up();
  const { curves } = await fieldOf();
  expect(curves["Field.x"].times.length).toBeGreaterThan(3);
  expect(curves["Field.x"].times.at(-1)).toBe(46);

  // Two poses are the least there can be.
  for (const name of [/^Pose Frame 26/, /^Pose Frame 16/, /^Pose Frame 31/]) {
    await field.getByRole("button", { name }).click();
    await field.getByRole("button", { name: "Take the pose off" }).click();
    await expect(field.getByRole("button", { name })).toBeHidden();
  }
  await field.getByRole("button", { name: /^Pose Frame 46/ }).click();
  await field.getByRole("button", { name: "Take the pose off" }).click();
  await expect(page.getByText("A field needs two poses at least.")).toBeVisible();

  await page.keyboard.press("b");
  await previewed(page);
  await page.keyboard.press("Enter");
  await expect(field).toBeHidden();
  expect((await now(page)).passes).toEqual([]);
  expect(errors).toEqual([]);
});

test("the pose tray: only the poses at which a part changes, only named ones; a pose saved to the pantry", async ({ page }) => {
  await openDemo(page, "Hop aboard");
  const tray = page.getByRole("group", { name: "Key poses and gaps" });
  const filter = page.getByRole("combobox", { name: "Which poses are shown" });
  const choose = async (name: string) => {
    await filter.click();
    await page.locator(".ant-select-dropdown:visible").getByText(name, { exact: true }).click();
  };
  await choose("named ones");
  await expect(page.getByText(/^0 of 10 key poses/)).toBeVisible();
  await choose("tail changes");
  await expect(page.getByText(/key poses/).first()).toBeVisible();
  await choose("half of it keyed");
  await tray.getByRole("button", { name: "Pose at frame 16", exact: true }).click({ button: "right" });
  await page.getByRole("menuitem", { name: "Save pose to the pantry …" }).click();
  await card(page).getByRole("textbox", { name: "Name" }).fill("Up in the air");
  await previewed(page);
  await expect(card(page).getByText(/the pose of frame 16/)).toBeVisible();
  await page.keyboard.press("Enter");
  await expect(page.getByText(/Saved "Up in the air"/)).toBeVisible();
});
