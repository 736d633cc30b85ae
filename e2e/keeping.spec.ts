import { expect, type Page, test } from "@playwright/test";
import {
  apply,
  backToShelf,
  card,
  command,
  frameField,
  goToFrame,
  openDemo,
  openShelf,
  openShot,
  previewed,
  saved,
  setNumber,
  settled,
  shotOf,
  stillPicture,
} from "./bench.ts";
import { graphicsOf, watchGraphics } from "./graphics.ts";

/** What must not be lost, stay, leak or act by itself. */

const bvh = (name: string) =>
  `HIERARCHY\nROOT ${name}\n{\nOFFSET 0 1 0\nCHANNELS 3 Zrotation Xrotation Yrotation\nEnd Site\n{\nOFFSET 0 1 0\n}\n}\nMOTION\nFrames: 3\nFrame Time: 0.04\n0 0 0\n10 0 0\n20 0 0\n`;

/** Drop files on the page as the system does; answers whether the page kept the browser from leaving for them. */
async function dropFiles(page: Page, files: Readonly<Record<string, string>>): Promise<void> {
  const data = await page.evaluateHandle((list) => {
    const transfer = new DataTransfer();
    for (const [name, text] of Object.entries(list)) transfer.items.add(new File([text], name));
    return transfer;
  }, files);
  await page.dispatchEvent("body", "dragover", { dataTransfer: data });
  await page.dispatchEvent("body", "drop", { dataTransfer: data });
}

/** What the browser keeps: every record, and the curves that nobody names. */
async function kept(page: Page): Promise<{ names: string[]; orphans: number; holes: number }> {
  return page.evaluate(async () => {
    const database = await new Promise<IDBDatabase>((resolve, reject) => {
      const request = indexedDB.open("kneader");
      request.onsuccess = () => resolve(request.result);
      request.onerror = () => reject(request.error);
    });
    const all = <Value>(store: string, what: "getAll" | "getAllKeys") =>
      new Promise<Value[]>((resolve, reject) => {
        if (!database.objectStoreNames.contains(store)) return resolve([]);
        const request = database.transaction(store).objectStore(store)[what]();
        request.onsuccess = () => resolve(request.result as Value[]);
        request.onerror = () => reject(request.error);
      });
    const records = await all<{ name: string; curveKeys: string[] }>("shots", "getAll");
    const keys = new Set(await all<string>("curves", "getAllKeys"));
    database.close();
    const named = new Set(records.flatMap((record) => record.curveKeys));
    return {
      names: records.map(({ name }) => name),
      orphans: [...keys].filter((key) => !named.has(key)).length,
      holes: [...named].filter((key) => !keys.has(key)).length,
    };
  });
}

test("edits without a pause are saved while they go on: never more than a second is unsaved", async ({ page }) => {
  await openDemo(page, "Hop aboard");
  for (let n = 1; n <= 20; n++) {
    await page.keyboard.press("a");
    await expect(page.getByRole("region", { name: `Pass ${n}`, exact: true })).toBeAttached();
  }
  // No pause yet: the passes of a second ago are in the record.
  const passes = await page.evaluate(
    () =>
      new Promise<number>((resolve) => {
        const open = indexedDB.open("kneader");
        open.onsuccess = () => {
          const get = open.result.transaction("shots").objectStore("shots").get("demo-hop-aboard");
          get.onsuccess = () => {
            resolve(get.result?.shot.passes.length ?? 0);
            open.result.close();
          };
        };
      }),
  );
  expect(passes).toBeGreaterThanOrEqual(4);
  await saved(page);
  expect(await kept(page)).toEqual({ names: ["Hop aboard"], orphans: 0, holes: 0 });
});

test("writes that fail are tried again by themselves, leave nothing behind, and the last change is there in the end", async ({ page }) => {
  await openDemo(page, "Hop aboard");
  await page.evaluate(() => {
    const { put } = IDBObjectStore.prototype;
    let n = 0;
    Object.assign(window, { mend: () => (n = -1) });
    IDBObjectStore.prototype.put = function (...given) {
      if (n >= 0 && n++ % 3 !== 2) throw new DOMException("The quota has been exceeded.", "QuotaExceededError");
      return put.apply(this, given);
    };
  });
  for (let n = 1; n <= 4; n++) await page.keyboard.press("a");
  await expect(page.getByRole("alert").filter({ hasText: "storage is full" })).toBeVisible();
  await page.evaluate(() => (window as unknown as { mend(): void }).mend());
  // The next try may be a while off after several that failed.
  await expect(page.getByRole("status").filter({ hasText: "Saved here" })).toBeVisible({ timeout: 40_000 });
  expect(await kept(page)).toEqual({ names: ["Hop aboard"], orphans: 0, holes: 0 });
  await page.reload();
  await expect(page.getByRole("region", { name: "Pass 4" })).toBeVisible();
});

test("an imported shot is locked from the first moment; deleting asks for it; a deleted one is told to who looked at it", async ({
  context,
}) => {
  const first = await context.newPage();
  await openShelf(first);
  await dropFiles(first, { "otter.bvh": bvh("Otter") });
  await expect(first.locator(".crumbs b")).toHaveText("otter");
  await first.keyboard.press("a");
  await saved(first);

  const second = await context.newPage();
  await second.goto(first.url());
  await expect(second.getByText(/open in another tab/)).toBeVisible();
  const shelf = await context.newPage();
  await openShelf(shelf);
  await shelf.getByRole("button", { name: "More for otter", exact: true }).click();
  await shelf.getByRole("menuitem", { name: "Delete" }).click();
  await expect(shelf.getByText('"otter" is open in another tab. Close it there first.')).toBeVisible();
  // A page behind another one draws but once a second.
  await first.bringToFront();
  await first.keyboard.press("a");
  await saved(first);
  await expect(first.getByRole("region", { name: "Pass 2" })).toBeVisible();

  // The tab that has it deletes it: the one that waited says so, and does not bring it back.
  await backToShelf(first);
  await first.getByRole("button", { name: "More for otter", exact: true }).click();
  await first.getByRole("menuitem", { name: "Delete" }).click();
  await expect(first.getByRole("button", { name: "Open otter" })).toHaveCount(0);
  await expect(second.getByText(/There is no such shot in this browser/)).toBeVisible();
  // Brought back, it opens for work in the very tab that deleted it.
  await first.getByRole("button", { name: "Undo" }).click();
  await openShot(first, "otter");
  await first.keyboard.press("a");
  await expect(first.getByRole("region", { name: "Pass 3" })).toBeVisible();
  await saved(first);
  expect((await kept(first)).holes).toBe(0);
});

test("put back as it came and opened again, a demo shot can be worked on; so can one that was left while it opened", async ({ page }) => {
  await openDemo(page, "Hop aboard");
  await page.keyboard.press("a");
  await saved(page);
  await backToShelf(page);
  await page.getByRole("button", { name: "More for Hop aboard", exact: true }).click();
  await page.getByRole("menuitem", { name: "Put back as it came" }).click();
  await expect(page.getByText(/Put back as it came: "Hop aboard"/)).toBeVisible();
  await page.getByRole("button", { name: "Open Hop aboard" }).click();
  await page.goBack();
  await openShot(page, "Hop aboard");
  await expect(page.getByText(/open in another tab/)).toHaveCount(0);
  await page.keyboard.press("a");
  await expect(page.getByRole("region", { name: "Pass 1" })).toBeVisible();
  await expect(page.getByRole("region", { name: "Pass 2" })).toHaveCount(0);
  await saved(page);
});

test("files dropped on the bench and in the pantry are taken; twenty at once are all opened, with a list of what failed", async ({
  page,
}) => {
  await openDemo(page, "Hop aboard");
  await dropFiles(page, { "wren.bvh": bvh("Wren") });
  await expect(page.locator(".crumbs b")).toHaveText("wren");
  await saved(page);
  await page.goto("/pantry");
  await expect(page.getByRole("heading", { name: "Pantry" })).toBeVisible();
  const lot = Object.fromEntries(Array.from({ length: 20 }, (_, n) => [`lot ${n + 1}.bvh`, n % 10 === 9 ? "torn" : bvh(`J${n}`)]));
  await dropFiles(page, lot);
  await expect(page.getByRole("alert").filter({ hasText: "2 files were not opened" })).toContainText(/lot 10\.bvh: .*HIERARCHY/);
  await expect(page.getByRole("heading", { name: "At the landing" })).toBeVisible();
  for (const name of ["lot 1", "lot 19", "wren"])
    await expect(page.getByRole("button", { name: `Open ${name}`, exact: true })).toBeVisible();
  await expect(page.getByRole("region", { name: "Your shots" }).getByRole("article")).toHaveCount(19);
});

test("a browser without storage, or whose database is silent, is said, and the work goes on in memory", async ({ page }) => {
  await page.addInitScript(() => {
    IDBFactory.prototype.open = () => new EventTarget() as IDBOpenDBRequest;
  });
  await page.goto("/");
  await expect(page.getByRole("alert").filter({ hasText: "Nothing can be kept in this browser" })).toBeVisible({ timeout: 20_000 });
  await openShot(page, "Hop aboard");
  await page.keyboard.press("a");
  await expect(page.getByRole("region", { name: "Pass 1" })).toBeVisible();
  expect((await shotOf(page)).locked).toEqual([]);
  await backToShelf(page);
  await openShot(page, "Hop aboard");
  await expect(page.getByRole("region", { name: "Pass 1" })).toBeVisible();
});

/** A demo shot with a pass that was saved, and away from it. */
async function leaveWithPass(page: Page): Promise<void> {
  await openDemo(page, "Hop aboard");
  await page.keyboard.press("a");
  await saved(page);
  await page.goto("/settings");
}

test("a database that falls silent while a shot is opened is said; the shot opens once it answers", async ({ page }) => {
  await leaveWithPass(page);
  await page.addInitScript(() => {
    const { get } = IDBObjectStore.prototype;
    IDBObjectStore.prototype.get = function (...given) {
      if (this.name !== "curves" || sessionStorage.getItem("mended")) return get.apply(this, given);
      return new EventTarget() as IDBRequest;
    };
  });
  await page.goto("/shots/demo-hop-aboard");
  await expect(page.getByText("This browser's storage has not answered for 6 seconds")).toBeVisible({ timeout: 20_000 });
  await page.evaluate(() => sessionStorage.setItem("mended", "yes"));
  await page.getByRole("button", { name: "Load the page anew" }).click();
  await expect(page.getByRole("region", { name: "Pass 1" })).toBeVisible();
});

test("a database that fails for once is no reason to set a shot aside: it can be tried again", async ({ page }) => {
  await leaveWithPass(page);
  await page.addInitScript(() => {
    const { get } = IDBObjectStore.prototype;
    IDBObjectStore.prototype.get = function (...given) {
      if (!("mended" in window) && this.name === "curves")
        throw new DOMException("The database connection is closing.", "InvalidStateError");
      return get.apply(this, given);
    };
  });
  await page.goto("/shots/demo-hop-aboard");
  await expect(page.getByText("This shot cannot be opened")).toBeVisible();
  await page.evaluate(() => Object.assign(window, { mended: true }));
  await page.getByRole("button", { name: "Try again" }).click();
  await expect(page.getByRole("region", { name: "Pass 1" })).toBeVisible();
});

test("a worker that cannot be loaded is said in the card, and the next try works once it can", async ({ page }) => {
  let gone = true;
  await page.route(/operations\.worker/, (route) => (gone ? route.abort() : route.continue()));
  await openDemo(page, "Half a walk");
  await page.keyboard.press("s");
  await expect(card(page).getByRole("alert")).toContainText(
    /The work stopped by itself: the worker could not be loaded\. Nothing was changed/,
  );
  gone = false;
  await setNumber(page, "Rotation within", "1.5");
  await previewed(page);
  await apply(page);
});

test("previews leave nothing on the graphics card, and the free camera where it is", async ({ page }) => {
  await watchGraphics(page);
  await openDemo(page, "Half a walk");
  await page.getByRole("region", { name: "View" }).getByText("Free", { exact: true }).click();
  const view = page.locator(".view canvas").first();
  const box = (await view.boundingBox()) as { x: number; y: number; width: number; height: number };
  const [x, y] = [box.x + box.width - 30, box.y + box.height - 40];
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x - 120, y - 20, { steps: 6 });
  await page.mouse.up();
  await page.getByRole("button", { name: "Head", exact: true }).click();
  await goToFrame(page, 5);
  await command(page, "shift values");
  await setNumber(page, "Rotations by", "12");
  await previewed(page);
  const looked = await stillPicture(view);
  const graphics = () => graphicsOf(page);
  const before = await graphics();
  for (const value of ["20", "-8", "31", "5", "-14", "12"]) {
    await setNumber(page, "Rotations by", value);
    await previewed(page);
    await settled(page);
  }
  await stillPicture(view);
  const after = await graphics();
  expect(after.arrays - before.arrays).toBeLessThan(10);
  expect(after.buffers - before.buffers).toBeLessThan(20);
  // The same preview from the same place is the same picture.
  expect((await view.screenshot()).equals(looked)).toBe(true);
  await expect(frameField(page)).toHaveValue("5");
});

test("a tab left open over an update offers to reload, with everything saved", async ({ page }) => {
  await openShelf(page);
  await page.route(/assets\/PantryPage/, (route) => route.fulfill({ status: 404, body: "gone" }));
  await page.getByText("Pantry", { exact: true }).click();
  await expect(page.getByText("Kneader was updated since this page was opened").first()).toBeVisible();
  await page.unroute(/assets\/PantryPage/);
  await page.getByRole("button", { name: "Reload" }).first().click();
  await expect(page.getByRole("heading", { name: "Pantry" })).toBeVisible();

  // Where nobody answers at all that is no update, and it is said so until somebody does.
  await openShelf(page);
  const uncaught: string[] = [];
  page.on("pageerror", ({ message }) => uncaught.push(message));
  await page.route(/assets\/ManyPage|api\/health/, (route) => route.abort());
  await page.getByRole("button", { name: "Run a recipe" }).click();
  await expect(page.getByText("Kneader's server does not answer").first()).toBeVisible();
  await expect(page.getByText("Kneader was updated")).toHaveCount(0);
  await page.getByRole("button", { name: "Try again" }).first().click();
  await expect(page.getByText("Kneader's server does not answer").first()).toBeVisible();
  await page.unroute(/assets\/ManyPage|api\/health/);
  await page.getByRole("button", { name: "Try again" }).first().click();
  await expect(page.getByRole("combobox", { name: "Recipe" })).toBeVisible();
  expect(uncaught).toEqual([]);
});
