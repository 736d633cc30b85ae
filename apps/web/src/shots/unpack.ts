import { KneaderError } from "@kneader/core";

/** So much may come out of one zip, and so many files. */
const MOST_BYTES = 512 * 1024 * 1024;
const MOST_FILES = 20_000;

/** A file to be taken: its name, and the folder it was in, if any. */
export interface Given {
  readonly name: string;
  readonly folder: string;
  /** The zip it came out of; empty where it came by itself. */
  readonly zip: string;
  readonly size: number;
  bytes(): Promise<Uint8Array>;
}

/** Files as they were chosen or dropped, those in zips among them. Errors: `file-unknown` for a zip that is none. */
export async function unpack(file: File, zip = file.name): Promise<Given[]> {
  const inFolder = file.webkitRelativePath.split("/").slice(0, -1).join("/");
  if (!/\.zip$/i.test(file.name))
    return [{ name: file.name, folder: inFolder, zip: "", size: file.size, bytes: async () => new Uint8Array(await file.arrayBuffer()) }];
  const { unzip } = await import("fflate");
  const packed = new Uint8Array(await file.arrayBuffer());
  let [sum, count] = [0, 0];
  const files = await new Promise<Record<string, Uint8Array>>((resolve, reject) => {
    unzip(
      packed,
      {
        filter({ name, originalSize }) {
          // What systems put beside the files is none of them.
          if (name.endsWith("/") || /(^|\/)(__MACOSX|\.)/.test(name)) return false;
          sum += originalSize;
          count++;
          return sum <= MOST_BYTES && count <= MOST_FILES;
        },
      },
      (error, found) => (error ? reject(new KneaderError("file-unknown", `The zip cannot be read: ${error.message}.`)) : resolve(found)),
    );
  });
  if (sum > MOST_BYTES || count > MOST_FILES)
    throw new KneaderError(
      "file-too-large",
      `The zip holds more than ${MOST_BYTES / 1024 / 1024} MB or ${MOST_FILES} files.`,
      "Take it apart.",
    );
  return Object.entries(files).map(([path, bytes]) => {
    const names = path.split("/");
    return { name: names.at(-1) as string, folder: names.slice(0, -1).join("/"), zip, size: bytes.length, bytes: async () => bytes };
  });
}
