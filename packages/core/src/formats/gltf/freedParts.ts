import { fromByteArray } from "base64-js";
import { type GltfFile, imagesOf } from "./gate.ts";

type Part = Record<string, unknown>;

interface Sampler {
  readonly input: number;
  readonly output: number;
}

interface Block {
  readonly values: Float32Array;
  readonly type: string;
}

/**
 * What is free in a file once one of its animations goes: accessors and buffer views that nothing else names. They are
 * filled anew before any is added, so that nothing that stays is numbered anew or moved.
 */
export class FreedParts {
  private readonly file: GltfFile;
  private readonly accessors: readonly number[];
  private readonly views: readonly number[];

  /** `staying` are the samplers of the animation that stay in use. */
  constructor(file: GltfFile, animation: number | null, staying: readonly Sampler[]) {
    this.file = file;
    this.accessors = animation === null ? [] : freedAccessors(file, animation, staying);
    this.views = freedViews(file, new Set(this.accessors));
  }

  /** How many accessors are free. */
  get accessorCount(): number {
    return this.accessors.length;
  }

  /** The JSON with these numbers in it, the data of the buffer they are in, and by block the number of its accessor. */
  filledWith(blocks: readonly Block[]): { json: Part; data: Uint8Array; numbers: number[] } {
    const { whole, buffers } = this.file;
    const accessors = [...((whole.accessors as Part[] | undefined) ?? [])];
    const views = [...((whole.bufferViews as Part[] | undefined) ?? [])];
    const host = this.hostBuffer();
    const data = new Grown(buffers[host] ?? new Uint8Array());
    // As many views as were freed, each with a share of the blocks: none may be left without use.
    const viewCount = Math.max(1, Math.min(this.views.length, blocks.length));
    const numbers: number[] = [];
    for (let v = 0; v < viewCount && blocks.length > 0; v++) {
      const share = blocks.slice(Math.floor((v * blocks.length) / viewCount), Math.floor(((v + 1) * blocks.length) / viewCount));
      const length = share.reduce((sum, { values }) => sum + values.byteLength, 0);
      const place = this.room(v, length, host) ?? data.end();
      const view = this.views[v] ?? views.length;
      views[view] = { buffer: host, ...(place > 0 ? { byteOffset: place } : {}), byteLength: length };
      let at = 0;
      for (const { values, type } of share) {
        data.write(place + at, values);
        const number = this.accessors[numbers.length] ?? accessors.length;
        accessors[number] = accessorOf(values, type, view, at);
        numbers.push(number);
        at += values.byteLength;
      }
    }
    const trimmed = {
      accessors: this.trimmed(accessors, this.accessors, numbers.length),
      bufferViews: this.trimmed(views, this.views, blocks.length > 0 ? viewCount : 0),
    };
    const list = [...((whole.buffers as Part[] | undefined) ?? [])];
    if (data.isChanged) list[host] = this.bufferOf(list[host], host, data.bytes());
    return {
      json: { ...whole, ...nonEmpty({ ...trimmed, buffers: list }) },
      data: this.isChunk(host) ? data.bytes() : this.isChunk(0) ? (buffers[0] ?? new Uint8Array()) : new Uint8Array(),
      numbers,
    };
  }

  /** The buffer into which new data go: the first with data of its own, which in a binary file is its chunk. */
  private hostBuffer(): number {
    const at = this.file.buffers.findIndex((bytes) => bytes !== null);
    return at < 0 ? (this.file.json.buffers?.length ?? 0) : at;
  }

  /** Is a buffer the data chunk of a binary file? */
  private isChunk(buffer: number): boolean {
    return this.file.isBinary && buffer === 0 && this.file.json.buffers?.[0]?.uri === undefined;
  }

  /** Where the new content of a freed view can stand: where the old one stood, if it is no longer and nothing else is there. */
  private room(v: number, length: number, host: number): number | null {
    const view = this.views[v] === undefined ? undefined : this.file.json.bufferViews?.[this.views[v]];
    if (!view || view.buffer !== host || view.byteLength < length || (view.byteOffset ?? 0) % 4 !== 0 || view.extensions) return null;
    const start = view.byteOffset ?? 0;
    const isShared = (this.file.json.bufferViews ?? []).some((other, i) => {
      const packed = other.extensions?.EXT_meshopt_compression ?? other;
      const from = packed.byteOffset ?? 0;
      return i !== this.views[v] && packed.buffer === host && from < start + length && from + packed.byteLength > start;
    });
    return isShared ? null : start;
  }

  /** Without what is left over at the end. */
  private trimmed(list: Part[], freed: readonly number[], used: number): Part[] {
    const left = new Set(freed.slice(used));
    while (left.has(list.length - 1)) list.pop();
    return list;
  }

  private bufferOf(old: Part | undefined, host: number, bytes: Uint8Array): Part {
    return {
      ...old,
      byteLength: bytes.length,
      ...(this.isChunk(host) ? {} : { uri: `data:application/octet-stream;base64,${fromByteArray(bytes)}` }),
    };
  }
}

function nonEmpty(lists: Readonly<Record<string, readonly Part[]>>): Part {
  return Object.fromEntries(Object.entries(lists).map(([name, list]) => [name, list.length > 0 ? list : undefined]));
}

function accessorOf(values: Float32Array, type: string, bufferView: number, byteOffset: number): Part {
  const width = type === "VEC4" ? 4 : type === "VEC3" ? 3 : 1;
  const isTimes = type === "SCALAR";
  const bounds = isTimes ? { min: [values.reduce((a, b) => Math.min(a, b))], max: [values.reduce((a, b) => Math.max(a, b))] } : {};
  return { bufferView, ...(byteOffset > 0 ? { byteOffset } : {}), componentType: 5126, count: values.length / width, type, ...bounds };
}

/** Accessors that only this animation names, in order. */
function freedAccessors({ json, whole }: GltfFile, animation: number, staying: readonly Sampler[]): number[] {
  const own = new Set((json.animations?.[animation]?.samplers ?? []).flatMap(({ input, output }) => [input, output]));
  const named = namedByExtensions(whole);
  for (const { input, output } of staying) collectNumbers([input, output], named);
  for (const { primitives } of json.meshes ?? [])
    for (const { attributes, targets, indices } of primitives) collectNumbers([attributes, targets, indices], named);
  for (const { inverseBindMatrices } of json.skins ?? []) collectNumbers(inverseBindMatrices, named);
  (json.animations ?? []).forEach(({ samplers }, i) => {
    if (i !== animation)
      collectNumbers(
        samplers.map(({ input, output }) => [input, output]),
        named,
      );
  });
  return [...own].filter((i) => !named.has(i)).sort((a, b) => a - b);
}

/** Buffer views that only these accessors name, in order. */
function freedViews({ json, whole }: GltfFile, accessors: ReadonlySet<number>): number[] {
  const views = new Set<number>();
  const named = namedByExtensions(whole);
  (json.accessors ?? []).forEach(({ bufferView, sparse }, i) => {
    for (const view of [bufferView, sparse?.indices.bufferView, sparse?.values.bufferView])
      if (view !== undefined) (accessors.has(i) ? views : named).add(view);
  });
  for (const image of imagesOf(whole)) collectNumbers(image.bufferView, named);
  return [...views].filter((view) => !named.has(view)).sort((a, b) => a - b);
}

/** It names a buffer view; its other numbers are its own. */
const DRACO = "KHR_draco_mesh_compression";
/** Extensions that are known to name no accessor and no buffer view by number. */
const NAMES_NONE = /^(KHR_(lights_punctual|materials_|texture_|mesh_quantization|xmp)|EXT_meshopt_compression|EXT_texture_)/;

/** Every number in an extension that is not known to name nothing: what is not known here may name anything. */
function namedByExtensions(value: unknown, named = new Set<number>()): Set<number> {
  if (Array.isArray(value)) for (const part of value) namedByExtensions(part, named);
  else if (isPart(value))
    for (const [name, part] of Object.entries(value)) {
      if (name !== "extensions") {
        if (name !== "extras") namedByExtensions(part, named);
      } else if (isPart(part))
        for (const [extension, content] of Object.entries(part))
          if (extension === DRACO) collectNumbers((content as Part | null)?.bufferView, named);
          else if (!NAMES_NONE.test(extension)) collectNumbers(content, named);
    }
  return named;
}

const isPart = (value: unknown): value is Part => typeof value === "object" && value !== null;

function collectNumbers(value: unknown, into: Set<number>): void {
  if (typeof value === "number") into.add(value);
  else if (isPart(value)) for (const part of Object.values(value)) collectNumbers(part, into);
}

/** Bytes that may be written over and added to; those they began with are not touched. */
class Grown {
  private data: Uint8Array;
  private length: number;
  isChanged = false;

  constructor(bytes: Uint8Array) {
    this.data = bytes;
    this.length = bytes.length;
  }

  /** Where something new can begin: at a whole word. */
  end(): number {
    return Math.ceil(this.length / 4) * 4;
  }

  write(at: number, values: Float32Array): void {
    const needed = at + values.byteLength;
    if (!this.isChanged || needed > this.data.length) {
      const grown = new Uint8Array(Math.max(this.data.length, needed, this.isChanged ? this.data.length * 2 : 0));
      grown.set(this.data.subarray(0, this.length));
      this.data = grown;
      this.isChanged = true;
    }
    this.data.set(new Uint8Array(values.buffer, values.byteOffset, values.byteLength), at);
    this.length = Math.max(this.length, needed);
  }

  bytes(): Uint8Array {
    return this.data.subarray(0, this.length);
  }
}
