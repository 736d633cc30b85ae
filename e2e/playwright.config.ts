import { defineConfig } from "@playwright/test";
import { chromium } from "./chromium.ts";

const port = 4791;

export default defineConfig({
  testDir: ".",
  testMatch: "*.spec.ts",
  timeout: 180_000,
  expect: { timeout: 15_000 },
  // TRACE=1 keeps a recording of what failed; recording takes a fifth of the time.
  // Three at a time on two cores: while one page waits the others work.
  workers: 3,
  // Tests, not files, are shared out, so that neither waits for the other at the end.
  fullyParallel: true,
  use: { ...chromium, actionTimeout: 15_000, baseURL: `http://127.0.0.1:${port}`, trace: process.env.TRACE ? "retain-on-failure" : "off" },
  webServer: {
    command: "node apps/server/dist/main.js",
    cwd: "..",
    port,
    env: { PORT: String(port) },
    reuseExistingServer: false,
  },
});
