import type { Format } from "../format.ts";
import { listAnimations, listRests, readGltf } from "./read.ts";
import { writeGltf } from "./write.ts";

/** Meshes and pictures make these files large. */
const LARGEST_GLTF = 256 * 1024 * 1024;

const reading = { read: readGltf, list: listAnimations, rests: listRests, most: LARGEST_GLTF } satisfies Partial<Format>;

/** glTF as one binary file. */
export const glb: Format = {
  id: "glb",
  title: "glTF, one binary file",
  extension: ".glb",
  help: "The whole scene for engines and other programs: skeleton, motion and the body that is drawn.",
  ...reading,
  write: (shot, choices) => writeGltf(shot, true, choices),
  binary: true,
};

/** glTF as text, its data inside. */
export const gltf: Format = {
  id: "gltf",
  title: "glTF, text with data inside",
  extension: ".gltf",
  help: "The same as readable JSON.",
  ...reading,
  write: (shot, choices) => writeGltf(shot, false, choices),
};
