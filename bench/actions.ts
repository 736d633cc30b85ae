import { mkdtempSync, rmSync } from "node:fs";
import { mkdir, writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { Page } from "@playwright/test";
import { ShelfFolder } from "../apps/server/src/shelf/shelfFolder.ts";
import { findCards } from "../apps/web/src/pantry/findCards.ts";
import { chromium as settings } from "../e2e/chromium.ts";
import { captureClip } from "../packages/core/src/actions/captureClip.ts";
import { fitClip } from "../packages/core/src/actions/fitClip.ts";
import { makePlayer } from "../packages/core/src/evaluate/makePlayer.ts";
import { readBvh } from "../packages/core/src/formats/bvhRead.ts";
import { writeAction } from "../packages/core/src/formats/kneaderJson.ts";
import { type Action, type ActionCard, withAbout } from "../packages/core/src/model/action.ts";
import type { Shot } from "../packages/core/src/model/shot.ts";
import { checkSettings, operations } from "../packages/core/src/operations/catalogue.ts";
import { noContext, WHOLE_FIGURE } from "../packages/core/src/operations/operation.ts";
import { demoActions, demoShots } from "../packages/demo/src/index.ts";
import { captureBytes } from "./capture.ts";
import { atMost, median, medianRun, medians, type Row } from "./measure.ts";
import { scriptPerFrame } from "./page.ts";
import { served } from "./served.ts";

const MANY = 5000;

function manyCards(): ActionCard[] {
  const few = demoActions().map((action) => withAbout(action).card);
  return Array.from({ length: MANY }, (_, n) => ({
    ...few[n % few.length],
    id: `many-${n}`,
    name: `${few[n % few.length].name} ${n}`,
    folder: `Folder ${n % 40}/Inner ${n % 7}`,
    savedAt: n,
  }));
}

/** What actions cost: fitted to a figure, played by passes, kept by the thousand. */
export async function benchActions(): Promise<Row[]> {
  return [...(await fittingRows()), ...(await playedRows()), ...(await shelfRows()), ...(await browserRows())];
}

async function fittingRows(): Promise<Row[]> {
  const capture = readBvh({ bytes: captureBytes, name: "cmu-01-01" }).shot;
  const clip = captureClip(capture, Object.keys(capture.base), capture.range);
  const otter = (await demoShots[0].make()).rig;
  const { fit } = await medians({ fit: () => fitClip(clip, otter) }, 8000);
  return [{ work: "The whole capture, 2 752 frames, fitted to the otter by names and shape", ms: fit }];
}

/** A shot with ten bands of an action against the same as ten keyed passes. */
async function playedRows(): Promise<Row[]> {
  const shot = await demoShots[0].make();
  const [nod] = demoActions();
  const lay = async (before: Shot, at: number) =>
    (
      await operations.layAction.run(
        before,
        WHOLE_FIGURE,
        checkSettings(operations.layAction as never, { action: nod, at, as: "pass", rounds: 4 }) as never,
        noContext,
      )
    ).shot;
  let played = shot;
  for (let n = 0; n < 10; n++) played = await lay(played, 1 + n);
  let keyed = played;
  for (const { id } of played.passes)
    keyed = (await operations.playToKeys.run(keyed, { ...WHOLE_FIGURE, layer: id }, { rounds: "kept" }, noContext)).shot;
  const over = (player: ReturnType<typeof makePlayer>) => () => {
    for (let frame = 1; frame <= 100; frame++) player.pose(frame);
  };
  const times = await medians({ played: over(makePlayer(played)), keyed: over(makePlayer(keyed)) });
  return [
    { work: "Ten bands of an action played over 100 frames", ms: times.played, against: { name: "as ten keyed passes", ms: times.keyed } },
  ];
}

async function shelfRows(): Promise<Row[]> {
  const cards = manyCards();
  const { search } = await medians({ search: () => findCards(cards, { words: "tail land 49", folder: null, tag: null, order: "name" }) });
  const root = mkdtempSync(join(tmpdir(), "kneader-shelf-"));
  try {
    const bytes = writeAction(demoActions()[0]);
    for (let n = 0; n < 40; n++) await mkdir(join(root, `Folder ${n}`));
    for (let n = 0; n < MANY; n++) await writeFile(join(root, `Folder ${n % 40}`, `Action ${n}.json`), bytes);
    const shelf = new ShelfFolder(root);
    await shelf.list();
    const listed = await medianRun(async () => JSON.stringify(await shelf.list(0)), 15);
    return [
      atMost("5 000 cards searched by three words, in the page", search, 100),
      atMost("5 000 actions listed by the server, all files looked at again", listed, 200),
    ];
  } finally {
    rmSync(root, { recursive: true, force: true });
  }
}

/** Fill the browser's own shelf as the application keeps it. */
async function fill(page: Page, action: Action, cards: readonly ActionCard[]): Promise<void> {
  await page.evaluate(
    async ([bytes, list]) => {
      const database = await new Promise<IDBDatabase>((resolve, reject) => {
        const request = indexedDB.open("kneader");
        request.onsuccess = () => resolve(request.result);
        request.onerror = () => reject(request.error);
      });
      const transaction = database.transaction(["actions", "action-cards"], "readwrite");
      for (const card of list) {
        transaction.objectStore("actions").put(Uint8Array.from(bytes), card.id);
        transaction.objectStore("action-cards").put(card, card.id);
      }
      await new Promise((done) => {
        transaction.oncomplete = done;
      });
      database.close();
    },
    [[...writeAction(action)], cards] as const,
  );
}

async function browserRows(): Promise<Row[]> {
  return served(async (browser, origin) => {
    const page = await (await browser.newContext({ viewport: settings.viewport })).newPage();
    await page.goto(`${origin}/pantry`);
    await page.locator("[data-card]").first().waitFor();
    await fill(page, demoActions()[0], manyCards());
    // What names functions for the tools is not in the page.
    await page.addInitScript({ content: "globalThis.__name = (given) => given;" });
    // By the page's own clock: from the navigation to the first tile, from a key to the first tile that fits.
    await page.addInitScript(() => {
      const look = () => {
        if (document.querySelector("[data-card]")) Object.assign(window, { firstTile: performance.now() });
        else requestAnimationFrame(look);
      };
      requestAnimationFrame(look);
    });
    const opened: number[] = [];
    for (let n = 0; n < 5; n++) {
      await page.goto(`${origin}/pantry`);
      await page
        .getByText(String(MANY + demoActions().length))
        .first()
        .waitFor();
      opened.push(await page.evaluate(() => (window as unknown as { firstTile: number }).firstTile));
      await page.waitForTimeout(1500);
    }
    const field = page.getByRole("textbox", { name: "Search actions and poses" });
    const searched: number[] = [];
    for (const words of ["flick", "nod 49", "nod 4992", "wave", "nod 12", "flick 7"]) {
      searched.push(
        await field.evaluate((element, text) => {
          const fits = () => document.querySelector("[data-card] .action-name")?.textContent?.toLowerCase().includes(text.split(" ")[0]);
          Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value")?.set?.call(element, text);
          const start = performance.now();
          element.dispatchEvent(new Event("input", { bubbles: true }));
          return new Promise<number>((done) => {
            const look = () => (fits() ? done(performance.now() - start) : requestAnimationFrame(look));
            look();
          });
        }, words),
      );
      await page.waitForTimeout(800);
    }
    await field.fill("");
    await page.locator("[data-card]").nth(3).waitFor();
    await page.mouse.move(500, 500);
    await scriptPerFrame(page, 20, () => page.mouse.wheel(0, 60));
    const spent = await scriptPerFrame(page, 60, () => page.mouse.wheel(0, 60));
    return [
      atMost("The pantry of 5 000 actions opened, to its first tile", median(opened), 1000),
      atMost("5 000 searched in the field, to the first tile", median(searched), 100),
      { ...atMost("5 000 scrolled by, JavaScript a frame", spent, 8), note: "pictures of new tiles wait for the scrolling to rest" },
    ];
  });
}
