import type { Accessor, GLTF } from "@gltf-transform/core";
import { type GltfFile, type GltfJson, gltfData } from "./gate.ts";

/** More elements than this are in no animation that could be edited. */
const MOST_ELEMENTS = 20_000_000;

const MOST_ZEROS = 100_000;

const widths: Record<string, number> = { SCALAR: 1, VEC2: 2, VEC3: 3, VEC4: 4, MAT2: 4, MAT3: 9, MAT4: 16 };
const sizes: Record<number, number> = { 5120: 1, 5121: 1, 5122: 2, 5123: 2, 5125: 4, 5126: 4 };

/** An accessor that is wanted: its number, the types it may be of, and what to call it in a message. */
export interface Wanted {
  readonly accessor: number;
  readonly types: readonly string[];
  readonly what: string;
}

/** The numbers of accessors, by accessor; normalised ones as −1..1 or 0..1. */
export type Numbers = ReadonlyMap<number, Float64Array>;

type View = NonNullable<GltfJson["bufferViews"]>[number];
const compressionOf = ({ extensions }: View) => extensions?.EXT_meshopt_compression;

/**
 * Read the numbers of some accessors: plain, sparse, normalised or compressed (meshopt). Each is looked at first, so that
 * nothing reaches past its data and nothing asks for more than it has. Errors: `gltf-data`, with the accessor's number.
 */
export async function readNumbers(file: GltfFile, wanted: readonly Wanted[]): Promise<Numbers> {
  for (const one of wanted) checkAccessor(file, one);
  const kept = [...new Set(wanted.map(({ accessor }) => accessor))];
  if (kept.length === 0) return new Map();
  const { whole, json, buffers } = file;
  // Only what is wanted is handed over, so that what is not known here cannot be in the way.
  const reduced = {
    asset: { version: "2.0" },
    accessors: kept.map((i) => (whole.accessors as GLTF.IAccessor[])[i]),
    bufferViews: whole.bufferViews as GLTF.IBufferView[] | undefined,
    buffers: json.buffers?.map(({ byteLength }, i) => ({ byteLength, uri: `${i}.bin` })),
    extensionsUsed: json.bufferViews?.some(compressionOf) ? ["EXT_meshopt_compression"] : [],
  };
  const resources = Object.fromEntries(buffers.map((bytes, i) => [`${i}.bin`, (bytes ?? new Uint8Array()) as Uint8Array<ArrayBuffer>]));
  const { openDocument } = await import("./documents.ts");
  const document = await openDocument({ json: reduced as GLTF.IGLTF, resources }).catch((error: unknown) => {
    throw gltfData(`Its numbers cannot be unpacked: ${String((error as Error)?.message ?? error).slice(0, 200)}.`);
  });
  const accessors = document.getRoot().listAccessors();
  return new Map(kept.map((i, n) => [i, numbersOf(accessors[n], nameOf(wanted, i), i)]));
}

const nameOf = (wanted: readonly Wanted[], accessor: number) => wanted.find((one) => one.accessor === accessor)?.what ?? "The file";

function numbersOf(accessor: Accessor, what: string, i: number): Float64Array {
  const [count, width] = [accessor.getCount(), accessor.getElementSize()];
  const out = new Float64Array(count * width);
  const element: number[] = new Array(width).fill(0);
  for (let n = 0; n < count; n++) {
    accessor.getElement(n, element);
    for (let k = 0; k < width; k++) {
      if (!Number.isFinite(element[k])) throw gltfData(`${what}: accessor ${i}, element ${n + 1} is not a number.`);
      out[n * width + k] = element[k];
    }
  }
  return out;
}

function checkAccessor({ json, buffers }: GltfFile, { accessor: i, types, what }: Wanted): void {
  const accessor = json.accessors?.[i];
  if (!accessor) throw gltfData(`${what}: accessor ${i} does not exist; the file has ${json.accessors?.length ?? 0}.`);
  if (!types.includes(accessor.type))
    throw gltfData(`${what}: accessor ${i} is of type ${accessor.type}; ${types.join(" or ")} is needed.`);
  const size = sizes[accessor.componentType];
  if (!size) throw gltfData(`${what}: accessor ${i} has the unknown component type ${accessor.componentType}.`);
  if (accessor.count > MOST_ELEMENTS)
    throw gltfData(`${what}: accessor ${i} says that it has ${accessor.count} elements; up to ${MOST_ELEMENTS} are taken.`);
  const width = widths[accessor.type];
  const reach = { json, buffers, what, accessor: i };
  if (accessor.bufferView !== undefined)
    checkReach(reach, accessor.bufferView, accessor.byteOffset ?? 0, accessor.count, size * width, true);
  // Zeros, as the format says; a file of a few bytes may not ask for more of them than it could mean.
  else if (accessor.count > MOST_ZEROS) throw gltfData(`${what}: accessor ${i} has ${accessor.count} elements and no data.`);
  if (!accessor.sparse) return;
  const { count, indices, values } = accessor.sparse;
  const indexSize = sizes[indices.componentType];
  if (!indexSize || count > accessor.count) throw gltfData(`${what}: the sparse part of accessor ${i} is not as it should be.`);
  checkReach(reach, indices.bufferView, indices.byteOffset ?? 0, count, indexSize, false);
  checkReach(reach, values.bufferView, values.byteOffset ?? 0, count, size * width, false);
}

interface Reach extends Pick<GltfFile, "json" | "buffers"> {
  readonly what: string;
  readonly accessor: number;
}

/** Do so many elements stand within a buffer view, and it within its buffer? */
function checkReach(
  { json, buffers, what, accessor }: Reach,
  at: number,
  offset: number,
  count: number,
  size: number,
  strided: boolean,
): void {
  const view = json.bufferViews?.[at];
  if (!view) throw gltfData(`${what}: buffer view ${at} does not exist; the file has ${json.bufferViews?.length ?? 0}.`);
  const packed = compressionOf(view);
  const { buffer, byteOffset = 0, byteLength } = packed ?? view;
  if (buffer >= (json.buffers?.length ?? 0))
    throw gltfData(`${what}: buffer ${buffer} does not exist; the file has ${json.buffers?.length ?? 0}.`);
  const bytes = buffers[buffer];
  if (!bytes) {
    const uri = json.buffers?.[buffer].uri;
    throw gltfData(`${what}: the data of buffer ${buffer} is missing${uri ? ` ("${uri.slice(0, 60)}" is another file)` : ""}.`);
  }
  if (packed) {
    if (byteOffset + byteLength > bytes.length)
      throw gltfData(`${what}: compressed buffer view ${at} reaches to byte ${byteOffset + byteLength} of a buffer of ${bytes.length}.`);
    if (packed.count > MOST_ELEMENTS || packed.count * packed.byteStride > view.byteLength)
      throw gltfData(`${what}: compressed buffer view ${at} unpacks to more than it says.`);
  }
  const stride = strided ? (view.byteStride ?? size) : size;
  if (stride < size) throw gltfData(`${what}: buffer view ${at} has a stride of ${stride} bytes, less than one element (${size}).`);
  const end = offset + (count - 1) * stride + size;
  const limit = packed ? view.byteLength : Math.min(view.byteLength, bytes.length - byteOffset);
  if (count > 0 && end > limit)
    throw gltfData(
      `${what}: accessor ${accessor} reaches to byte ${byteOffset + end} of a buffer view that ends at ${byteOffset + view.byteLength}.`,
    );
}
