import { sha256 } from "@noble/hashes/sha2.js";
import { bytesToHex } from "@noble/hashes/utils.js";

/** By which a file is known: the SHA-256 (FIPS 180-4) of its bytes, in hexadecimal. */
export function hashOf(bytes: Uint8Array): string {
  return bytesToHex(sha256(bytes));
}
