import { readdir, rm, stat } from "node:fs/promises";
import { join } from "node:path";

/** What was thrown away or overwritten is kept for so long (milliseconds), and so much of it (bytes). */
const KEPT_FOR = 60 * 24 * 60 * 60 * 1000;
const KEPT = 256 * 1024 * 1024;

/** Take out of the bin what is too old, and the oldest of what is too much; `most`: how much may stay. Answers how many files went. */
export async function tidyBin(bin: string, now = Date.now(), most = KEPT): Promise<number> {
  const names = await readdir(bin).catch(() => []);
  const files = await Promise.all(
    names.map(async (name) => {
      const { mtimeMs = 0, size = 0 } = await stat(join(bin, name)).catch(() => ({ mtimeMs: 0, size: 0 }));
      // A file that was moved here has the time at which it was written; its name has that at which it came.
      return { name, size, at: Number(/^\d{10,}/.exec(name)?.[0] ?? mtimeMs) };
    }),
  );
  let left = 0;
  let gone = 0;
  for (const { name, size, at } of files.sort((a, b) => b.at - a.at)) {
    left += size;
    if (left <= most && now - at <= KEPT_FOR) continue;
    await rm(join(bin, name), { force: true });
    gone++;
  }
  return gone;
}
