/** As deep as anything that is kept here goes, several times over. */
const DEEPEST = 64;

/** Is JSON nested deeper than anything here is? One look at the bytes, before they are read: reading such takes seconds. */
export function isTooDeep(bytes: Uint8Array): boolean {
  let depth = 0;
  let isText = false;
  for (let i = 0; i < bytes.length; i++) {
    const byte = bytes[i];
    if (isText) {
      if (byte === 0x5c) i++;
      else if (byte === 0x22) isText = false;
    } else if (byte === 0x22) isText = true;
    else if (byte === 0x5b || byte === 0x7b) {
      if (++depth > DEEPEST) return true;
    } else if (byte === 0x5d || byte === 0x7d) depth--;
  }
  return false;
}
