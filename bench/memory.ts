import { readFileSync } from "node:fs";
import type { Browser, CDPSession, Page } from "@playwright/test";
import { chromium as settings } from "../e2e/chromium.ts";
import type { Row } from "./measure.ts";
import { served } from "./served.ts";

/*
 * A long session in one tab: shots opened and closed, edits, previews. What it holds more at the end, with a thousand steps that
 * can be taken back, than after a short one of the same kind.
 */

const SHOTS = ["Half a walk", "Hop aboard", "Hand over the lantern", "Captured signal", "Waiting on board"];
const MOST = 50;

async function openAndClose(page: Page, times: number): Promise<void> {
  for (let n = 0; n < times; n++) {
    await page.getByRole("button", { name: `Open ${SHOTS[n % SHOTS.length]}` }).click();
    await page.getByRole("region", { name: "Rack" }).waitFor();
    await page.waitForTimeout(900);
    await page.getByRole("link", { name: "Kneader, to the shelf of shots" }).click();
    await page.getByRole("heading", { name: "At the landing" }).waitFor();
  }
}

/** Typed values, each a step of its own. */
async function edit(page: Page, times: number): Promise<void> {
  await page.getByRole("button", { name: "Chest", exact: true }).click();
  const field = page.getByRole("textbox", { name: "Chest rotate X" });
  for (let n = 0; n < times; n++) {
    await field.fill(String((n % 40) - 20 + n / 1e4));
    await field.press("Enter");
  }
}

/** The rotation slider of the simplify card, one step after the other, each with its result. */
async function preview(page: Page, times: number): Promise<void> {
  await page.keyboard.press("Escape");
  await page.keyboard.press("s");
  const slider = page.getByRole("slider", { name: "Rotation within slider" });
  await slider.waitFor();
  await slider.focus();
  for (let n = 0; n < times; n++) {
    await page.keyboard.press(n % 20 < 10 ? "ArrowRight" : "ArrowLeft");
    await page.waitForTimeout(150);
  }
  await page.keyboard.press("Escape");
}

async function session(page: Page, shots: number, edits: number, previews: number): Promise<void> {
  await openAndClose(page, shots);
  await page.getByRole("button", { name: "Open Waiting on board" }).click();
  await page.getByRole("region", { name: "Rack" }).waitFor();
  await edit(page, edits);
  await preview(page, previews);
  await page.getByRole("link", { name: "Kneader, to the shelf of shots" }).click();
  await page.getByRole("heading", { name: "At the landing" }).waitFor();
  await page.waitForTimeout(3000);
}

/** Megabytes of script that are still held after what is not was let go of. */
async function heldBy(cdp: CDPSession): Promise<number> {
  for (let n = 0; n < 3; n++) await cdp.send("HeapProfiler.collectGarbage");
  const { metrics } = await cdp.send("Performance.getMetrics");
  return (metrics.find(({ name }) => name === "JSHeapUsedSize")?.value ?? Number.NaN) / 1e6;
}

/** Megabytes of the processes that run pages, typed arrays and all; what the system gives back late is in it. */
async function ofProcesses(browser: Browser): Promise<number> {
  const cdp = await browser.newBrowserCDPSession();
  const { processInfo } = await cdp.send("SystemInfo.getProcessInfo");
  await cdp.detach();
  const anonymous = (id: number) => Number(/RssAnon:\s+(\d+)/.exec(readFileSync(`/proc/${id}/status`, "utf8"))?.[1] ?? 0) / 1e3;
  return processInfo.filter(({ type }) => type === "renderer").reduce((sum, { id }) => sum + anonymous(id), 0);
}

export const benchMemory = (): Promise<Row[]> =>
  served(async (browser, origin) => {
    const context = await browser.newContext({ viewport: settings.viewport, reducedMotion: "reduce" });
    const page = await context.newPage();
    await page.goto(origin);
    await page.getByRole("heading", { name: "At the landing" }).waitFor();
    const cdp = await context.newCDPSession(page);
    await cdp.send("Performance.enable");
    await cdp.send("HeapProfiler.enable");
    await session(page, 5, 60, 20);
    const [script, all] = [await heldBy(cdp), await ofProcesses(browser)];
    await session(page, 20, 1000, 200);
    const more = (await heldBy(cdp)) - script;
    const allMore = (await ofProcesses(browser)) - all;
    await context.close();
    return [
      {
        work: "Memory held more after 20 shots opened and closed, 1 000 edits, 200 previews (megabytes, not a time)",
        ms: more,
        target: `under ${MOST} MB`,
        met: more < MOST,
        note: `${script.toFixed(0)} MB of script before; the process with typed arrays and all ${all.toFixed(0)} MB, then ${allMore.toFixed(0)} MB more`,
      },
    ];
  });
