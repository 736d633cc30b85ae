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

export async function benchBrowser(): Promise<Row[]> {
  if (!existsSync(dist)) throw new Error("The application is not built yet: npm run build.");
  const server = await buildServer(dist);
  const origin = await server.listen({ host: "127.0.0.1", port: 0 });
  const browser = await chromium.launch(settings.launchOptions);
  try {
    const times: number[] = [];
    for (let n = 0; n < 3; n++) {
      const context = await browser.newContext({ viewport: settings.viewport });
      times.push(await dropToPlaying(await context.newPage(), origin));
      await context.close();
    }
    return [atMost("From dropping the capture to a playing figure, headless Chromium", median(times), 3000)];
  } finally {
    await browser.close();
    await server.close();
  }
}
