import { readdir, stat } from "node:fs/promises";
import { basename, dirname, join } from "node:path";
import { formats, KneaderError } from "@kneader/core";
import { inWords } from "../files.ts";

/** A shot to be worked on, and where the result goes. */
export interface Input {
  readonly from: string;
  readonly to: string;
}

const isShot = (name: string): boolean => formats.some(({ extension }) => name.toLowerCase().endsWith(extension));

/** The shots that files, folders (all in them, not deeper) and patterns (`*` in the name) stand for, each once, in the order given. */
async function filesOf(given: string): Promise<string[]> {
  const name = basename(given);
  if (name.includes("*")) {
    const parts = name.split("*").map((part) => part.replaceAll(/[.+?^${}()|[\]\\]/g, "\\$&"));
    const wanted = new RegExp(`^${parts.join(".*")}$`);
    const found = (await listed(dirname(given))).filter((file) => wanted.test(file) && isShot(file));
    if (found.length === 0) throw new KneaderError("not-found", `"${given}" fits no file that holds a shot.`);
    return found.map((file) => join(dirname(given), file));
  }
  const what = await stat(given).catch((error: unknown) => {
    throw inWords(error, `"${given}" cannot be read`);
  });
  if (!what.isDirectory()) return [given];
  const found = (await listed(given)).filter(isShot);
  if (found.length === 0) throw new KneaderError("not-found", `The folder "${given}" holds no shot.`);
  return found.map((file) => join(given, file));
}

async function listed(folder: string): Promise<string[]> {
  try {
    return (await readdir(folder)).sort();
  } catch (error) {
    throw inWords(error, `"${folder}" cannot be read`);
  }
}

/** Every input with its place in `out`, under its own name. Errors: `not-found`; `bad-setting` when two would be written to one file. */
export async function inputsOf(given: readonly string[], out: string): Promise<Input[]> {
  const files = [...new Set((await Promise.all(given.map(filesOf))).flat())];
  const byName = new Map<string, string>();
  return files.map((from) => {
    const name = basename(from);
    const other = byName.get(name);
    if (other !== undefined)
      throw new KneaderError(
        "bad-setting",
        `"${other}" and "${from}" would both be written to "${join(out, name)}".`,
        "Do them one after the other, into two folders.",
      );
    byName.set(name, from);
    return { from, to: join(out, name) };
  });
}
