import { toByteArray } from "base64-js";
import { countedWord, listed } from "../../words.ts";
import type { FilesBeside } from "../format.ts";
import { type GltfFile, imagesOf } from "./gate.ts";

interface Image {
  readonly uri?: unknown;
  readonly mimeType?: unknown;
  readonly bufferView?: unknown;
}

/** First bytes by which kinds of pictures are known (PNG, JPEG, WebP's RIFF, KTX 2). */
const marks: readonly (readonly [kind: string, ...first: number[]])[] = [
  ["image/png", 0x89, 0x50, 0x4e, 0x47],
  ["image/jpeg", 0xff, 0xd8, 0xff],
  ["image/webp", 0x52, 0x49, 0x46, 0x46],
  ["image/ktx2", 0xab, 0x4b, 0x54, 0x58],
];

/** What to say of the pictures of a file: those missing, of another kind than they say, or of one that is not shown here. */
export function checkPictures(file: GltfFile, beside: FilesBeside = () => null): string[] {
  const images: readonly Image[] = imagesOf(file.whole);
  const [missing, wrong, unshown]: string[][] = [[], [], []];
  for (const [i, image] of images.entries()) {
    const name = typeof image?.uri === "string" && !image.uri.startsWith("data:") ? `"${image.uri.slice(0, 60)}"` : `${i + 1}`;
    const bytes = bytesOf(file, image, beside);
    if (!bytes) {
      missing.push(name);
      continue;
    }
    const found = marks.find(([, ...first]) => first.every((byte, k) => bytes[k] === byte))?.[0];
    if (found === undefined || (typeof image.mimeType === "string" && image.mimeType !== found)) wrong.push(name);
    else if (found === "image/ktx2") unshown.push(name);
  }
  const say = (names: readonly string[], what: string) =>
    names.length > 0 ? [`${countedWord(names.length, "picture")} (${listed(names.slice(0, 4))}) ${what}`] : [];
  return [
    ...say(missing, "not there: the surface is drawn without. The file is kept as it is."),
    ...say(wrong, "of another kind than the file says, or damaged; kept as it is, and drawn if the browser can."),
    ...say(unshown, "of a kind (KTX2) that is not shown here; kept as it is."),
  ];
}

function bytesOf({ json, buffers }: GltfFile, image: Image | null, beside: FilesBeside): Uint8Array | null {
  if (typeof image?.uri === "string") {
    const data = /^data:[^,]*;base64,([A-Za-z0-9+/]{4,16})/.exec(image.uri);
    if (!data) return beside(image.uri);
    return toByteArray(data[1].slice(0, data[1].length & ~3));
  }
  const view = typeof image?.bufferView === "number" ? json.bufferViews?.[image.bufferView] : undefined;
  const bytes = view && buffers[view.buffer];
  return bytes ? bytes.subarray(view.byteOffset ?? 0, (view.byteOffset ?? 0) + view.byteLength) : null;
}
