// npm run dev: the application with live reload, and the server with its shelf and capture line behind it.
import { spawn } from "node:child_process";
import { join } from "node:path";
import { buildKernels } from "./kernel.mjs";
import { buildApplication, buildServer, installPackages, root } from "./setup.mjs";

installPackages();
await buildKernels();
buildApplication();
buildServer();
const behind = "4174";
const server = spawn(process.execPath, ["apps/server/dist/main.js", "--port", behind, ...process.argv.slice(2)], {
  cwd: root,
  stdio: ["ignore", "ignore", "inherit"],
});
const vite = spawn(process.execPath, [join(root, "node_modules/vite/bin/vite.js"), "apps/web"], {
  cwd: root,
  stdio: "inherit",
  env: { ...process.env, KNEADER_BEHIND: `http://127.0.0.1:${behind}` },
});
const end = () => {
  server.kill();
  vite.kill();
};
for (const signal of ["SIGINT", "SIGTERM"]) process.on(signal, end);
process.on("exit", end);
for (const one of [server, vite]) one.on("exit", (code) => process.exit(code ?? 0));
