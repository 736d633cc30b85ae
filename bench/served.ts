import { spawn } from "node:child_process";
import { once } from "node:events";
import { existsSync } from "node:fs";
import { type AddressInfo, createServer } from "node:net";
import { type Browser, chromium } from "@playwright/test";
import { chromium as settings } from "../e2e/chromium.ts";
import { fromRoot } from "./fromRoot.ts";

const dist = fromRoot("apps/web/dist");
const main = fromRoot("apps/server/src/main.ts");

async function freePort(): Promise<number> {
  const probe = createServer().listen(0, "127.0.0.1");
  await once(probe, "listening");
  const { port } = probe.address() as AddressInfo;
  probe.close();
  return port;
}

/** Measure in a browser against the built application, served for as long as that takes: by a process of its own, as it is used. */
export async function served<Result>(measure: (browser: Browser, origin: string) => Promise<Result>): Promise<Result> {
  if (!existsSync(dist)) throw new Error("The application is not built yet: npm run build.");
  const port = await freePort();
  const server = spawn(process.execPath, ["--conditions=kneader-source", "--import", "tsx", main], {
    env: { ...process.env, PORT: String(port) },
    stdio: ["ignore", "pipe", "inherit"],
  });
  // Its first words say that it is ready.
  await once(server.stdout, "data");
  const browser = await chromium.launch(settings.launchOptions);
  try {
    return await measure(browser, `http://127.0.0.1:${port}`);
  } finally {
    await browser.close();
    server.kill();
  }
}
