import { type ChildProcess, spawn } from "node:child_process";
import { once } from "node:events";
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { extname, join } from "node:path";
import { readShot } from "@kneader/core";
import { root } from "./servers.ts";
import { between, type Outcome, type Trial, wait } from "./trial.ts";

const program = join(root, "apps/cli/dist/kneader.js");
const shots = ["half-a-walk", "hop-aboard", "captured-signal"];

const start = (folder: string, line: string): ChildProcess =>
  spawn(process.execPath, [program, ...line.split(" ")], { cwd: folder, detached: true, stdio: "ignore" });

async function whole(folder: string, line: string): Promise<number> {
  const [code] = await once(start(folder, line), "exit");
  return code as number;
}

/** Every file below a folder by its path. */
function filesIn(folder: string): Map<string, Buffer> {
  const paths = readdirSync(folder, { recursive: true, withFileTypes: true }).filter((entry) => entry.isFile());
  return new Map(paths.map((entry) => [join(entry.parentPath, entry.name), readFileSync(join(entry.parentPath, entry.name))]));
}

/** What each kind of call may do to the files when it is killed: it leaves what it reads alone, and what it writes whole. */
const calls = [
  "convert in/half-a-walk.bvh out/walk.glb",
  "convert in/captured-signal.glb out/signal.csv",
  "apply simplify in/captured-signal.bvh out/signal.bvh --set rotation=1",
  "apply simplify work/hop-aboard.glb work/hop-aboard.glb --set rotation=1 --overwrite",
  "recipe recipe.json in --out out --jobs 2",
  "demo waiting-on-board out/waiting.json",
];

/** The command line is killed, with the processes that work for it, wherever it stands. */
export const killCommand: Trial = {
  id: "command-line",
  title: "The command line killed in convert, apply, recipe, demo",
  async run(times, say): Promise<Outcome> {
    const folder = mkdtempSync(join(tmpdir(), "kneader-siege-"));
    const faults: string[] = [];
    let written = 0;
    for (const name of ["in", "work", "out"]) mkdirSync(join(folder, name));
    for (const shot of shots)
      for (const kind of ["bvh", "glb"]) {
        await whole(folder, `demo ${shot} in/${shot}.${kind}`);
        await whole(folder, `demo ${shot} work/${shot}.${kind}`);
      }
    const steps = [{ operation: "simplify", settings: { rotation: 1 } }];
    writeFileSync(join(folder, "recipe.json"), JSON.stringify({ format: "kneader-recipe", version: 1, name: "R", notes: "", steps }));
    const given = filesIn(join(folder, "in"));
    for (let n = 1; n <= times; n++) {
      const line = calls[n % calls.length];
      const call = start(folder, line);
      const ended = once(call, "exit");
      await Promise.race([wait(between(100, 1800)), ended]);
      if (call.exitCode === null) process.kill(-(call.pid as number), "SIGKILL");
      await ended;
      for (const [path, bytes] of filesIn(join(folder, "in")))
        if (!given.get(path)?.equals(bytes)) faults.push(`kill ${n} (${line}): ${path} is other than it was`);
      for (const [path, bytes] of [...filesIn(join(folder, "out")), ...filesIn(join(folder, "work"))]) {
        // What was being written is told by its name from what is there.
        if (![".bvh", ".glb", ".csv", ".json"].includes(extname(path))) continue;
        written++;
        await readShot(new Uint8Array(bytes), path).catch((error: Error) => faults.push(`kill ${n} (${line}): ${path}: ${error.message}`));
      }
      if (n % 10 === 0) say(`${n} of ${times}`);
    }
    for (const line of calls) {
      const code = await whole(folder, line);
      if (code !== 0) faults.push(`${line} afterwards ends with ${code}`);
    }
    const left = [...filesIn(folder).keys()].filter((path) => path.endsWith(".part"));
    if (left.length > 0) faults.push(`left behind by calls that went to their end: ${left.join(", ")}`);
    rmSync(folder, { recursive: true });
    return { times, kept: `${written} files read whole, every input as it was`, faults };
  },
};
