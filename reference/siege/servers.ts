import { type ChildProcess, spawn } from "node:child_process";
import { once } from "node:events";
import { join } from "node:path";
import { fileURLToPath } from "node:url";
import { wait } from "./trial.ts";

export const root = fileURLToPath(new URL("../..", import.meta.url));

/** A server of a built project at a port of this machine; answered once it listens. Errors: it ended first, with what it said. */
export async function serve(port: number, { shelf, at = root }: { shelf?: string; at?: string } = {}): Promise<ChildProcess> {
  const server = spawn(process.execPath, [
    join(at, "apps/server/dist/main.js"),
    "--port",
    String(port),
    ...(shelf ? ["--shelf", shelf] : []),
  ]);
  let said = "";
  for (const stream of [server.stdout, server.stderr])
    stream.on("data", (text) => {
      said += text;
    });
  while (!said.includes("is ready at")) {
    if (server.exitCode !== null) throw new Error(said.trim());
    await wait(20);
  }
  return server;
}

/** End a process of ours with a signal and wait until it is gone. */
export async function end(process: ChildProcess, signal: NodeJS.Signals): Promise<void> {
  if (process.exitCode !== null || process.signalCode !== null) return;
  const gone = once(process, "exit");
  process.kill(signal);
  await gone;
}
