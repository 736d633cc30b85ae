import { toByteArray } from "base64-js";

const PAGE = 65536;

/**
 * The memory of a kernel in WebAssembly, seen as numbers, integers and bytes. First comes room for what is needed for a moment,
 * then places that something keeps until they are given to others. All places are in numbers of eight bytes.
 */
export class KernelMemory {
  numbers = new Float64Array(0);
  integers = new Int32Array(0);
  bytes = new Uint8Array(0);
  /** Another one whenever places are given to others: then whoever had one has none. */
  places = {};
  /** Where room begins. */
  readonly first: number;
  private readonly memory: WebAssembly.Memory;
  private begin: number;
  private free: number;

  /** `first`: where memory is free, in bytes. */
  constructor(memory: WebAssembly.Memory, first: number) {
    this.memory = memory;
    this.first = this.begin = this.free = first / 8;
    this.look();
  }

  /** Is there room up to a place, or can it be had? */
  hasRoom(to: number): boolean {
    if (to <= this.begin) return true;
    if (!this.reaches(to)) return false;
    this.begin = to;
    this.clear();
    return true;
  }

  /** A place for so many numbers, at an even one; −1 where there is none. */
  place(size: number): number {
    if (this.free - this.begin > PLACES) this.clear();
    const at = after(this.free, 0);
    if (!this.reaches(at + size)) return -1;
    this.free = at + size;
    return at;
  }

  private clear(): void {
    this.places = {};
    this.free = this.begin;
  }

  private reaches(to: number): boolean {
    const missing = to * 8 - this.bytes.length;
    if (missing <= 0) return true;
    if (to * 8 > MOST) return false;
    try {
      this.memory.grow(Math.ceil(missing / PAGE));
    } catch {
      return false;
    }
    this.look();
    return true;
  }

  /** Memory that grew is another, and what was seen of it is not there any more. */
  private look(): void {
    const { buffer } = this.memory;
    this.numbers = new Float64Array(buffer);
    this.integers = new Int32Array(buffer);
    this.bytes = new Uint8Array(buffer);
    this.clear();
  }
}

/** Memory grows to no more than this (bytes); what needs more is worked out without it. */
const MOST = 8 * 1048576;
/** Places take up so much of it (numbers) before they are given to others. */
const PLACES = 262_144;

/** A place after so many numbers more; always at an even one. */
export const after = (at: number, numbers: number) => (at + Math.ceil(numbers) + 1) & ~1;

/** What every kernel offers: its memory, and where that is free, in bytes. */
interface Offered {
  readonly memory: WebAssembly.Memory;
  room(): number;
}

/** A kernel of some code (base64) with its memory. Throws where there is no WebAssembly. */
export function openKernel<Exports extends Offered>(code: string): { exports: Exports; memory: KernelMemory } {
  const instance = new WebAssembly.Instance(new WebAssembly.Module(Uint8Array.from(toByteArray(code))));
  const exports = instance.exports as unknown as Exports;
  return { exports, memory: new KernelMemory(exports.memory, exports.room()) };
}

/** What makes a kernel, once and when it is first asked for; null where there can be none, as in a browser that is told to run no WebAssembly. */
export function onlyOne<Kernel>(make: () => Kernel): () => Kernel | null {
  let kernel: Kernel | null | undefined;
  return () => {
    if (kernel === undefined)
      try {
        kernel = make();
      } catch {
        kernel = null;
      }
    return kernel;
  };
}
