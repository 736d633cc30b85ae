import { expect, type Page, test } from "@playwright/test";
import { readFile } from "node:fs/promises";
import { channelKey, curveFrom, formats, makePass, readShot, rotateChannels } from "@kneader/core";
import {
  apply,
  backToShelf,
  card,
  command,
  drag,
  exportAs,
  goToFrame,
  openDemo,
  openShelf,
  openShot,
  setNumber,
  shotOf,
  watchErrors,
} from "./bench.ts";

const whole = async (page: Page) =>
  (await shotOf(page)) as unknown as {
    base: Record<string, { times: number[]; values: number[] }>;
    passes: {
      name: string;
      kind: string;
      on: boolean;
      locked: boolean;
      colour: string | null;
      weight: { times: number[]; values: number[] };
      members: string[] | null;
      curves: Record<string, { times: number[]; values: number[] }>;
    }[];
    versions: { name: string }[];
  };
const row = (page: Page, name: string) => page.getByRole("group", { name: `Row of ${name}`, exact: true });
const menu = async (page: Page, name: string, ...path: (string | RegExp)[]) => {
  await row(page, name).click({ button: "right", position: { x: 40, y: 12 } });
  for (const step of path) {
    const item = page.getByRole("menuitem", { name: step }).last();
    if (step === path[path.length - 1]) await item.click();
    else await item.hover();
  }
};

test("Waiting on board: overlap with a hand pass, a lean, a bounded nudge, two versions compared, the chosen one baked out", async ({
  page,
}) => {
  const errors = watchErrors(page);
  await openDemo(page, "Waiting on board");
  const before = await whole(page);

  await test.step("tail and tassel follow, with a pass to key by hand above, at 70 %", async () => {
    await page.getByRole("button", { name: "Tail 1", exact: true }).click();
    await page.getByRole("button", { name: "Tassel 1", exact: true }).click({ modifiers: ["Shift"] });
    await page.getByRole("button", { name: "To the operations" }).click();
    await card(page).getByRole("button", { name: "Overlap", exact: true }).first().click();
    await setNumber(page, "Damping", "45");
    await apply(page);
    const { passes } = await whole(page);
    expect(passes.map(({ kind, weight }) => [kind, weight.values[0]])).toEqual([
      ["follow-through", 1],
      ["adds", 0.7],
    ]);
  });

  await test.step("a lean for the whole shot is one key; its result is drawn, and dragged in a range it is nudged", async () => {
    await page.keyboard.press("a");
    await page.getByRole("button", { name: "Pass 3", exact: true }).dblclick();
    await page.getByRole("textbox", { name: "Name of the pass" }).fill("Lean");
    await page.keyboard.press("Enter");
    await page.getByRole("button", { name: "Chest", exact: true }).click();
    await goToFrame(page, 1);
    const field = page.getByRole("textbox", { name: "Chest rotate X" });
    await field.fill("9");
    await field.press("Enter");
    await expect(page.getByText("Edged line: the result")).toBeVisible();
    await page.keyboard.press("a");
    await page.getByRole("button", { name: "Head", exact: true }).click();
    const turn = page.getByRole("textbox", { name: "Head rotate X" });
    await turn.fill("0");
    await turn.press("Enter");
    // A range, and the result pulled up in the middle of it.
    await goToFrame(page, 20);
    await page.keyboard.press("[");
    await goToFrame(page, 40);
    await page.keyboard.press("]");
    await goToFrame(page, 30);
    const flag = await page.locator(".playhead").boundingBox();
    const box = await page.locator(".curve-plot canvas").boundingBox();
    if (!flag || !box) throw new Error("no curve tray");
    const x = flag.x + flag.width / 2;
    // The result is edged in ink: the first such dot below the top in the column of the playhead.
    const y = await page.evaluate((column) => {
      const canvas = document.querySelector<HTMLCanvasElement>(".curve-plot canvas");
      const context = canvas?.getContext("2d");
      if (!canvas || !context) return -1;
      const scale = canvas.height / canvas.clientHeight;
      const { data } = context.getImageData(Math.round(column * scale), 0, 1, canvas.height);
      for (let row = 0; row < canvas.height; row++)
        if (data[row * 4] < 165 && data[row * 4 + 1] < 120 && data[row * 4 + 2] < 120) return row / scale;
      return -1;
    }, x - box.x);
    expect(y).toBeGreaterThan(0);
    await drag(page, [x, box.y + y + 1], [x, box.y + y - 40]);
    const { passes } = await whole(page);
    const curve = passes[passes.length - 1].curves["head.rotateX"];
    expect(curve.times).toEqual(expect.arrayContaining([20, 30, 40]));
    expect(curve.values[curve.times.indexOf(20)]).toBe(0);
    expect(curve.values[curve.times.indexOf(40)]).toBe(0);
    expect(Math.abs(curve.values[curve.times.indexOf(30)])).toBeGreaterThan(0.5);
    await command(page, "whole figure");
  });

  await test.step("two versions are kept and compared, one is baked out to the shelf", async () => {
    await page.getByRole("button", { name: "Versions" }).click();
    await page.getByRole("menuitem", { name: "Keep this state" }).click();
    await page.getByRole("textbox", { name: "Name of the version" }).fill("Leaning");
    await page.keyboard.press("Enter");
    await page.getByRole("button", { name: "Lean on" }).click();
    await page.getByRole("button", { name: "Not kept yet" }).click();
    await page.getByRole("menuitem", { name: "Keep this state" }).click();
    await page.getByRole("textbox", { name: "Name of the version" }).fill("Upright");
    await page.keyboard.press("Enter");
    expect((await whole(page)).versions.map(({ name }) => name)).toEqual(["Leaning", "Upright"]);
    await page.getByText("Compare", { exact: true }).click();
    await expect(page.getByRole("region", { name: "Left: Leaning" })).toBeVisible();
    await expect(page.getByRole("region", { name: "Right: Upright" })).toBeVisible();
    await expect(page.getByRole("list", { name: "Controls that differ" }).getByRole("button").first()).toContainText("mm at");
    await page.keyboard.press("Home");
    await page.keyboard.press("ArrowRight");
    await expect(page.getByRole("textbox", { name: "Frame", exact: true })).toHaveValue("2");
    await page.getByText("One over the other").click();
    const [sheet] = await Promise.all([page.waitForEvent("download"), page.getByRole("button", { name: "Contact sheet" }).click()]);
    expect(sheet.suggestedFilename()).toBe("Waiting on board contact sheet.png");
    await page.getByRole("region", { name: "Left: Leaning" }).getByRole("button", { name: "Bake out" }).click();
    await expect(page.getByText("is on the shelf.")).toBeVisible({ timeout: 30_000 });
    await page.getByRole("region", { name: "Left: Leaning" }).getByRole("button", { name: "Keep this one" }).click();
    await expect(page.getByRole("region", { name: "Rack" })).toBeVisible();
    expect((await whole(page)).passes.find(({ name }) => name === "Lean")?.on).toBe(true);
    expect((await whole(page)).base).toEqual(before.base);
    await backToShelf(page);
    await openShot(page, "Waiting on board, Leaning");
    const baked = await whole(page);
    expect(baked.passes).toEqual([]);
    expect(baked.base["tail-4.rotateX"]).not.toEqual(before.base["tail-4.rotateX"]);
  });
  expect(errors).toEqual([]);
});

test("a pass is split, coloured, locked, keyed in weight, found among many, and cleaned up", async ({ page }) => {
  const errors = watchErrors(page);
  await openDemo(page, "Hop aboard");
  await page.keyboard.press("a");
  for (const name of ["Chest", "Head"]) {
    await page.getByRole("button", { name, exact: true }).click();
    const field = page.getByRole("textbox", { name: `${name} rotate X` });
    await field.fill("6");
    await field.press("Enter");
  }
  await menu(page, "Pass 1", "Members", "Split what is picked");
  expect((await whole(page)).passes.map(({ name, curves }) => [name, Object.keys(curves)])).toEqual([
    ["Pass 1", ["chest.rotateX"]],
    ["Pass 1, Head", ["head.rotateX"]],
  ]);
  await menu(page, "Pass 1", "Colour", "moss");
  await menu(page, "Pass 1", /^Lock$/);
  const field = page.getByRole("textbox", { name: "Weight of Pass 1, percent", exact: true });
  await field.fill("50");
  await field.press("Enter");
  await expect(page.locator(".ant-message-notice").filter({ hasText: '"Pass 1" is locked' })).toBeVisible();
  expect((await whole(page)).passes[0]).toMatchObject({ colour: "moss", locked: true, weight: { values: [1] } });
  await menu(page, "Pass 1", "Unlock");

  await test.step("its weight is keyed in the band", async () => {
    const band = await page.locator(".pass-row svg.band").nth(1).boundingBox();
    if (!band) throw new Error("no band");
    const y = band.y + band.height - 1 - 0.5 * (band.height - 3);
    await page.keyboard.down("Alt");
    for (const share of [0.3, 0.7]) await page.mouse.click(band.x + band.width * share, y);
    await page.keyboard.up("Alt");
    await expect(page.locator(".band-weight-key")).toHaveCount(3);
    const key = await page.locator(".band-weight-key").nth(1).boundingBox();
    if (!key) throw new Error("no key");
    await drag(page, [key.x + 3, key.y + 3], [key.x + 3, key.y + 9]);
    const { weight } = (await whole(page)).passes[0];
    expect(weight.times).toHaveLength(3);
    expect(weight.values[1]).toBeLessThan(1);
  });

  await test.step("many are searched, empty ones removed at once", async () => {
    await command(page, "whole figure");
    for (let n = 1; n <= 8; n++)
      await expect(async () => {
        if ((await page.locator(".pass-row").count()) < 3 + n) await page.keyboard.press("a");
        expect(await page.locator(".pass-row").count()).toBe(3 + n);
      }).toPass({ timeout: 10_000 });
    const search = page.getByRole("searchbox", { name: "Find a pass" });
    await search.fill("head");
    await expect(page.locator(".pass-row")).toHaveCount(2);
    await search.fill("");
    await menu(page, "Pass 1", "Remove 8 empty");
    expect((await whole(page)).passes).toHaveLength(2);
  });
  expect(errors).toEqual([]);
});

test("merging ten passes over a long capture shows how far it is, leaves the bench usable, and Esc leaves all as it was", async ({
  page,
}) => {
  const errors = watchErrors(page);
  const { shot } = await readShot(new Uint8Array(await readFile("packages/core/test/fixtures/cmu-01-01.bvh")), "capture.bvh");
  const frames = Array.from({ length: 90 }, (_, i) => 1 + i * 30);
  const passes = Array.from({ length: 10 }, (_, n) => {
    const sway = curveFrom(frames.map((frame, i) => [frame, Math.sin(i + n) * 3]));
    const keys = shot.rig.controls.flatMap(({ id }) => rotateChannels.map((channel) => channelKey(id, channel)));
    return makePass(`sway-${n}`, `Sway ${n}`, "adds", Object.fromEntries(keys.map((key) => [key, sway])));
  });
  const written = await formats.find(({ id }) => id === "json")?.write({ ...shot, passes });
  await openShelf(page);
  await page
    .getByLabel("Shot file")
    .setInputFiles({ name: "swaying.json", mimeType: "application/json", buffer: Buffer.from(written?.bytes ?? []) });
  await expect(page.getByRole("region", { name: "Rack" })).toBeVisible({ timeout: 30_000 });
  await expect(page.locator(".pass-row")).toHaveCount(11);

  await page.keyboard.press("b");
  const working = page.getByRole("progressbar", { name: "Working" });
  await expect(working).toBeVisible();
  await page.getByRole("button", { name: "Hips", exact: true }).click();
  await expect(working).toBeVisible();
  await page.keyboard.press("Escape");
  await expect(card(page).getByRole("heading", { name: "Rework" })).toBeVisible();
  await expect(page.getByRole("button", { name: "Undo", exact: true })).toBeDisabled();
  await expect(page.locator(".pass-row")).toHaveCount(11);

  await page.keyboard.press("b");
  await apply(page);
  await expect(page.locator(".pass-row")).toHaveCount(1);
  await page.keyboard.press("Control+z");
  await expect(page.locator(".pass-row")).toHaveCount(11);
  expect(errors).toEqual([]);
});

test("a tremor shakes alike in the page, in the worker and in Node", async ({ page }) => {
  await openDemo(page, "Hop aboard");
  await command(page, "tremor");
  await setNumber(page, "Turns by", "3");
  await apply(page);
  const json = await exportAs(page, "Kneader shot");
  const csv = await exportAs(page, "CSV table");
  const { shot } = await readShot(new Uint8Array(json), "hop.json");
  expect(shot.passes[0].kind).toBe("tremor");
  const here = (await formats.find(({ id }) => id === "csv")?.write(shot))?.bytes;
  expect(csv.toString()).toBe(new TextDecoder().decode(here));
});
