import type { Page } from "@playwright/test";
import { median, medianOf } from "./measure.ts";

/** Median JavaScript milliseconds a frame while `step` is done once a frame, on a quiet machine where that can be had. */
export const scriptPerFrame = (page: Page, frames: number, step: (n: number) => Promise<void>): Promise<number> =>
  medianOf(1, () => scriptOnce(page, frames, step));

async function scriptOnce(page: Page, frames: number, step: (n: number) => Promise<void>): Promise<number> {
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

/** A file as the page is given it when it is dropped. */
export function transferOf(page: Page, name: string, bytes: Uint8Array) {
  return page.evaluateHandle(
    ([base64, title]) => {
      const transfer = new DataTransfer();
      transfer.items.add(new File([Uint8Array.from(atob(base64), (c) => c.charCodeAt(0))], title));
      return transfer;
    },
    [Buffer.from(bytes).toString("base64"), name],
  );
}

/** Milliseconds from dropping a file on the shelf until its figure is drawn and has moved on by a few frames. */
export async function dropToPlaying(page: Page, origin: string, name: string, bytes: Uint8Array): Promise<number> {
  await page.goto(origin);
  await page.getByRole("heading", { name: "At the landing" }).waitFor();
  await page.waitForTimeout(2500);
  const dataTransfer = await transferOf(page, name, bytes);
  const start = performance.now();
  await page.dispatchEvent("body", "drop", { dataTransfer });
  await page.getByRole("region", { name: "View" }).locator("canvas").waitFor();
  await page.waitForFunction(() => document.querySelector(".character-note") === null, null, { polling: 20 });
  await page.keyboard.press("Space");
  await page.waitForFunction(() => Number(document.querySelector<HTMLInputElement>("input.frame-field")?.value) > 5, null, { polling: 20 });
  return performance.now() - start;
}
