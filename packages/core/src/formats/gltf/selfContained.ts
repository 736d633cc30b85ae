import { fromByteArray } from "base64-js";
import type { FilesBeside } from "../format.ts";
import { encodeText } from "../utf8.ts";
import { type GltfFile, imagesOf } from "./gate.ts";

interface Named {
  readonly uri?: unknown;
}

const isOutside = ({ uri }: Named): boolean => typeof uri === "string" && !uri.startsWith("data:");

const kinds: Readonly<Record<string, string>> = {
  png: "image/png",
  jpg: "image/jpeg",
  jpeg: "image/jpeg",
  webp: "image/webp",
  ktx2: "image/ktx2",
};

/**
 * The file as one that needs no other: the bytes as they came, or, where its data stand in files beside it, the JSON
 * with those inside. What is not there is left as it is named.
 */
export function selfContained({ whole, isBinary }: GltfFile, bytes: Uint8Array, beside: FilesBeside = () => null): Uint8Array {
  const inside = <Part extends Named>(part: Part): Part => {
    const { uri } = part;
    if (typeof uri !== "string" || !isOutside(part)) return part;
    const found = beside(uri);
    if (!found) return part;
    const kind = kinds[uri.slice(uri.lastIndexOf(".") + 1).toLowerCase()] ?? "application/octet-stream";
    return { ...part, uri: `data:${kind};base64,${fromByteArray(found)}` };
  };
  const { buffers = [] } = whole as { buffers?: readonly Named[] };
  const images: readonly Named[] = imagesOf(whole);
  if (isBinary || ![...buffers, ...images].some(isOutside)) return bytes;
  const parts = {
    ...(whole.buffers ? { buffers: buffers.map(inside) } : {}),
    ...(Array.isArray(whole.images) ? { images: images.map(inside) } : {}),
  };
  return encodeText(JSON.stringify({ ...whole, ...parts }));
}
