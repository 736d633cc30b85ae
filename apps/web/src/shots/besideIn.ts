import { type FilesBeside, pathOfUri } from "@kneader/core";

/** A file of a lot: its name, the folder it was in, and the zip it came out of; both empty where there was none. */
export interface Placed {
  readonly name: string;
  readonly folder: string;
  readonly zip: string;
}

/**
 * What a file of a lot finds beside it. Its path decides, from the folder it stands in, so that two characters with files of
 * the same name keep their own. Files that came without folders are found by their names alone, where only one is called so.
 */
export function besideIn<File extends Placed>(lot: readonly File[], bytesOf: (file: File) => Uint8Array | null) {
  return (from: Placed): FilesBeside => {
    const here = lot.filter(({ zip }) => zip === from.zip);
    return (uri) => {
      const path = pathOfUri(uri);
      const wanted = joined(from.folder, path);
      const exact = here.find(({ folder, name }) => joined(folder, name) === wanted);
      if (exact) return bytesOf(exact);
      const name = path.split("/").at(-1);
      const named = here.filter((file) => file.folder === "" && file.name === name);
      return named.length === 1 && from.folder === "" ? bytesOf(named[0]) : null;
    };
  };
}

/** A path without "." and ".."; one that leads out of the lot is none of its files. */
function joined(folder: string, path: string): string | null {
  const names: string[] = [];
  for (const name of `${folder}/${path}`.split("/")) {
    if (name === "" || name === ".") continue;
    if (name === ".." && names.pop() === undefined) return null;
    if (name !== "..") names.push(name);
  }
  return names.join("/");
}
