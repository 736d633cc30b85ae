import { readFileSync } from "node:fs";
import { join } from "node:path";
import { readBvh } from "../../src/formats/bvhRead.ts";
import type { Shot } from "../../src/model/shot.ts";

/** Open motion capture; where it comes from stands in fixtures/SOURCE.md. */
export const captureBytes = new Uint8Array(readFileSync(join(__dirname, "../fixtures/cmu-01-01.bvh")));

let captured: Shot | null = null;
export function captureShot(): Shot {
  captured ??= readBvh({ bytes: captureBytes, name: "cmu-01-01" }).shot;
  return captured;
}
