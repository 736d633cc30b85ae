import { readFileSync } from "node:fs";
import { fileURLToPath } from "node:url";

/** Open motion capture, 2 752 frames of 31 joints (its source stands beside it). */
export const captureBytes = new Uint8Array(
  readFileSync(fileURLToPath(new URL("../packages/core/test/fixtures/cmu-01-01.bvh", import.meta.url))),
);
