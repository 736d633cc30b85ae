import { mkdtempSync, readlinkSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { chromium, type Page } from "@playwright/test";
import { goToFrame, openDemo, saved } from "../../e2e/bench.ts";
import { chromium as settings } from "../../e2e/chromium.ts";
import { end, serve } from "./servers.ts";
import { between, type Outcome, type Trial, wait } from "./trial.ts";

const PORT = 4840;
/** So many kills a profile: the shot grows by some passes each time. */
const KILLS = 5;
/** Work that is younger may be lost, and nothing else (milliseconds). */
const YOUNG = 1000;

const passes = (page: Page) => page.getByRole("region", { name: /^Pass \d+$/ }).count();

/** Chromium is killed, with all its processes, while passes are added: what is older than a second is there afterwards. */
export const killBrowser: Trial = {
  id: "browser",
  title: "The browser killed while passes are added",
  async run(times, say): Promise<Outcome> {
    const server = await serve(PORT);
    const faults: string[] = [];
    let kept = 0;
    let youngest = 0;
    for (let n = 0; n < times; ) {
      const folder = mkdtempSync(join(tmpdir(), "kneader-siege-"));
      const open = async () => {
        const context = await chromium.launchPersistentContext(folder, {
          ...settings,
          ...settings.launchOptions,
          baseURL: `http://127.0.0.1:${PORT}`,
        });
        const page = await context.newPage();
        await openDemo(page, "Hop aboard");
        return { context, page };
      };
      /** When each pass was there, by its number. */
      let made: number[] = [];
      for (let k = 0; k <= KILLS; k++) {
        const { context, page } = await open();
        const found = await passes(page);
        const lost = made.slice(found);
        if (found > made.length) faults.push(`kill ${n}: ${found} passes where ${made.length} were made`);
        const oldest = Math.max(0, ...lost);
        youngest = Math.max(youngest, oldest);
        if (oldest > YOUNG) faults.push(`kill ${n}: a pass of ${Math.round(oldest)} ms is lost`);
        kept += found;
        if (k === KILLS) {
          await context.close();
          break;
        }
        await saved(page);
        made = made.slice(0, found).map(() => Number.POSITIVE_INFINITY);
        const began: number[] = [];
        const until = performance.now() + between(200, 3000);
        while (performance.now() < until) {
          await page.keyboard.press("a");
          began.push(performance.now());
          await wait(between(50, 600));
          if (Math.random() < 0.2) await goToFrame(page, Math.round(between(1, 20)));
        }
        process.kill(Number(readlinkSync(join(folder, "SingletonLock")).split("-").at(-1)), "SIGKILL");
        const killed = performance.now();
        made = [...made, ...began.map((at) => killed - at)];
        await new Promise((resolve) => context.once("close", resolve));
        n++;
        say(`${n} of ${times}, the oldest that was lost was ${Math.round(youngest)} ms old`);
      }
      rmSync(folder, { recursive: true, force: true });
    }
    await end(server, "SIGTERM");
    return { times, kept: `${kept} passes; the oldest that was lost was ${Math.round(youngest)} ms old`, faults };
  },
};
