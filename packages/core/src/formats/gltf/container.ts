import { encodeText } from "../utf8.ts";

/** The binary container (glTF 2.0, chapter 4): a header, a JSON chunk padded with blanks, a binary chunk padded with zeros. */
export function toGlb(json: unknown, bytes: Uint8Array): Uint8Array {
  const text = encodeText(JSON.stringify(json));
  const textLength = Math.ceil(text.length / 4) * 4;
  const dataLength = Math.ceil(bytes.length / 4) * 4;
  const total = 12 + 8 + textLength + (dataLength > 0 ? 8 + dataLength : 0);
  const out = new Uint8Array(total);
  const view = new DataView(out.buffer);
  view.setUint32(0, 0x46546c67, true);
  view.setUint32(4, 2, true);
  view.setUint32(8, total, true);
  view.setUint32(12, textLength, true);
  view.setUint32(16, 0x4e4f534a, true);
  out.fill(32, 20, 20 + textLength);
  out.set(text, 20);
  if (dataLength > 0) {
    view.setUint32(20 + textLength, dataLength, true);
    view.setUint32(24 + textLength, 0x004e4942, true);
    out.set(bytes, 28 + textLength);
  }
  return out;
}
