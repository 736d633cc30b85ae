import { hostname } from "node:os";
import { join } from "node:path";
import { readFile, writeFile } from "node:fs/promises";
import lockfile from "proper-lockfile";

/** A server that is gone without letting go is forgotten after so long (milliseconds); it says that it is there more often. */
const FORGOTTEN = 10_000;
const SAYS_SO = 2_500;
/** Who has the folder, for people. */
const WHO = ".server.json";

/**
 * Take a folder for this server alone: two that write the same files would lose each other's changes. One that was killed
 * is waited for until it is forgotten. `lost` hears when another took it all the same (this one was asleep). Answers how to
 * let go. Errors: another server has it, with who that is.
 */
export async function takeFolder(root: string, lost: () => void): Promise<() => Promise<void>> {
  const options = { lockfilePath: join(root, ".lock"), stale: FORGOTTEN, update: SAYS_SO, realpath: true };
  try {
    const release = await lockfile.lock(root, {
      ...options,
      retries: { retries: 12, factor: 1, minTimeout: 1000, maxTimeout: 1000 },
      onCompromised: lost,
    });
    await writeFile(join(root, WHO), JSON.stringify({ process: process.pid, machine: hostname(), since: new Date().toISOString() }));
    return release;
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== "ELOCKED") throw error;
    throw new Error(`The folder ${root} is shared by another server already${await whoHas(root)}. Two would lose each other's changes.`);
  }
}

async function whoHas(root: string): Promise<string> {
  try {
    const { process: id, machine, since } = JSON.parse(await readFile(join(root, WHO), "utf8"));
    return ` (process ${id} on ${machine}, since ${since})`;
  } catch {
    return "";
  }
}
