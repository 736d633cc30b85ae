import type { Format } from "./format.ts";
import { readGltf } from "./gltfRead.ts";
import { writeGltf } from "./gltfWrite.ts";

/** glTF as one binary file. */
export const glb: Format = {
  id: "glb",
  title: "glTF, one binary file",
  extension: ".glb",
  help: "Skeleton and motion for engines and other programs.",
  read: readGltf,
  write: (shot) => writeGltf(shot, true),
  binary: true,
};

/** glTF as text, its data inside. */
export const gltf: Format = {
  id: "gltf",
  title: "glTF, text with data inside",
  extension: ".gltf",
  help: "The same as readable JSON.",
  read: readGltf,
  write: (shot) => writeGltf(shot, false),
};
