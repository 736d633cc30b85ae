import type { Browser, Page } from "@playwright/test";
import { chromium as settings } from "../e2e/chromium.ts";
import { atMost, medianOf, type Row } from "./measure.ts";
import { served } from "./served.ts";

const ROUNDS = 5;

/** Milliseconds from asking for an address, in a browser that has never seen it, until something is there. */
async function timeUntil(browser: Browser, address: string, isThere: (page: Page) => Promise<unknown>): Promise<number> {
  return medianOf(ROUNDS, async () => {
    const context = await browser.newContext({ viewport: settings.viewport });
    const page = await context.newPage();
    const start = performance.now();
    await page.goto(address, { waitUntil: "commit" });
    await isThere(page);
    const took = performance.now() - start;
    await context.close();
    return took;
  });
}

const shelfIsThere = (page: Page) => page.getByRole("heading", { name: "At the landing" }).waitFor();
const benchIsThere = (page: Page) => page.waitForFunction(hasBench, null, { polling: 20 });

/** The bench with its trays, and the figure drawn: the middle of the view is not one colour any more. */
function hasBench(): boolean {
  const canvas = document.querySelector<HTMLCanvasElement>(".view-stage canvas");
  if (!canvas || canvas.width < 50 || !document.querySelector(".curve-plot canvas")) return false;
  const copy = document.createElement("canvas");
  copy.width = copy.height = 24;
  const pen = copy.getContext("2d");
  pen?.drawImage(canvas, 0, 0, 24, 24);
  return new Set(new Uint32Array(pen?.getImageData(0, 0, 24, 24).data.buffer ?? new ArrayBuffer(0))).size > 8;
}

/** From an address to the first picture, cold; the bench may take as long again as the shelf. */
export const benchStarting = (): Promise<Row[]> =>
  served(async (browser, origin) => [
    atMost("From the address to the shelf of shots", await timeUntil(browser, origin, shelfIsThere), 800),
    atMost(
      "From the address of a demo shot to its bench, the figure drawn",
      await timeUntil(browser, `${origin}/shots/demo-hop-aboard`, benchIsThere),
      1600,
    ),
  ]);
