import { readBvh } from "./bvhRead.ts";
import { writeBvh } from "./bvhWrite.ts";
import type { Format } from "./format.ts";

/** BVH, the format of motion capture since Biovision. */
export const bvh: Format = {
  id: "bvh",
  title: "BVH",
  extension: ".bvh",
  help: "Joints and one sample a frame.",
  read: readBvh,
  write: writeBvh,
};
