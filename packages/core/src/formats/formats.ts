import { KneaderError } from "../errors.ts";
import { bvh } from "./bvh.ts";
import { checkShot, checkSize } from "./checkShot.ts";
import { csv } from "./csv.ts";
import type { FilesBeside, Format, Imported, ReadChoices, ShotFile } from "./format.ts";
import { glb, gltf } from "./gltf/gltf.ts";
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
  const known = formats.find(({ extension }) => fileName.toLowerCase().endsWith(extension));
  const most = known?.most ?? LARGEST_FILE;
  if (size > most)
    throw new KneaderError(
      "file-too-large",
      `"${fileName}" has ${Math.round(size / 1048576)} MB; up to ${most / 1048576} MB can be opened.`,
      known?.most ? "Export it with smaller pictures or fewer triangles." : "Export a shorter range.",
    );
}

/** A file by its whole name, with what stands beside it. */
export interface NamedFile {
  readonly bytes: Uint8Array;
  readonly name: string;
  /** Answers the files that stand beside it, for formats that keep their data apart. */
  readonly beside?: FilesBeside;
}

/** The format that a file is of, by its name and its first bytes, and the file as formats take it. Errors: `file-…`. */
export function recognise({ bytes, name, beside }: NamedFile): { format: Format; file: ShotFile } {
  const format = formatOf(name);
  checkFileSize(name, bytes.length);
  const foreign = pictureKind(bytes);
  if (foreign)
    throw new KneaderError("file-unknown", `"${name}" is a ${foreign} picture, not a ${format.extension} file, whatever its name says.`);
  if (!format.binary && isBinary(bytes))
    throw new KneaderError("file-unknown", `"${name}" is no text, as a ${format.extension} file is.`, "Is it really such a file?");
  return { format, file: { bytes, name: name.slice(name.lastIndexOf("/") + 1, name.lastIndexOf(".")), beside } };
}

/**
 * Read a file of any known format into a new shot, which can be played and written in every format. `beside` answers
 * the files that stand beside it, for formats that keep their data apart. Errors: those of the format, `shot-data`.
 */
export async function readShot(bytes: Uint8Array, fileName: string, beside?: FilesBeside, choices?: ReadChoices): Promise<Imported> {
  const { format, file } = recognise({ bytes, name: fileName, beside });
  const { shot, notes, asset } = await format.read(file, choices);
  const checked = checkShot(shot);
  checkSize(checked);
  return { shot: checked, notes, asset };
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
