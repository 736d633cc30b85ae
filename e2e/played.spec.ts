import { mkdtempSync, rmSync } from "node:fs";
import { readFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { type ChildProcess, spawn } from "node:child_process";
import { expect, type Locator, type Page, test } from "@playwright/test";
import { card, dragOver, openDemo, openShelf, previewed, shotOf, watchErrors } from "./bench.ts";

const drawer = (page: Page) => page.getByRole("group", { name: "Pantry drawer" });
const tile = (page: Page, name: string) => drawer(page).getByRole("button", { name: new RegExp(name) });
const passes = (page: Page) => page.getByRole("group", { name: "Passes", exact: true });

async function openDrawer(page: Page, words: string): Promise<void> {
  await page.keyboard.press("j");
  await drawer(page).getByRole("textbox", { name: "Find an action" }).fill(words);
}

test("dragged over the trays it says what it would do, Esc gives up, and bands of one row cross over", async ({ page }) => {
  const errors = watchErrors(page);
  await openDemo(page, "Half a walk");
  const before = await shotOf(page);
  await openDrawer(page, "lantern lift");
  for (const [target, says] of [
    [page.locator(".ruler-plot"), /As keys, in place of what is there, frames \d+–\d+/],
    [page.getByRole("group", { name: "Key poses and gaps" }), /As keys; later ones make room/],
    [page.locator(".detail .curve-plot"), /As keys, in place of what is there/],
    [passes(page), /As a pass that plays it/],
  ] as const) {
    await dragOver(page, tile(page, "Lantern lift"), target, 60);
    await expect(page.getByText(says)).toBeVisible();
    await expect(page.locator(".lay-span")).toBeVisible();
    await page.keyboard.press("Escape");
    await page.mouse.up();
    await expect(page.locator(".lay-span")).toHaveCount(0);
  }
  expect(await shotOf(page)).toEqual(before);

  await dragOver(page, tile(page, "Lantern lift"), passes(page), 60);
  await page.mouse.up();
  await expect(page.getByRole("region", { name: "Lantern lift" })).toBeVisible();
  await drawer(page).getByRole("textbox", { name: "Find an action" }).fill("nod");
  await dragOver(page, tile(page, "Nod"), page.getByRole("region", { name: "Lantern lift" }), 400);
  await expect(page.getByText(/As a band beside this one/)).toBeVisible();
  await page.mouse.up();
  await expect(page.getByText(/Laid "Nod"/)).toBeVisible();
  const shot = await shotOf(page);
  expect(shot.passes.map((pass) => pass.kind)).toEqual(["play", "play"]);
  const [lift, nod] = shot.passes as unknown as { range: { start: number; end: number; easeIn: number } }[];
  expect(nod.range.easeIn).toBe(lift.range.end - nod.range.start);
  // One drop is one step.
  await page.keyboard.press("Control+z");
  expect((await shotOf(page)).passes).toHaveLength(1);
  expect(errors).toEqual([]);
});

test("a band is moved, trimmed, sped up and repeated by its ends, opened for all its uses, and turned into keys", async ({ page }) => {
  await openDemo(page, "Half a walk");
  await openDrawer(page, "nod");
  await dragOver(page, tile(page, "Nod"), passes(page), 60);
  await page.mouse.up();
  await expect(page.getByRole("region", { name: "Nod" })).toBeVisible();
  const told = async () =>
    (await shotOf(page)).passes[0].settings as unknown as { start: number; from: number; to: number; speed: number; rounds: number };
  const band = page.getByRole("region", { name: "Nod" }).locator(".band-body");
  const [first, last] = [".band-end", ".band-end-over"].map((name) => page.getByRole("region", { name: "Nod" }).locator(name).first());
  const pull = async (from: Locator, by: number, key?: "Alt" | "Shift") => {
    const box = await from.boundingBox();
    if (!box) throw new Error("no band");
    await page.mouse.move(box.x + box.width / 2, box.y + box.height - 4);
    await page.mouse.down();
    if (key) await page.keyboard.down(key);
    await page.mouse.move(box.x + box.width / 2 + by, box.y + box.height - 4, { steps: 4 });
    await page.mouse.up();
    if (key) await page.keyboard.up(key);
  };
  const { start } = await told();
  await pull(band, 16);
  await expect.poll(async () => (await told()).start).toBeGreaterThan(start);
  await pull(first, 60);
  await expect.poll(async () => (await told()).from).toBeGreaterThan(0);
  await pull(last, -60, "Alt");
  await expect.poll(async () => (await told()).speed).toBeGreaterThan(100);
  await pull(last, 260, "Shift");
  await expect.poll(async () => (await told()).rounds).toBeGreaterThan(1);
  await expect(page.locator(".play-label text")).toContainText(/Nod · .* of 24 · \d+ % · \d ×/);
  const menu = async (item: string | RegExp) => {
    await page
      .getByRole("button", { name: /^More for/ })
      .first()
      .click();
    await page.getByRole("menuitem", { name: item }).click();
    await previewed(page);
    await page.keyboard.press("Enter");
    await expect(drawer(page)).toBeVisible();
  };
  await menu("Open its action, for all its uses …");
  await expect(page.getByRole("region", { name: "Nod, open" })).toBeVisible();
  await menu("Close the action, changed everywhere …");
  await expect(page.getByRole("region", { name: "Nod, open" })).toHaveCount(0);
  await menu("Turn it into keys …");
  const { passes: now, actions } = await shotOf(page);
  expect(now.map(({ kind }) => kind)).toEqual(["replaces"]);
  expect(actions).toEqual([]);
});

test("who takes whose motion is said by hand, kept for the two figures, and a frame is taken as a pose", async ({ page }) => {
  await openDemo(page, "Half a walk");
  await openDrawer(page, "tail flick");
  await tile(page, "Tail flick").first().dblclick();
  await previewed(page);
  await card(page)
    .getByRole("button", { name: /Who takes whose motion/ })
    .click();
  await expect(card(page).getByText("by name, 100 %").first()).toBeVisible();
  await card(page).getByRole("combobox", { name: "Takes the motion of Tail 4" }).click();
  await page.keyboard.type("Ear left");
  await page.keyboard.press("Enter");
  await expect(card(page).getByText("by hand")).toBeVisible();
  await card(page).getByRole("button", { name: "Cancel Esc" }).click();
  await expect(card(page).getByRole("group", { name: "Lay action" })).toHaveCount(0);
  // The drawer is where it was, and what was said is known the next time.
  await tile(page, "Tail flick").first().dblclick();
  await previewed(page);
  await card(page)
    .getByRole("button", { name: /Who takes whose motion/ })
    .click();
  await expect(card(page).getByText("by hand")).toBeVisible();
  await card(page).getByRole("button", { name: "Cancel Esc" }).click();

  await drawer(page).getByRole("textbox", { name: "Find an action" }).fill("lantern lift");
  await tile(page, "Lantern lift").click();
  const { base } = await shotOf(page);
  await drawer(page).getByRole("button", { name: "Pose to the figure" }).click();
  await expect.poll(async () => JSON.stringify((await shotOf(page)).base)).not.toBe(JSON.stringify(base));

  // It goes out as glTF, and comes in again as an action.
  await page.getByRole("radiogroup", { name: "Page" }).getByText("Pantry").click();
  await page.getByRole("button", { name: /^Lantern lift/ }).click();
  const [file] = await Promise.all([page.waitForEvent("download"), page.getByRole("button", { name: "glTF", exact: true }).click()]);
  expect(file.suggestedFilename()).toBe("Lantern lift.glb");
  await page
    .getByLabel("Action file")
    .setInputFiles({ name: "lifted.glb", mimeType: "model/gltf-binary", buffer: await readFile(await file.path()) });
  await expect(page.getByText("The action is in the pantry.")).toBeVisible();
});

test("with no shot open an action plays under the pointer, and the chosen one in its player", async ({ page }) => {
  await page.goto("/pantry");
  const lift = page.getByRole("button", { name: /^Lantern lift/ });
  await lift.hover();
  await plays(lift.locator(".action-moving img"));
  await lift.click();
  const side = page.locator(".pantry-details");
  await side.getByRole("button", { name: "Play" }).click();
  await plays(side.getByRole("img", { name: /Lantern lift, frame/ }));
});

/** One picture after the other is shown. */
async function plays(picture: Locator): Promise<void> {
  const seen = new Set<string | null>();
  await expect.poll(async () => seen.add(await picture.getAttribute("src")).size).toBeGreaterThan(3);
}

test.describe("a shared shelf", () => {
  const port = 4793;
  const address = `http://127.0.0.1:${port}`;
  let folder = "";
  let server: ChildProcess;

  test.beforeAll(async () => {
    folder = mkdtempSync(join(tmpdir(), "kneader-shelf-"));
    server = spawn(process.execPath, ["apps/server/dist/main.js", "--shelf", folder], {
      cwd: join(import.meta.dirname, ".."),
      env: { ...process.env, PORT: String(port) },
      stdio: "ignore",
    });
    await expect(async () => expect((await fetch(`${address}/api/health`)).ok).toBe(true)).toPass({ timeout: 30_000 });
  });
  test.afterAll(() => {
    server.kill();
    rmSync(folder, { recursive: true, force: true });
  });

  test("two browsers on one shelf: one saves, the other sees it; both change one action, none is lost", async ({ browser }) => {
    const [a, b] = await Promise.all([browser.newContext({ baseURL: address }), browser.newContext({ baseURL: address })]);
    const [one, other] = await Promise.all([a.newPage(), b.newPage()]);
    await openShelf(one);
    await one.goto("/pantry");
    await other.goto("/pantry");
    const lock = (page: Page) => page.getByRole("button", { name: "Locked" });
    await expect(one.getByText("Shared shelf: read by this machine")).toBeVisible();
    // Locked, nothing is changed, and it is said.
    await one.goto("/shots/demo-half-a-walk");
    await expect(one.getByRole("region", { name: "Rack" })).toBeVisible();
    await one.keyboard.press("Shift+S");
    await card(one).getByRole("textbox", { name: "Name" }).fill("Half a step");
    await card(one).getByRole("combobox", { name: "Folder" }).fill("Shared shelf/Walks");
    await expect(card(one).getByText("The shared shelf is locked, so nothing is saved there.")).toBeVisible();
    await previewed(one);
    await card(one).getByRole("button", { name: "Save Enter" }).click();
    await expect(one.getByText("The shared shelf is locked. Unlock it in the pantry, at its folder.")).toBeVisible();
    // It is unlocked where it is said, and what was typed is still there.
    await card(one).getByRole("button", { name: "Unlock it" }).click();
    await previewed(one);
    await card(one).getByRole("button", { name: "Save Enter" }).click();
    await expect(one.getByText(/Saved "Half a step"/)).toBeVisible();
    // The other sees it by itself.
    await expect(other.getByRole("button", { name: /Half a step/ })).toBeVisible({ timeout: 5000 });
    await lock(other).click();
    await other.getByRole("button", { name: /Half a step/ }).click();
    await one.getByText("Pantry", { exact: true }).click();
    await one.getByRole("button", { name: /Half a step/ }).click();
    // Both write notes; what the second one is writing stands while the first one's come, and then both are shown.
    const notes = (page: Page) => page.getByRole("textbox", { name: "Notes" });
    await notes(other).fill("from the jetty");
    const kept = one.waitForResponse((answer) => answer.request().method() === "PUT");
    const come = other.waitForResponse(
      async (answer) => /\/api\/shelf$/.test(answer.url()) && answer.ok() && (await answer.text()).includes("from the ferry"),
    );
    await notes(one).fill("from the ferry");
    await notes(one).blur();
    expect((await kept).status()).toBe(200);
    await come;
    await expect(notes(other)).toHaveValue("from the jetty");
    await notes(other).blur();
    await expect(other.getByRole("dialog")).toContainText("was changed by somebody else");
    await expect(other.getByRole("dialog")).toContainText("from the jetty");
    await other.getByRole("button", { name: "Keep both" }).click();
    for (const page of [one, other]) {
      await expect(page.getByRole("button", { name: /Half a step, mine/ })).toBeVisible({ timeout: 5000 });
      await expect(page.getByRole("button", { name: /Half a step/ })).toHaveCount(2);
    }

    // What one is writing stays when the other throws the action away, and is kept as a new one.
    await other.getByRole("button", { name: /Half a step, mine/ }).click();
    await notes(other).fill("never to be lost");
    await one.getByRole("button", { name: /Half a step, mine/ }).click();
    await one.getByRole("button", { name: "Throw away" }).click();
    await one.getByRole("tooltip").getByRole("button", { name: "Throw away" }).click();
    await expect(one.getByRole("button", { name: /Half a step, mine/ })).toHaveCount(0);
    await expect(other.getByText('"Half a step, mine" was thrown away by somebody else while you wrote.')).toBeVisible({ timeout: 8000 });
    await expect(notes(other)).toHaveValue("never to be lost");
    await expect(notes(other)).toBeFocused();
    await other.keyboard.type(", not even a word");
    await other.getByRole("button", { name: "Keep mine as new" }).click();
    await other.getByRole("button", { name: /Half a step, mine/ }).click();
    await expect(notes(other)).toHaveValue("never to be lost, not even a word");
    await expect(one.getByRole("button", { name: /Half a step, mine/ })).toBeVisible({ timeout: 5000 });

    // A recipe that one puts there is chosen by the other, and is told to all once it is taken off.
    await one.getByRole("link", { name: "Shots", exact: true }).click();
    await one.getByRole("button", { name: "Run a recipe" }).click();
    await chooseRecipe(one, "Overlap");
    await one.getByRole("textbox", { name: "Name of the recipe" }).fill("Loose ends");
    await one.getByRole("button", { name: "More for the recipe" }).click();
    await one.getByRole("menuitem", { name: "Put on the shared shelf" }).click();
    await expect(one.getByText('"Loose ends" is on the shared shelf.')).toBeVisible();
    await other.goto("/recipes");
    await expect(async () => chooseRecipe(other, "Loose ends")).toPass({ timeout: 5000 });
    await expect(other.getByRole("textbox", { name: "Name of the recipe" })).toHaveValue("Loose ends");
    await other.getByRole("button", { name: "More for the recipe" }).click();
    await other.getByRole("menuitem", { name: "Take off the shared shelf" }).click();
    await expect(other.getByText(/The shared shelf is locked/)).toBeVisible();
    await Promise.all([a.close(), b.close()]);
  });
});

async function chooseRecipe(page: Page, name: string): Promise<void> {
  await page.getByRole("combobox", { name: "Recipe" }).click();
  await page.getByTitle(name, { exact: true }).click({ timeout: 2000 });
}
