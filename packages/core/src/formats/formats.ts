import { KneaderError } from "../errors.ts";
import type { Shot } from "../model/shot.ts";
import { readBvh } from "./bvhRead.ts";
import { writeBvh } from "./bvhWrite.ts";
import { readCsv, writeCsv } from "./csv.ts";
import { checkShot, checkSize } from "./checkShot.ts";
import type { Exported, FilesBeside, Imported } from "./format.ts";
import { readGltf } from "./gltfRead.ts";
import { writeGltf } from "./gltfWrite.ts";
import { readKneader, writeKneader } from "./kneaderJson.ts";

/** One file format for shots. A new one is a file beside this one and an entry here. */
export interface Format {
  readonly id: string;
  readonly title: string;
  readonly extension: string;
  readonly help: string;
  read(bytes: Uint8Array, name: string, beside?: FilesBeside): Imported;
  write(shot: Shot): Exported;
}

export const formats: readonly Format[] = [
  {
    id: "json",
    title: "Kneader shot",
    extension: ".json",
    help: "Everything: keys, tangents, passes, follows.",
    read: readKneader,
    write: writeKneader,
  },
  {
    id: "glb",
    title: "glTF, one binary file",
    extension: ".glb",
    help: "Skeleton and motion for engines and other programs.",
    read: readGltf,
    write: (shot) => writeGltf(shot, true),
  },
  {
    id: "gltf",
    title: "glTF, text with data inside",
    extension: ".gltf",
    help: "The same as readable JSON.",
    read: readGltf,
    write: (shot) => writeGltf(shot, false),
  },
  { id: "bvh", title: "BVH", extension: ".bvh", help: "Joints and one sample a frame.", read: readBvh, write: writeBvh },
  { id: "csv", title: "CSV table", extension: ".csv", help: "One line a frame, one column a channel.", read: readCsv, write: writeCsv },
];

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
  if (format.id !== "glb" && isBinary(bytes))
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
