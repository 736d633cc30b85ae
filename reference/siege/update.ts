import type { ChildProcess } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { type BrowserContext, chromium, type Page } from "@playwright/test";
import { demoIds, openDemo, saved } from "../../e2e/bench.ts";
import { chromium as settings } from "../../e2e/chromium.ts";
import { buildAt } from "./builds.ts";
import { end, serve } from "./servers.ts";
import type { Outcome, Trial } from "./trial.ts";

const PORT = 4850;
const STORES = "apps/web/src/storage/stores.ts";

/** Today's build, and one that keeps something more, as an update would: it raises the version of the database. */
function twoBuilds(): readonly [older: string, newer: string] {
  return [
    buildAt("HEAD", () => undefined),
    buildAt("HEAD", (read, write) => write(STORES, `${read(STORES)}\nexport const laterStore = store("later");\n`)),
  ];
}

const passes = (page: Page) => page.getByRole("region", { name: /^Pass \d+$/ }).count();

/** Add a pass on a tab of whichever build, and wait until it is kept. */
async function work(page: Page): Promise<void> {
  const before = await passes(page);
  await page.bringToFront();
  await page.keyboard.press("a");
  await page.getByRole("region", { name: `Pass ${before + 1}` }).waitFor();
  await saved(page);
}

/** What two tabs of two builds do, in either order, with the server changed below them. */
async function round(context: BrowserContext, change: (to: number) => Promise<void>, first: number): Promise<string[]> {
  const faults: string[] = [];
  const [one, other] = Object.keys(demoIds);
  const name = ["older", "newer"];
  await change(first);
  const old = await context.newPage();
  await openDemo(old, one);
  await work(old);
  // The other build is put in its place while that tab stays open.
  await change(1 - first);
  const next = await context.newPage();
  await openDemo(next, other);
  for (let n = 0; n < 3; n++) {
    await work(next);
    await work(old);
  }
  // What the second build made is read by the first one, and the other way round.
  const wanted = [await passes(old), await passes(next)];
  await old.close();
  await next.close();
  for (const build of [first, 1 - first]) {
    await change(build);
    const page = await context.newPage();
    for (const [n, shot] of [one, other].entries()) {
      await openDemo(page, shot);
      await page
        .getByRole("region", { name: `Pass ${wanted[n]}` })
        .waitFor({ timeout: 5_000 })
        .catch(() => undefined);
      const found = await passes(page);
      if (found !== wanted[n]) faults.push(`the ${name[build]} build finds ${found} passes of "${shot}" where ${wanted[n]} were kept`);
    }
    await page.close();
  }
  return faults;
}

/** An older and a newer build on one profile of the browser, edits in both orders. */
export const update: Trial = {
  id: "update",
  title: "An older and a newer build on one profile, edits in both orders",
  async run(times, say): Promise<Outcome> {
    const builds = twoBuilds();
    say("both are built");
    const faults: string[] = [];
    let server: ChildProcess | null = null;
    const change = async (to: number) => {
      if (server) await end(server, "SIGTERM");
      server = await serve(PORT, { at: builds[to] });
    };
    const rounds = Math.min(times, 20);
    for (let n = 0; n < rounds; n++) {
      const profile = mkdtempSync(join(tmpdir(), "kneader-siege-"));
      const context = await chromium.launchPersistentContext(profile, {
        ...settings,
        ...settings.launchOptions,
        baseURL: `http://127.0.0.1:${PORT}`,
      });
      faults.push(...(await round(context, change, n % 2)).map((fault) => `round ${n + 1}: ${fault}`));
      await context.close();
      rmSync(profile, { recursive: true, force: true });
      say(`${n + 1} of ${rounds}`);
    }
    if (server) await end(server, "SIGTERM");
    for (const build of builds) rmSync(build, { recursive: true });
    return { times: rounds, kept: "8 changes of two shots a round, with both builds", faults };
  },
};
