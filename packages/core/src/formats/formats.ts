import { KneaderError } from "../errors.ts";
import { bvh } from "./bvh.ts";
import { checkShot, checkSize } from "./checkShot.ts";
import { csv } from "./csv.ts";
import type { FilesBeside, Format, Imported } from "./format.ts";
import { glb, gltf } from "./gltf.ts";
import { kneaderJson } from "./kneaderJson.ts";

/** Every format shots are read from and written to, in the order in which they are offered. */
export const formats: readonly Format[] = [kneaderJson, glb, gltf, bvh, csv];

/** Above this a file is refused before it is read. */
export const LARGEST_FILE = 128 * 1024 * 1024;

export function formatOf(fileName: string): Format {
  const lower = fileName.toLowerCase();
  const found = formats.find((format) => lower.endsWith(format.extension));
  if (found) return found;
  throw new KneaderError(
    "file-unknown",
    `"${fileName}" is of a kind that is not known here.`,
    `Known are ${formats.map((format) => format.extension).join(", ")}.`,
  );
}

/** Refuse a file by its size alone, before its bytes are read. */
export function checkFileSize(fileName: string, size: number): void {
  if (size === 0) throw new KneaderError("file-empty", `"${fileName}" is empty (0 bytes).`, "Export it again.");
  if (size > LARGEST_FILE)
    throw new KneaderError(
      "file-too-large",
      `"${fileName}" has ${Math.round(size / 1048576)} MB; up to ${LARGEST_FILE / 1048576} MB can be opened.`,
      "Export a shorter range.",
    );
}

/**
 * Read a file of any known format into a new shot, which can be played and written in every format. `beside` answers
 * the files that stand beside it, for formats that keep their data apart. Errors: those of the format, `shot-data`.
 */
export function readShot(bytes: Uint8Array, fileName: string, beside?: FilesBeside): Imported {
  const format = formatOf(fileName);
  checkFileSize(fileName, bytes.length);
  const foreign = pictureKind(bytes);
  if (foreign)
    throw new KneaderError(
      "file-unknown",
      `"${fileName}" is a ${foreign} picture, not a ${format.extension} file, whatever its name says.`,
    );
  const dot = fileName.lastIndexOf(".");
  if (!format.binary && isBinary(bytes))
    throw new KneaderError("file-unknown", `"${fileName}" is no text, as a ${format.extension} file is.`, "Is it really such a file?");
  const { shot, notes } = format.read(bytes, fileName.slice(fileName.lastIndexOf("/") + 1, dot), beside);
  const checked = checkShot(shot);
  checkSize(checked);
  return { shot: checked, notes };
}

/** Text holds no zero bytes; a .gltf that is really a .glb is read all the same. */
function isBinary(bytes: Uint8Array): boolean {
  return bytes[0] !== 0x67 && bytes.subarray(0, 256).includes(0);
}

function pictureKind(bytes: Uint8Array): string | null {
  if (bytes[0] === 0x89 && bytes[1] === 0x50 && bytes[2] === 0x4e && bytes[3] === 0x47) return "PNG";
  if (bytes[0] === 0xff && bytes[1] === 0xd8 && bytes[2] === 0xff) return "JPEG";
  return null;
}
