import { type ChildProcess, spawn, spawnSync } from "node:child_process";
import { once } from "node:events";
import { createServer } from "node:net";
import { fileURLToPath } from "node:url";
import { expect, test } from "@playwright/test";
import { isKnownNode } from "../scripts/setup.mjs";

/** Starting and ending, as whoever has just fetched the project does. */

const root = fileURLToPath(new URL("..", import.meta.url));
const PORT = 4795;
const OTHER = 4797;

const start = (args: string[], env: NodeJS.ProcessEnv = {}) =>
  spawnSync("npm", ["start", "--silent", "--", ...args], { cwd: root, encoding: "utf8", timeout: 30_000, env: { ...process.env, ...env } });

const answers = () =>
  fetch(`http://127.0.0.1:${PORT}/api/health`).then(
    ({ ok }) => ok,
    () => false,
  );

test("a wrong, empty or taken port, or an unknown word, is said at once in a sentence that holds on every system", async () => {
  for (const [args, env, code, says] of [
    [["--port", "many"], {}, 2, /no port: .*npm start -- --port 4200/],
    [["--port", "0"], {}, 2, /no port/],
    [[], { PORT: "" }, 2, /no port/],
    [["--prot", "4200"], { PORT: String(OTHER) }, 2, /Unknown option '--prot'[\s\S]*Use: npm start/],
    [["--open"], { PORT: String(OTHER) }, 2, /needs a token of at least 12 characters/],
    [["--shelf", "package.json"], { PORT: String(OTHER) }, 1, /cannot be a folder: it is a file/],
  ] as const) {
    const done = start([...args], env);
    expect([args, done.status, done.stdout]).toEqual([args, code, ""]);
    expect(done.stderr).toMatch(says);
    expect(done.stderr).not.toMatch(/at .*:\d+|PORT=/);
  }
  const other = createServer().listen(OTHER, "127.0.0.1");
  await once(other, "listening");
  try {
    const done = start(["--port", String(OTHER)]);
    expect([done.status, done.stderr.trim()]).toEqual([
      1,
      expect.stringMatching(/taken by another program. Give another one: npm start -- --port 4798/),
    ]);
  } finally {
    other.close();
  }
});

test("it says where it is and how it ends; ended or killed, nothing of it is left", async () => {
  for (const signal of ["SIGINT", "SIGTERM", "SIGKILL"] as const) {
    const npm: ChildProcess = spawn("npm", ["start", "--", "--port", String(PORT)], { cwd: root, detached: true });
    let said = "";
    npm.stdout?.on("data", (text) => {
      said += text;
    });
    await expect.poll(answers, { timeout: 60_000 }).toBe(true);
    expect(said).toContain(`Kneader is ready at http://127.0.0.1:${PORT}/   (end with Ctrl C)`);
    // No walls of words: what npm says of itself, and the line above.
    expect(said.trim().split("\n").length).toBeLessThan(8);
    // Ctrl C goes to all of them; who kills, kills the first one.
    process.kill(signal === "SIGINT" ? -(npm.pid as number) : (npm.pid as number), signal);
    await expect.poll(answers, { timeout: 20_000 }).toBe(false);
  }
});

test("versions of Node on which something of it would not run are known before anything is installed", () => {
  expect(["20.19.0", "20.20.2", "22.13.0", "24.0.0", "26.1.0"].filter((version) => !isKnownNode(version))).toEqual([]);
  expect(["18.20.0", "20.18.3", "21.7.0", "22.12.0", "23.5.0"].filter(isKnownNode)).toEqual([]);
});
