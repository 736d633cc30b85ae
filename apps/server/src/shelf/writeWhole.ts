import { randomBytes } from "node:crypto";
import { mkdir, open, rename, rm } from "node:fs/promises";
import { dirname, join } from "node:path";

/** What a file that is being written is called meanwhile; nothing so called is ever listed. */
export const TEMPORARY = ".writing-";

/**
 * Write a file so that it is there whole or not at all: into a temporary file beside it, flushed to the disk, then put
 * in its place in one step. A process killed anywhere leaves the old file, or the new one.
 */
export async function writeWhole(path: string, bytes: Uint8Array): Promise<void> {
  const folder = dirname(path);
  await mkdir(folder, { recursive: true });
  const temporary = join(folder, `${TEMPORARY}${randomBytes(8).toString("hex")}`);
  const file = await open(temporary, "wx");
  try {
    await file.writeFile(bytes);
    await file.sync();
  } catch (error) {
    await file.close();
    await rm(temporary, { force: true });
    throw error;
  }
  await file.close();
  await rename(temporary, path);
  // The folder is flushed as well, so that the new name is on the disk.
  const held = await open(folder, "r");
  try {
    await held.sync();
  } finally {
    await held.close();
  }
}
