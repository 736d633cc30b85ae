import { type Browser, type BrowserContext, chromium, type Page } from "@playwright/test";
import { apply, openDemo, previewed, saved } from "../../e2e/bench.ts";
import { chromium as settings } from "../../e2e/chromium.ts";
import { end, serve } from "./servers.ts";
import { between, type Outcome, type Trial, wait } from "./trial.ts";

const PORT = 4860;
const origin = `http://127.0.0.1:${PORT}`;
/** So many accidents a tab before everything is looked for again. */
const ACCIDENTS = 4;

interface Tab {
  readonly context: BrowserContext;
  page: Page;
  /** Passes that were made. */
  made: number;
}

async function work(tab: Tab): Promise<void> {
  await tab.page.bringToFront();
  await tab.page.keyboard.press("a");
  await tab.page.getByRole("region", { name: `Pass ${++tab.made}`, exact: true }).waitFor();
}

/** The browser gives no more room, while work goes on, and gives it again. */
async function fullStorage(tab: Tab): Promise<void> {
  const session = await tab.context.newCDPSession(tab.page);
  await session.send("Storage.overrideQuotaForOrigin", { origin, quotaSize: 1000 });
  // The browser looks at its limits every half a minute only.
  const full = tab.page.getByRole("alert").filter({ hasText: "storage is full" });
  for (let n = 0; n < 20 && !(await full.isVisible()); n++) {
    await work(tab);
    await wait(3000);
  }
  await full.waitFor({ timeout: 5_000 });
  await work(tab);
  await session.send("Storage.overrideQuotaForOrigin", { origin });
  await work(tab);
}

/** The clock is put forward or back by up to ten years. */
async function clockJump(tab: Tab): Promise<void> {
  const jump = between(-1, 1) * 3.2e11;
  await tab.page.evaluate((by) => {
    const { now } = Date;
    Date.now = () => now() + by;
  }, jump);
  await work(tab);
}

/** The worker ends without a word while it works: the work is done by another one all the same. */
async function deadWorker(tab: Tab): Promise<void> {
  await tab.page.getByRole("button", { name: "Base motion" }).first().click();
  await tab.page.keyboard.press("s");
  await wait(between(0, 100));
  for (const worker of tab.page.workers()) await worker.evaluate(() => self.close()).catch(() => undefined);
  await previewed(tab.page);
  await apply(tab.page);
  // So that the next one finds something to do.
  await tab.page.keyboard.press("Control+z");
}

/** Somebody throws the database away. */
async function noDatabase(tab: Tab): Promise<void> {
  const other = await tab.context.newPage();
  await other.goto("/icon.svg");
  await other.evaluate(
    () =>
      new Promise<void>((resolve, reject) => {
        const request = indexedDB.deleteDatabase("kneader");
        request.onsuccess = () => resolve();
        request.onerror = () => reject(request.error);
      }),
  );
  await other.close();
  await work(tab);
}

/** The page's process breaks down once everything is said to be saved; the address is opened anew. */
async function crash(tab: Tab): Promise<void> {
  await saved(tab.page);
  await tab.page.goto("chrome://crash").catch(() => undefined);
  await tab.page.close();
  tab.page = await tab.context.newPage();
  await openDemo(tab.page, "Half a walk");
  await tab.page.getByRole("region", { name: `Pass ${tab.made}`, exact: true }).waitFor();
}

const accidents = { fullStorage, clockJump, deadWorker, noDatabase, crash };

async function sequence(browser: Browser, count: Record<string, number>): Promise<string[]> {
  const context = await browser.newContext({ ...settings, baseURL: origin });
  const tab: Tab = { context, page: await context.newPage(), made: 0 };
  const trail: string[] = [];
  try {
    await openDemo(tab.page, "Half a walk");
    await work(tab);
    for (let n = 0; n < ACCIDENTS; n++) {
      const names = Object.keys(accidents) as (keyof typeof accidents)[];
      const name = names[Math.floor(Math.random() * names.length)];
      trail.push(name);
      count[name] = (count[name] ?? 0) + 1;
      await accidents[name](tab);
    }
    await work(tab);
    // After tries that failed the next one may be a minute off.
    await tab.page
      .getByRole("status")
      .filter({ hasText: /Saved here|As saved/ })
      .waitFor({ timeout: 70_000 });
    await tab.page.reload();
    await tab.page.getByRole("region", { name: `Pass ${tab.made}`, exact: true }).waitFor();
    return [];
  } catch (error) {
    return [`after ${trail.join(", ")}: ${(error as Error).message.split("\n").slice(0, 4).join(" ")}`];
  } finally {
    await context.close();
  }
}

/** What may befall a tab at work, one thing after the other in any order. */
export const brokenTab: Trial = {
  id: "tab",
  title: "Full storage, clocks that jump, dead workers, deleted databases and crashes of a tab at work",
  async run(times, say): Promise<Outcome> {
    const server = await serve(PORT);
    const browser = await chromium.launch(settings.launchOptions);
    const faults: string[] = [];
    const count: Record<string, number> = {};
    for (let n = 0; n < times; n += ACCIDENTS) {
      faults.push(...(await sequence(browser, count)));
      say(`${Math.min(n + ACCIDENTS, times)} of ${times}; ${JSON.stringify(count)}`);
    }
    await browser.close();
    await end(server, "SIGTERM");
    return {
      times,
      kept: Object.entries(count)
        .map(([name, each]) => `${each} × ${name}`)
        .join(", "),
      faults,
    };
  },
};
