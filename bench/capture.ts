import { readFileSync } from "node:fs";
import { fromRoot } from "./fromRoot.ts";

/** Open motion capture, 2 752 frames of 31 joints (its source stands beside it). */
export const captureBytes = new Uint8Array(readFileSync(fromRoot("packages/core/test/fixtures/cmu-01-01.bvh")));
