import { createHash } from "node:crypto";
import { mkdir, readFile } from "node:fs/promises";
import { basename, dirname, join } from "node:path";
import { SCHEMA_VERSION } from "@kneader/core";
import manifest from "../../package.json" with { type: "json" };
import { replaceFile } from "../files.ts";

/** What results were made of lies here, a small file each, beside the results. */
const FOLDER = ".kneader";

const hashOf = (...parts: readonly (string | Uint8Array)[]): string => {
  const hash = createHash("sha256");
  for (const part of parts) hash.update(String(part.length)).update(":").update(part);
  return hash.digest("base64url");
};

interface Made {
  readonly of: string;
  readonly result: string;
}

const noteOf = (to: string) => join(dirname(to), FOLDER, `${basename(to)}.made`);
const bytesOf = (file: string) => readFile(file).catch(() => null);

/** A result's recipe, answers, version of Kneader and shot in one word; null where the shot cannot be read. */
export async function madeOf(from: string, recipe: string, answers: unknown): Promise<string | null> {
  const bytes = await bytesOf(from);
  return bytes && hashOf(recipe, JSON.stringify(answers), `${manifest.version}/${SCHEMA_VERSION}`, basename(from), bytes);
}

/** Is the result there, as it was made, of just this? Changed by hand, or made of anything else, it is not. */
export async function isMadeOf(to: string, of: string): Promise<boolean> {
  const [note, result] = await Promise.all([bytesOf(noteOf(to)), bytesOf(to)]);
  if (!note || !result) return false;
  try {
    const made = JSON.parse(note.toString()) as Made;
    return made.of === of && made.result === hashOf(result);
  } catch {
    return false;
  }
}

/** Note what a result was made of. Errors: `not-found` where it cannot be written. */
export async function noteMadeOf(to: string, of: string): Promise<void> {
  const result = await bytesOf(to);
  if (!result) return;
  await mkdir(dirname(noteOf(to)), { recursive: true }).catch(() => undefined);
  await replaceFile(noteOf(to), Buffer.from(`${JSON.stringify({ of, result: hashOf(result) } satisfies Made)}\n`));
}
