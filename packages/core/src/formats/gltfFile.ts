import { toByteArray } from "base64-js";
import { z } from "zod";
import { KneaderError } from "../errors.ts";

import type { FilesBeside } from "./format.ts";
import { sayIssue } from "./sayIssue.ts";
import { decodeText } from "./utf8.ts";
import { sayJsonError } from "./sayJsonError.ts";

/** More elements than this are in no animation that could be edited. */
const MOST_ELEMENTS = 20_000_000;

const MOST_ZEROS = 100_000;

const index = z.number().int().min(0);
const schema = z.object({
  asset: z.object({ version: z.string() }),
  scene: index.optional(),
  scenes: z.array(z.object({ name: z.string().optional(), nodes: z.array(index).optional() })).optional(),
  nodes: z
    .array(
      z.object({
        name: z.string().optional(),
        children: z.array(index).optional(),
        translation: z.array(z.number()).length(3).optional(),
        rotation: z.array(z.number()).length(4).optional(),
        scale: z.array(z.number()).length(3).optional(),
        matrix: z.array(z.number()).length(16).optional(),
        mesh: index.optional(),
        camera: index.optional(),
        extras: z.unknown().optional(),
      }),
    )
    .optional(),
  animations: z
    .array(
      z.object({
        name: z.string().optional(),
        channels: z.array(z.object({ sampler: index, target: z.object({ node: index.optional(), path: z.string() }) })),
        samplers: z.array(z.object({ input: index, output: index, interpolation: z.enum(["STEP", "LINEAR", "CUBICSPLINE"]).optional() })),
      }),
    )
    .optional(),
  accessors: z
    .array(
      z.object({
        bufferView: index.optional(),
        byteOffset: index.optional(),
        componentType: z.number(),
        normalized: z.boolean().optional(),
        count: index,
        type: z.string(),
        sparse: z.unknown().optional(),
      }),
    )
    .optional(),
  bufferViews: z
    .array(z.object({ buffer: index, byteOffset: index.optional(), byteLength: index, byteStride: index.optional() }))
    .optional(),
  buffers: z.array(z.object({ byteLength: index, uri: z.string().optional() })).optional(),
  extras: z.unknown().optional(),
});
export type GltfJson = z.infer<typeof schema>;

/** A glTF file taken apart: its JSON, checked for shape, and its buffers. */
export interface GltfFile {
  readonly json: GltfJson;
  /** Numbers of an accessor, normalised ones as −1..1 or 0..1; checks type and bounds. */
  accessor(i: number, types: readonly string[], what: string): Float64Array;
}

const syntax = (message: string) => new KneaderError("gltf-syntax", message, "Export the file again.");
const data = (message: string) => new KneaderError("gltf-data", message, "Export again as .glb, or as .gltf with its data embedded.");

const widths: Record<string, number> = { SCALAR: 1, VEC2: 2, VEC3: 3, VEC4: 4, MAT2: 4, MAT3: 9, MAT4: 16 };
const readers: Record<number, { size: number; scale: number; read(view: DataView, at: number): number }> = {
  5120: { size: 1, scale: 127, read: (view, at) => view.getInt8(at) },
  5121: { size: 1, scale: 255, read: (view, at) => view.getUint8(at) },
  5122: { size: 2, scale: 32767, read: (view, at) => view.getInt16(at, true) },
  5123: { size: 2, scale: 65535, read: (view, at) => view.getUint16(at, true) },
  5125: { size: 4, scale: 1, read: (view, at) => view.getUint32(at, true) },
  5126: { size: 4, scale: 1, read: (view, at) => view.getFloat32(at, true) },
};

export function openGltf(bytes: Uint8Array, beside: FilesBeside = () => null): GltfFile {
  const { text, binary } = bytes[0] === 0x67 && bytes[1] === 0x6c ? splitGlb(bytes) : { text: decodeText(bytes), binary: null };
  let parsed: unknown;
  try {
    parsed = JSON.parse(text);
  } catch (error) {
    throw syntax(`The JSON in the glTF file cannot be read: ${sayJsonError(text, error)}.`);
  }
  const version = (parsed as { asset?: { version?: unknown } } | null)?.asset?.version;
  if (typeof version !== "string") throw syntax('This is not a glTF file: its JSON has no "asset" with a version.');
  if (!version.startsWith("2."))
    throw new KneaderError("gltf-syntax", `This is glTF version ${version.slice(0, 20)}; version 2 is read.`, "Export it as glTF 2.0.");
  const result = schema.safeParse(parsed);
  if (!result.success) throw syntax(`The glTF file is not as it should be: ${sayIssue(result.error)}.`);
  const json = result.data;
  const buffers = (json.buffers ?? []).map((buffer, i) => readBuffer(buffer, i, binary, beside));
  return { json, accessor: (i, types, what) => readAccessor(json, buffers, i, types, what) };
}

function splitGlb(bytes: Uint8Array): { text: string; binary: Uint8Array | null } {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.length < 20 || view.getUint32(0, true) !== 0x46546c67) throw syntax("The .glb header is damaged.");
  if (view.getUint32(8, true) > bytes.length)
    throw syntax(`The .glb says that it has ${view.getUint32(8, true)} bytes but has ${bytes.length}; it was cut off.`);
  let at = 12;
  let text: string | null = null;
  let binary: Uint8Array | null = null;
  while (at + 8 <= bytes.length) {
    const length = view.getUint32(at, true);
    const kind = view.getUint32(at + 4, true);
    if (at + 8 + length > bytes.length) throw syntax("A chunk of the .glb reaches past its end; it was cut off.");
    const chunk = bytes.subarray(at + 8, at + 8 + length);
    if (kind === 0x4e4f534a) text = decodeText(chunk);
    else if (kind === 0x004e4942) binary = chunk;
    at += 8 + length;
  }
  if (text === null) throw syntax("The .glb has no JSON chunk.");
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
    throw data(`Buffer ${i} should have ${buffer.byteLength} bytes but has ${bytes.length}.`);
  return bytes;
}

function fromBase64(text: string, i: number): Uint8Array {
  const clean = text.replace(/=+$/, "");
  const wrong = clean.search(/[^A-Za-z0-9+/]/);
  if (wrong >= 0) throw data(`Buffer ${i}: its base64 text is damaged at character ${wrong + 1}.`);
  // Some writers leave out the signs that fill up the last group of four; a group of one letter holds no byte.
  const whole = clean.length % 4 === 1 ? clean.slice(0, -1) : clean;
  return toByteArray(whole + "=".repeat((4 - (whole.length % 4)) % 4));
}

function readAccessor(
  json: GltfJson,
  buffers: readonly (Uint8Array | null)[],
  i: number,
  types: readonly string[],
  what: string,
): Float64Array {
  const accessor = json.accessors?.[i];
  if (!accessor) throw data(`${what}: accessor ${i} does not exist; the file has ${json.accessors?.length ?? 0}.`);
  if (!types.includes(accessor.type)) throw data(`${what}: accessor ${i} is of type ${accessor.type}; ${types.join(" or ")} is needed.`);
  const reader = readers[accessor.componentType];
  if (!reader) throw data(`${what}: accessor ${i} has the unknown component type ${accessor.componentType}.`);
  if (accessor.sparse !== undefined) throw data(`${what}: accessor ${i} is sparse, which is not read here.`);
  const width = widths[accessor.type];
  if (accessor.count > MOST_ELEMENTS)
    throw data(`${what}: accessor ${i} says that it has ${accessor.count} elements; up to ${MOST_ELEMENTS} are taken.`);
  if (accessor.bufferView === undefined) {
    // Zeros, as the format says; a file of a few bytes may not ask for more of them than it could mean.
    if (accessor.count > MOST_ZEROS) throw data(`${what}: accessor ${i} has ${accessor.count} elements and no data.`);
    return new Float64Array(accessor.count * width);
  }
  const view = json.bufferViews?.[accessor.bufferView];
  if (!view) throw data(`${what}: buffer view ${accessor.bufferView} does not exist; the file has ${json.bufferViews?.length ?? 0}.`);
  if (view.buffer >= (json.buffers?.length ?? 0))
    throw data(`${what}: buffer ${view.buffer} does not exist; the file has ${json.buffers?.length ?? 0}.`);
  const bytes = buffers[view.buffer];
  if (!bytes)
    throw data(
      `${what}: the data of buffer ${view.buffer} is missing${json.buffers?.[view.buffer].uri ? ` ("${json.buffers[view.buffer].uri?.slice(0, 60)}" is another file)` : ""}.`,
    );
  const stride = view.byteStride ?? reader.size * width;
  if (stride < reader.size * width)
    throw data(
      `${what}: buffer view ${accessor.bufferView} has a stride of ${stride} bytes, less than one element (${reader.size * width}).`,
    );
  const start = (view.byteOffset ?? 0) + (accessor.byteOffset ?? 0);
  const end = start + (accessor.count - 1) * stride + reader.size * width;
  if (accessor.count > 0 && (end > bytes.length || end > (view.byteOffset ?? 0) + view.byteLength))
    throw data(`${what}: accessor ${i} reaches to byte ${end} of a buffer view that ends at ${(view.byteOffset ?? 0) + view.byteLength}.`);
  const out = new Float64Array(accessor.count * width);
  const source = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  for (let n = 0; n < accessor.count; n++)
    for (let k = 0; k < width; k++) {
      const value = reader.read(source, start + n * stride + k * reader.size);
      out[n * width + k] = accessor.normalized ? Math.max(-1, value / reader.scale) : value;
      if (!Number.isFinite(value)) throw data(`${what}: accessor ${i}, element ${n + 1} is not a number.`);
    }
  return out;
}
