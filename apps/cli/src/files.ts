import { readFileSync } from "node:fs";
import { readFile, rename, rm, stat, writeFile } from "node:fs/promises";
import { basename, dirname, resolve, sep } from "node:path";
import {
  checkFileSize,
  formatOf,
  type Imported,
  KneaderError,
  type FilesBeside,
  originFile,
  pathOfUri,
  readShot,
  type Shot,
} from "@kneader/core";
import { otterBody } from "@kneader/demo";
import type { Talk } from "./result.ts";

/** A shot from a file; what is good to know of how it was read is noted. Errors: `not-found` and those of the formats. */
export async function open(file: string, talk: Pick<Talk, "note">): Promise<Imported> {
  let bytes: Uint8Array;
  try {
    checkFileSize(basename(file), (await stat(file)).size);
    bytes = await readFile(file);
  } catch (error) {
    throw inWords(error, `"${file}" cannot be read`);
  }
  return openBytes(bytes, basename(file), talk, filesBeside(dirname(file)));
}

/** The same from bytes that go by a name. Errors: those of the formats. */
export async function openBytes(bytes: Uint8Array, name: string, talk: Pick<Talk, "note">, beside?: FilesBeside): Promise<Imported> {
  checkFileSize(name, bytes.length);
  const read = await readShot(bytes, name, beside);
  for (const note of read.notes) talk.note(note);
  return read;
}

/** A character from a glTF file goes back into that file; everything else is written as the name says. */
export async function bytesOf(shot: Shot, file: string, talk: Pick<Talk, "note">, asset: Uint8Array | null = null): Promise<Uint8Array> {
  const format = formatOf(file);
  const isBack = asset !== null && shot.asset?.isDrawn && shot.asset.name.endsWith(format.extension);
  const body = shot.rig.figure === "otter" ? otterBody(shot.rig) : null;
  const { bytes, notes } = await (isBack ? originFile : format).write(shot, { asset, body });
  for (const note of notes) talk.note(note);
  return bytes;
}

/** What stands in a file's folder or below it; nothing above, whatever the file says. */
function filesBeside(folder: string): FilesBeside {
  return (path) => {
    const wanted = resolve(folder, pathOfUri(path));
    if (!wanted.startsWith(resolve(folder) + sep)) return null;
    try {
      return readFileSync(wanted);
    } catch {
      return null;
    }
  };
}

const fileProblems: Readonly<Record<string, string>> = {
  ENOENT: "it is not there",
  EACCES: "this user may not",
  EPERM: "this user may not",
  EISDIR: "it is a folder",
  ENOTDIR: "a part of its path is no folder",
  ENOSPC: "the disk is full",
  EROFS: "the disk may only be read",
  ENAMETOOLONG: "its name is too long",
};

/** What went wrong with a file, as a person would say it. */
export function inWords(error: unknown, what: string): KneaderError {
  if (error instanceof KneaderError) return error;
  const code = (error as NodeJS.ErrnoException | null)?.code ?? "";
  return new KneaderError("not-found", `${what}: ${fileProblems[code] ?? `the system refused (${code || "for no reason given"})`}.`);
}

/** Write beside the file and rename, so that a crash never leaves half a file under its name. */
export async function replaceFile(file: string, bytes: Uint8Array): Promise<void> {
  const draft = `${file}.part`;
  try {
    await writeFile(draft, bytes);
    await rename(draft, file);
  } catch (error) {
    await rm(draft, { force: true }).catch(() => undefined);
    throw inWords(error, `"${file}" cannot be written`);
  }
}
