// npm start: install what is missing, build, serve, print the address.
import { readFileSync } from "node:fs";
import { createServer } from "node:net";
import { buildKernels } from "./kernel.mjs";
import { buildApplication, buildServer, installPackages, needNode } from "./setup.mjs";

/** The port that is asked for, as far as it can be read; the server says what is wrong with others. */
function askedPort() {
  const given = process.argv.slice(2);
  const at = given.findIndex((one) => one === "--port" || one.startsWith("--port="));
  const written = at < 0 ? process.env.PORT : given[at].includes("=") ? given[at].slice(7) : given[at + 1];
  if (written === undefined) return 4173;
  return /^\d{1,5}$/.test(written) && Number(written) > 0 && Number(written) <= 65_535 ? Number(written) : null;
}

/** Is somebody else answering there? */
const isTaken = (port) =>
  new Promise((resolve) => {
    const probe = createServer();
    probe.once("error", (error) => resolve(error.code === "EADDRINUSE"));
    probe.listen(port, "127.0.0.1", () => probe.close(() => resolve(false)));
  });

/** When whoever started this is gone, so is this: npm, which stands behind a shell, or the shell itself. */
function endWithStarter() {
  const parent = process.ppid;
  let npm = null;
  try {
    // The number after the name in brackets and the state is the parent's.
    if (process.env.npm_lifecycle_event) npm = Number(/\) \S (\d+)/.exec(readFileSync(`/proc/${parent}/stat`, "utf8"))?.[1] ?? null);
  } catch {
    // Other systems have no such folder.
  }
  const isGone = (id) => {
    try {
      process.kill(id, 0);
      return false;
    } catch (error) {
      return error.code === "ESRCH";
    }
  };
  setInterval(() => {
    if (process.ppid !== parent || (npm !== null && isGone(npm))) process.kill(process.pid, "SIGTERM");
  }, 500).unref();
}

needNode();
// What is wrong is said before anything is installed or built.
const port = askedPort();
if (port === null) {
  console.error("That is no port: it is a whole number from 1 to 65535, such as: npm start -- --port 4200");
  process.exit(2);
}
if (await isTaken(port)) {
  console.error(`Port ${port} is taken by another program. Give another one: npm start -- --port ${port < 65_535 ? port + 1 : 4200}`);
  process.exit(1);
}
installPackages();
await buildKernels();
buildApplication();
buildServer();
endWithStarter();
// In this very process: ended however it is, nothing is left behind.
await import("../apps/server/dist/main.js");
