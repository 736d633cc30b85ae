import { existsSync } from "node:fs";
import { fileURLToPath } from "node:url";
import { chromium, type Page } from "@playwright/test";
import { buildServer } from "../apps/server/src/server.ts";
import { chromium as settings } from "../e2e/chromium.ts";
import { captureBytes } from "./capture.ts";
import { atMost, median, type Row } from "./measure.ts";

const dist = fileURLToPath(new URL("../apps/web/dist", import.meta.url));

/** Milliseconds from dropping the capture on the shelf until the figure has moved on by a few frames. */
async function dropToPlaying(page: Page, origin: string): Promise<number> {
  await page.goto(origin);
  await page.getByRole("heading", { name: "At the landing" }).waitFor();
  await page.waitForTimeout(2500);
  const data = await page.evaluateHandle((base64) => {
    const transfer = new DataTransfer();
    transfer.items.add(new File([Uint8Array.from(atob(base64), (c) => c.charCodeAt(0))], "capture.bvh"));
    return transfer;
  }, Buffer.from(captureBytes).toString("base64"));
  const start = performance.now();
  await page.dispatchEvent("body", "drop", { dataTransfer: data });
  await page.getByRole("region", { name: "View" }).locator("canvas").waitFor();
  await page.keyboard.press("Space");
  await page.waitForFunction(() => Number(document.querySelector<HTMLInputElement>(".frame-field input")?.value) > 5, null, {
    polling: 20,
  });
  return performance.now() - start;
}

/** Median JavaScript milliseconds a frame while `step` is done once a frame. */
async function scriptPerFrame(page: Page, frames: number, step: (n: number) => Promise<void>): Promise<number> {
  const session = await page.context().newCDPSession(page);
  await session.send("Performance.enable");
  const script = async () =>
    (await session.send("Performance.getMetrics")).metrics.find(({ name }) => name === "ScriptDuration")?.value ?? 0;
  const spent: number[] = [];
  let before = await script();
  for (let n = 0; n < frames; n++) {
    await step(n);
    await page.evaluate(() => new Promise((done) => requestAnimationFrame(done)));
    const now = await script();
    spent.push((now - before) * 1000);
    before = now;
  }
  await session.detach();
  return median(spent);
}

/** Milliseconds from a key press on the rotation slider until the tray shows other curves: median of several. */
async function sliderToResult(page: Page): Promise<number> {
  await page.keyboard.press("s");
  const slider = page.getByRole("slider", { name: "Rotation within slider" });
  await page.getByRole("button", { name: /^Worst curve/ }).waitFor();
  await slider.focus();
  const times: number[] = [];
  for (let n = 0; n < 5; n++) {
    await page.waitForTimeout(1500);
    const spent = await page.evaluate(async () => {
      const canvas = document.querySelector<HTMLCanvasElement>(".curve-plot canvas");
      const handle = document.activeElement;
      if (!canvas || !handle) throw new Error("no tray, or no slider");
      const before = canvas.toDataURL();
      const start = performance.now();
      handle.dispatchEvent(new KeyboardEvent("keydown", { key: "ArrowRight", keyCode: 39, which: 39, bubbles: true } as KeyboardEventInit));
      let checked = 0;
      while (canvas.toDataURL() === before && performance.now() - start < 5000) {
        const at = performance.now();
        await new Promise((done) => requestAnimationFrame(done));
        checked += performance.now() - at;
      }
      return checked > 0 ? performance.now() - start : Number.POSITIVE_INFINITY;
    });
    times.push(spent);
  }
  return median(times);
}

/** Panning, zooming and dragging with the whole capture open; the page shows it already. */
async function trays(page: Page): Promise<Row[]> {
  const rows: Row[] = [];
  await page.keyboard.press("Space");
  const pan = async (name: string, limit: number) => {
    const box = await page.locator(".curve-plot canvas").boundingBox();
    if (!box) throw new Error("no tray");
    await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
    await page.mouse.wheel(0, -300);
    await page.waitForTimeout(500);
    const panned = await scriptPerFrame(page, 40, (n) => page.mouse.wheel(n % 20 < 10 ? 40 : -40, 0));
    rows.push(atMost(`Panning the ${name}, JavaScript a frame`, panned, limit));
    const zoomed = await scriptPerFrame(page, 40, (n) => page.mouse.wheel(0, n % 20 < 10 ? 60 : -60));
    rows.push(atMost(`Zooming the ${name}, JavaScript a frame`, zoomed, limit));
  };
  rows.push(atMost("From a moved simplify slider to its first result", await sliderToResult(page), 250));
  await page.keyboard.press("Escape");
  await page.getByRole("button", { name: "Hips", exact: true }).click();
  await page.keyboard.press("f");
  await pan("curve tray", 8);
  await page.keyboard.press("f");
  await page.waitForTimeout(300);
  const box = await page.locator(".curve-plot canvas").boundingBox();
  if (!box) throw new Error("no tray");
  await page.mouse.move(box.x + 4, box.y + 3);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width * 0.605, box.y + box.height - 3, { steps: 3 });
  await page.mouse.up();
  const picked = (await page.getByTestId("scope").textContent()) ?? "";
  await page.keyboard.press("d");
  await page.waitForTimeout(500);
  await pan("sheet tray", 8);
  await page.keyboard.press("f");
  await page.waitForTimeout(500);
  const line = await page.locator(".sheet-name.control.picked").boundingBox();
  const sheet = await page.locator(".curve-plot canvas").boundingBox();
  if (!line || !sheet) throw new Error("no line");
  await page.mouse.move(sheet.x + sheet.width / 2, line.y + 12);
  await page.mouse.down();
  const dragged = await scriptPerFrame(page, 80, (n) => page.mouse.move(sheet.x + sheet.width / 2 + 3 * ((n % 10) + 1), line.y + 12));
  await page.keyboard.press("Escape");
  await page.mouse.up();
  rows.push({ ...atMost("Dragging the picked keys in the sheet, JavaScript a frame", dragged, 16), note: picked.trim() });
  return rows;
}

export async function benchBrowser(): Promise<Row[]> {
  if (!existsSync(dist)) throw new Error("The application is not built yet: npm run build.");
  const server = await buildServer(dist);
  const origin = await server.listen({ host: "127.0.0.1", port: 0 });
  const browser = await chromium.launch(settings.launchOptions);
  try {
    const times: number[] = [];
    let rows: Row[] = [];
    for (let n = 0; n < 3; n++) {
      const context = await browser.newContext({ viewport: settings.viewport });
      const page = await context.newPage();
      times.push(await dropToPlaying(page, origin));
      if (n === 2) rows = await trays(page);
      await context.close();
    }
    return [atMost("From dropping the capture to a playing figure, headless Chromium", median(times), 3000), ...rows];
  } finally {
    await browser.close();
    await server.close();
  }
}
