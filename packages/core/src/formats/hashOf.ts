import { sha256 } from "@noble/hashes/sha2.js";
import { bytesToHex } from "@noble/hashes/utils.js";

/**
 * By which a file is known: the SHA-256 (FIPS 180-4) of its bytes, in hexadecimal. Worked out by the machine's own
 * cryptography, or in JavaScript where a page may not use that.
 */
export async function hashOf(bytes: Uint8Array): Promise<string> {
  const own = globalThis.crypto?.subtle;
  return bytesToHex(own ? new Uint8Array(await own.digest("SHA-256", bytes as Uint8Array<ArrayBuffer>)) : sha256(bytes));
}
