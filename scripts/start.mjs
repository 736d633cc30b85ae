// npm start: install what is missing, build, serve, print the address.
import { spawn } from "node:child_process";
import { buildKernels } from "./kernel.mjs";
import { buildApplication, installPackages, root } from "./setup.mjs";

installPackages();
await buildKernels();
buildApplication();
const server = spawn(
  process.execPath,
  ["--conditions=kneader-source", "--import", "tsx", "apps/server/src/main.ts", ...process.argv.slice(2)],
  {
    cwd: root,
    stdio: "inherit",
  },
);
for (const signal of ["SIGINT", "SIGTERM"]) process.on(signal, () => server.kill(signal));
server.on("exit", (code) => process.exit(code ?? 0));
