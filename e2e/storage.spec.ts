import { mkdtempSync, readlinkSync, rmSync } from "node:fs";
import { readFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { chromium, expect, type Page, test } from "@playwright/test";
import { backToShelf, goToFrame, openDemo, openShelf, openShot, saved, watchErrors } from "./bench.ts";
import { chromium as settings } from "./chromium.ts";

/** Change something that can be seen again. */
async function addPass(page: Page, count: number): Promise<void> {
  await page.keyboard.press("a");
  await expect(page.getByRole("region", { name: `Pass ${count}` })).toBeVisible();
}

/** The application makes its stores as it first needs them: wait until one is there. */
async function waitForStore(page: Page, name: string): Promise<void> {
  await expect
    .poll(() =>
      page.evaluate(
        (wanted) =>
          new Promise<boolean>((resolve) => {
            const request = indexedDB.open("kneader");
            request.onsuccess = () => {
              resolve(request.result.objectStoreNames.contains(wanted));
              request.result.close();
            };
            request.onerror = () => resolve(false);
          }),
        name,
      ),
    )
    .toBe(true);
}

/** Put a value into a store of the browser's database, or empty the store. */
async function inStore(page: Page, name: string, entry: { key: string; value: unknown } | null): Promise<void> {
  await waitForStore(page, name);
  return page.evaluate(
    async ({ name, entry }) => {
      const database = await new Promise<IDBDatabase>((resolve, reject) => {
        const request = indexedDB.open("kneader");
        request.onsuccess = () => resolve(request.result);
        request.onerror = () => reject(request.error);
      });
      await new Promise<void>((resolve, reject) => {
        const transaction = database.transaction(name, "readwrite");
        const store = transaction.objectStore(name);
        if (entry) store.put(entry.value, entry.key);
        else store.clear();
        transaction.oncomplete = () => resolve();
        transaction.onerror = () => reject(transaction.error);
      });
      database.close();
    },
    { name, entry },
  );
}

test("killing the browser during work loses at most the last second", async ({ baseURL }) => {
  const folder = mkdtempSync(join(tmpdir(), "kneader-profile-"));
  const start = () => chromium.launchPersistentContext(folder, { ...settings, ...settings.launchOptions, baseURL });
  try {
    const context = await start();
    const page = await context.newPage();
    await openDemo(page, "Hop aboard");
    for (let n = 1; n <= 4; n++) await addPass(page, n);
    await saved(page);
    // Not closed: killed, so that nothing of it can save on its way out. The profile's lock names its process.
    process.kill(Number(readlinkSync(join(folder, "SingletonLock")).split("-").at(-1)), "SIGKILL");
    await new Promise((resolve) => context.once("close", resolve));

    const again = await start();
    const next = await again.newPage();
    await next.goto("/shots/demo-hop-aboard");
    for (let n = 1; n <= 4; n++) await expect(next.getByRole("region", { name: `Pass ${n}` })).toBeVisible();
    await again.close();
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
});

test("a broken record is set aside and offered for download, and the shelf still opens", async ({ page }) => {
  await openDemo(page, "Hop aboard");
  await addPass(page, 1);
  await saved(page);
  await page.goto("/settings");
  await inStore(page, "shots", { key: "torn-shot", value: { name: "Torn", version: 1, curveKeys: [] } });
  await openShelf(page);
  const alert = page.getByRole("alert").filter({ hasText: '"Torn" could not be read and was set aside' });
  await expect(alert).toBeVisible();
  const [download] = await Promise.all([page.waitForEvent("download"), alert.getByRole("button", { name: "Download it" }).click()]);
  expect(JSON.parse(await readFile(await download.path(), "utf8")).record.name).toBe("Torn");
  await expect(page.getByRole("button", { name: "Open Hop aboard" })).toBeVisible();
  // It stays offered until it is thrown away.
  await page.reload();
  await alert.getByRole("button", { name: "Throw it away" }).click();
  await expect(alert).toHaveCount(0);
});

test("a shot whose curve is lost says so and takes the rest to the shelf for download", async ({ page }) => {
  await openDemo(page, "Hop aboard");
  await addPass(page, 1);
  await saved(page);
  await page.goto("/settings");
  await inStore(page, "curves", null);
  await page.goto("/shots/demo-hop-aboard");
  await expect(page.getByText("This shot cannot be opened")).toBeVisible();
  await expect(page.getByText(/names a curve .* that is not in this browser's storage/)).toBeVisible();
  await page.getByRole("button", { name: "To the shelf" }).click();
  await expect(page.getByRole("alert").filter({ hasText: '"Hop aboard" could not be read' })).toBeVisible();
});

test("a record of a newer version is left in its place", async ({ page }) => {
  await openShelf(page);
  const value = { id: "n", name: "From tomorrow", version: 9, curveKeys: [], shot: { rig: { controls: [] }, base: {}, passes: [] } };
  await inStore(page, "shots", { key: "n", value });
  await page.reload();
  const alert = page.getByRole("alert").filter({ hasText: '"From tomorrow" was saved by a newer Kneader' });
  await expect(alert).toBeVisible();
  await expect(alert.getByRole("button", { name: "Throw it away" })).toHaveCount(0);
  await page.reload();
  await expect(alert).toBeVisible();
});

test("the same shot in a second tab is read-only there, and opens for work when the first is closed", async ({ context }) => {
  const first = await context.newPage();
  await openShelf(first);
  await openShot(first, "Hop aboard");
  await addPass(first, 1);
  await saved(first);

  const second = await context.newPage();
  await second.goto("/shots/demo-hop-aboard");
  await expect(second.getByText(/open in another tab/)).toBeVisible();
  await second.keyboard.press("a");
  await expect(second.getByRole("region", { name: "Pass 2" })).toHaveCount(0);
  await expect(second.getByRole("button", { name: "Add a pass" })).toBeDisabled();

  // A page behind another one draws but once a second.
  await first.bringToFront();
  await addPass(first, 2);
  await saved(first);
  await first.close();
  await expect(second.getByText(/open in another tab/)).toHaveCount(0);
  await expect(second.getByRole("region", { name: "Pass 2" })).toBeVisible();
  await second.keyboard.press("a");
  await expect(second.getByRole("region", { name: "Pass 3" })).toBeVisible();
});

/** Raise the database's version with a store more, as an update does in another tab; or throw the database away. */
const changeDatabase = (page: Page, what: "update" | "throw away") =>
  page.evaluate(async (what) => {
    const done = (request: IDBOpenDBRequest) =>
      new Promise<IDBDatabase>((resolve, reject) => {
        request.onupgradeneeded = ({ newVersion }) => newVersion !== null && request.result.createObjectStore(`news-${newVersion}`);
        request.onsuccess = () => resolve(request.result);
        request.onerror = () => reject(request.error);
      });
    if (what === "throw away") {
      await done(indexedDB.deleteDatabase("kneader"));
      return;
    }
    const now = await done(indexedDB.open("kneader"));
    now.close();
    (await done(indexedDB.open("kneader", now.version + 1))).close();
  }, what);

test("an update in another tab, or the database thrown away there, ends no saving: what is open is kept, and it is said", async ({
  context,
}) => {
  const page = await context.newPage();
  const errors = watchErrors(page);
  await openDemo(page, "Hop aboard");
  await addPass(page, 1);
  await saved(page);
  const other = await context.newPage();
  // A page of the same origin that does not hold the database.
  await other.goto("/icon.svg");
  for (let n = 2; n <= 4; n++) {
    await changeDatabase(other, "update");
    await page.bringToFront();
    await addPass(page, n);
    await saved(page);
    await other.bringToFront();
  }
  await page.bringToFront();
  await page.reload();
  for (let n = 1; n <= 4; n++) await expect(page.getByRole("region", { name: `Pass ${n}` })).toBeVisible();
  await expect(page.getByText(/was thrown away/)).toHaveCount(0);

  // Thrown away twice, with and without a change after it: nothing of what is open is lost.
  for (const [times, change] of [
    [1, true],
    [2, false],
  ] as const) {
    await other.bringToFront();
    await changeDatabase(other, "throw away");
    await page.bringToFront();
    await expect(page.getByText(times === 1 ? /thrown away.*1 shot open here is kept anew/ : /\(2 times by now\)/)).toBeVisible();
    if (change) await addPass(page, 5);
    await saved(page);
  }
  await page.reload();
  for (let n = 1; n <= 5; n++) await expect(page.getByRole("region", { name: `Pass ${n}` })).toBeVisible();
  expect(errors).toEqual([]);
});

test("full storage says what to do and the work goes on", async ({ page }) => {
  await openDemo(page, "Hop aboard");
  await page.evaluate(() => {
    IDBObjectStore.prototype.put = () => {
      throw new DOMException("The quota has been exceeded.", "QuotaExceededError");
    };
  });
  await addPass(page, 1);
  await expect(page.getByRole("alert").filter({ hasText: "storage is full" })).toBeVisible();
  await addPass(page, 2);
});

test("own shots are duplicated, renamed, deleted, and brought back", async ({ page }) => {
  const errors = watchErrors(page);
  await openShelf(page);
  const more = (name: string) => page.getByRole("button", { name: `More for ${name}`, exact: true });
  const pick = async (name: string, item: string) => {
    await more(name).click();
    await page.getByRole("menuitem", { name: item }).click();
  };
  await pick("Half a walk", "Duplicate");
  await expect(page.getByRole("button", { name: "Open Half a walk copy" })).toBeVisible();

  await pick("Half a walk copy", "Rename");
  await page.getByRole("dialog").getByRole("textbox", { name: "Name" }).fill("Walk to keep");
  await page.getByRole("dialog").getByRole("textbox", { name: "Name" }).press("Enter");
  await expect(page.getByRole("button", { name: "Open Walk to keep" })).toBeVisible();

  await pick("Walk to keep", "Delete");
  await expect(page.getByRole("button", { name: "Open Walk to keep" })).toHaveCount(0);
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByRole("button", { name: "Open Walk to keep" })).toBeVisible();

  await openShot(page, "Walk to keep");
  await goToFrame(page, 7);
  await backToShelf(page);
  await expect(page.getByText(/used in this browser/)).toBeVisible();
  await page.reload();
  await expect(page.getByRole("button", { name: "Open Walk to keep" })).toBeVisible();
  expect(errors).toEqual([]);
});
