import type { Page } from "@playwright/test";
import { median } from "./measure.ts";

/** Median JavaScript milliseconds a frame while `step` is done once a frame. */
export async function scriptPerFrame(page: Page, frames: number, step: (n: number) => Promise<void>): Promise<number> {
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
