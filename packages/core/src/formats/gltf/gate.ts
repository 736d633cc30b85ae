import { toByteArray } from "base64-js";
import { z } from "zod";
import { KneaderError } from "../../errors.ts";
import type { FilesBeside } from "../format.ts";
import { sayIssue } from "../sayIssue.ts";
import { sayJsonError } from "../sayJsonError.ts";
import { decodeText } from "../utf8.ts";

const index = z.number().int().min(0);
const count = z.number().int().min(0);
const named = { name: z.string().optional() };
/** Where a buffer view's bytes stand when they are compressed (EXT_meshopt_compression). */
const meshopt = z.object({
  buffer: index,
  byteOffset: count.optional(),
  byteLength: count,
  byteStride: z.number().int().min(1).max(256),
  count,
  mode: z.enum(["ATTRIBUTES", "TRIANGLES", "INDICES"]),
  filter: z.string().optional(),
});
const compressed = z.object({ EXT_meshopt_compression: meshopt.optional() });
const sparse = z.object({
  count,
  indices: z.object({ bufferView: index, byteOffset: count.optional(), componentType: z.number() }),
  values: z.object({ bufferView: index, byteOffset: count.optional() }),
});
const schema = z.object({
  asset: z.object({ version: z.string() }),
  scene: index.optional(),
  scenes: z.array(z.object({ ...named, nodes: z.array(index).optional() })).optional(),
  nodes: z
    .array(
      z.object({
        ...named,
        children: z.array(index).optional(),
        translation: z.array(z.number()).length(3).optional(),
        rotation: z.array(z.number()).length(4).optional(),
        scale: z.array(z.number()).length(3).optional(),
        matrix: z.array(z.number()).length(16).optional(),
        mesh: index.optional(),
        skin: index.optional(),
        camera: index.optional(),
        weights: z.array(z.number()).optional(),
        extensions: z.record(z.string(), z.unknown()).optional().catch(undefined),
        extras: z.unknown().optional(),
      }),
    )
    .optional(),
  // A figure whose meshes are damaged still has its motion.
  meshes: z
    .array(
      z.object({
        ...named,
        primitives: z.array(
          z.object({
            targets: z.array(z.record(z.string(), index)).optional(),
            attributes: z.record(z.string(), index),
            indices: index.optional(),
          }),
        ),
        weights: z.array(z.number()).optional(),
        extras: z.unknown().optional(),
      }),
    )
    .optional()
    .catch(undefined),
  skins: z
    .array(z.object({ ...named, joints: z.array(index), skeleton: index.optional(), inverseBindMatrices: index.optional() }))
    .optional()
    .catch(undefined),
  cameras: z
    .array(
      z.object({
        ...named,
        perspective: z.object({ yfov: z.number(), aspectRatio: z.number().optional() }).optional(),
      }),
    )
    .optional()
    .catch(undefined),
  animations: z
    .array(
      z.object({
        ...named,
        channels: z.array(z.object({ sampler: index, target: z.object({ node: index.optional(), path: z.string() }) })),
        samplers: z.array(z.object({ input: index, output: index, interpolation: z.enum(["STEP", "LINEAR", "CUBICSPLINE"]).optional() })),
      }),
    )
    .optional(),
  accessors: z
    .array(
      z.object({
        bufferView: index.optional(),
        byteOffset: count.optional(),
        componentType: z.number(),
        normalized: z.boolean().optional(),
        count,
        type: z.string(),
        max: z.array(z.number()).optional().catch(undefined),
        sparse: sparse.optional(),
      }),
    )
    .optional(),
  bufferViews: z
    .array(
      z.object({
        buffer: index,
        byteOffset: count.optional(),
        byteLength: count,
        byteStride: count.optional(),
        extensions: compressed.optional(),
      }),
    )
    .optional(),
  buffers: z.array(z.object({ byteLength: count, uri: z.string().optional() })).optional(),
  extensionsUsed: z.array(z.string()).optional(),
  extensionsRequired: z.array(z.string()).optional(),
  extras: z.unknown().optional(),
});
export type GltfJson = z.infer<typeof schema>;

/** A glTF file taken apart and found to be of the right shape: its JSON and its buffers. */
export interface GltfFile {
  readonly json: GltfJson;
  /** The JSON with everything in it, what is not known here too. */
  readonly whole: Readonly<Record<string, unknown>>;
  /** By number; null for data that is not there. */
  readonly buffers: readonly (Uint8Array | null)[];
  /** It came as one binary file. */
  readonly isBinary: boolean;
}

const gltfSyntax = (message: string) => new KneaderError("gltf-syntax", message, "Export the file again.");
export const gltfData = (message: string) =>
  new KneaderError("gltf-data", message, "Export again as .glb, or as .gltf with its data embedded.");

/** Take a file apart and look at its shape, before anything else sees it. Errors: `gltf-syntax`, `gltf-data`. */
export function openGltf(bytes: Uint8Array, beside: FilesBeside = () => null): GltfFile {
  const isBinary = bytes[0] === 0x67 && bytes[1] === 0x6c;
  const { text, binary } = isBinary ? splitGlb(bytes) : { text: decodeText(bytes), binary: null };
  let parsed: unknown;
  try {
    parsed = JSON.parse(text);
  } catch (error) {
    throw gltfSyntax(`The JSON in the glTF file cannot be read: ${sayJsonError(text, error)}.`);
  }
  const version = (parsed as { asset?: { version?: unknown } } | null)?.asset?.version;
  if (typeof version !== "string") throw gltfSyntax('This is not a glTF file: its JSON has no "asset" with a version.');
  if (!version.startsWith("2."))
    throw new KneaderError("gltf-syntax", `This is glTF version ${version.slice(0, 20)}; version 2 is read.`, "Export it as glTF 2.0.");
  const result = schema.safeParse(parsed);
  if (!result.success) throw gltfSyntax(`The glTF file is not as it should be: ${sayIssue(result.error)}.`);
  const json = result.data;
  const buffers = (json.buffers ?? []).map((buffer, i) => readBuffer(buffer, i, binary, beside));
  return { json, whole: parsed as Record<string, unknown>, buffers, isBinary };
}

/** The pictures a file lists; none where the list is none, or an entry is nothing: the figure still has its motion. */
export function imagesOf(whole: Readonly<Record<string, unknown>>): readonly Readonly<Record<string, unknown>>[] {
  return Array.isArray(whole.images) ? whole.images.map((image) => (typeof image === "object" && image !== null ? image : {})) : [];
}

/** The path that an address in a file names; an address that is wrongly written is taken letter by letter. */
export function pathOfUri(uri: string): string {
  try {
    return decodeURIComponent(uri);
  } catch {
    return uri;
  }
}

function splitGlb(bytes: Uint8Array): { text: string; binary: Uint8Array | null } {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.length < 20 || view.getUint32(0, true) !== 0x46546c67) throw gltfSyntax("The .glb header is damaged.");
  if (view.getUint32(8, true) > bytes.length)
    throw gltfSyntax(`The .glb says that it has ${view.getUint32(8, true)} bytes but has ${bytes.length}; it was cut off.`);
  let at = 12;
  let text: string | null = null;
  let binary: Uint8Array | null = null;
  while (at + 8 <= bytes.length) {
    const length = view.getUint32(at, true);
    const kind = view.getUint32(at + 4, true);
    if (at + 8 + length > bytes.length) throw gltfSyntax("A chunk of the .glb reaches past its end; it was cut off.");
    const chunk = bytes.subarray(at + 8, at + 8 + length);
    if (kind === 0x4e4f534a) text = decodeText(chunk);
    else if (kind === 0x004e4942) binary = chunk;
    at += 8 + length;
  }
  if (text === null) throw gltfSyntax("The .glb has no JSON chunk.");
  return { text, binary };
}

function readBuffer(
  buffer: { byteLength: number; uri?: string },
  i: number,
  binary: Uint8Array | null,
  beside: FilesBeside,
): Uint8Array | null {
  let bytes: Uint8Array | null = null;
  if (buffer.uri === undefined) bytes = i === 0 ? binary : null;
  else {
    const match = /^data:[^,]*;base64,(.*)$/s.exec(buffer.uri);
    bytes = match ? fromBase64(match[1], i) : beside(buffer.uri);
  }
  if (bytes !== null && bytes.length < buffer.byteLength)
    throw gltfData(`Buffer ${i} should have ${buffer.byteLength} bytes but has ${bytes.length}.`);
  return bytes;
}

function fromBase64(text: string, i: number): Uint8Array {
  const clean = text.replace(/=+$/, "");
  const wrong = clean.search(/[^A-Za-z0-9+/]/);
  if (wrong >= 0) throw gltfData(`Buffer ${i}: its base64 text is damaged at character ${wrong + 1}.`);
  // Some writers leave out the signs that fill up the last group of four; a group of one letter holds no byte.
  const whole = clean.length % 4 === 1 ? clean.slice(0, -1) : clean;
  return toByteArray(whole + "=".repeat((4 - (whole.length % 4)) % 4));
}
