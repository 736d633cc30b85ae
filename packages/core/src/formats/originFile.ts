import { KneaderError } from "../errors.ts";
import type { Format } from "./format.ts";
import { putBack } from "./gltf/putBack.ts";
import { readGltf } from "./gltf/read.ts";

/** The file the character came from, with the shot's motion in it. Its kind is that of the file. */
export const originFile: Format = {
  id: "origin",
  title: "The file it came from",
  extension: ".glb",
  help: "Your character's own file with this motion in it: meshes, surfaces, pictures and all else as they were.",
  needsAsset: true,
  binary: true,
  read: (file) => readGltf(file),
  write: (shot, choices = {}) => {
    if (!shot.asset) throw new KneaderError("no-asset", "This shot's character came from no file.", "Export the whole scene.");
    return putBack(shot, choices);
  },
};
