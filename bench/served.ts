import { existsSync } from "node:fs";
import { fileURLToPath } from "node:url";
import { type Browser, chromium } from "@playwright/test";
import { buildServer } from "../apps/server/src/server.ts";
import { chromium as settings } from "../e2e/chromium.ts";

const dist = fileURLToPath(new URL("../apps/web/dist", import.meta.url));

/** Measure in a browser against the built application, served for as long as that takes. */
export async function served<Result>(measure: (browser: Browser, origin: string) => Promise<Result>): Promise<Result> {
  if (!existsSync(dist)) throw new Error("The application is not built yet: npm run build.");
  const server = await buildServer(dist);
  const origin = await server.listen({ host: "127.0.0.1", port: 0 });
  const browser = await chromium.launch(settings.launchOptions);
  try {
    return await measure(browser, origin);
  } finally {
    await browser.close();
    await server.close();
  }
}
