import { toByteArray } from "base64-js";
import { kernelCode } from "./kernelCode.ts";
import { writeWalls } from "./walls.ts";

/** What `assembly/index.ts` offers, which says what each of them does; curves, searches and places in memory are numbers. */
interface Exports {
  readonly memory: WebAssembly.Memory;
  clear(): void;
  addCurve(samples: number): number;
  wallsOf(curve: number): number;
  statesAt(): number;
  work(many: number): void;
  endIn(curve: number): void;
  addSearch(curve: number): number;
  begin(search: number, from: number): void;
  grow(search: number, limit: number, least: number, hoped: number): number;
  reach(search: number, length: number): number;
  startOf(search: number): number;
  startCount(search: number): number;
}

let compiled: WebAssembly.Module | null = null;
/** Kernels that are not in use. */
const idle: FitKernel[] = [];
/** So many are kept, and none that takes up more bytes. */
const MOST_IDLE = 2;
const MOST_BYTES = 4e6;

/**
 * The searches of one fit: how far one cubic can go from a set of states, and which states it can have where it ends. They are
 * worked out in WebAssembly, in a memory of their own. States are given by their corners, as in `StatePath`.
 */
export class FitKernel {
  private readonly exports: Exports;

  private constructor() {
    compiled ??= new WebAssembly.Module(Uint8Array.from(toByteArray(kernelCode)));
    this.exports = new WebAssembly.Instance(compiled).exports as unknown as Exports;
  }

  /** One that is not in use; null where there can be none, as in a browser that is told to run no WebAssembly. */
  static take(): FitKernel | null {
    const kept = idle.pop();
    if (kept) return kept;
    try {
      return new FitKernel();
    } catch {
      return null;
    }
  }

  /** It is used no more: all its curves and searches are forgotten. */
  giveBack(): void {
    this.exports.clear();
    if (idle.length < MOST_IDLE && this.bytes <= MOST_BYTES) idle.push(this);
  }

  /** The memory it takes up. */
  get bytes(): number {
    return this.exports.memory.buffer.byteLength;
  }

  /** A curve whose samples must be met within the tolerance, or their shares of it, and which must end in some states. */
  addCurve(samples: Float64Array, tolerance: number, shares: Float64Array | undefined, end: Float64Array | null): number {
    const { exports } = this;
    const curve = exports.addCurve(samples.length);
    writeWalls(this.numbers(exports.wallsOf(curve), 4 * (samples.length - 1)), samples, tolerance, shares);
    if (end) {
      this.work(end);
      exports.endIn(curve);
    }
    return curve;
  }

  /** A search for spans of a curve. */
  addSearch(curve: number): number {
    return this.exports.addSearch(curve);
  }

  /** Search from the first sample on, from some states. */
  beginAt(search: number, start: Float64Array): void {
    this.work(start);
    this.exports.begin(search, 0);
  }

  /** Let `next` search from where a span of `search` of a length ends, from all states it can end in; `from` is that sample. */
  goOn(search: number, length: number, next: number, from: number): void {
    this.exports.reach(search, length);
    this.exports.begin(next, from);
  }

  /** The furthest length up to `limit` that a cubic can have, when it has `least` at least; else 0. `hoped` is looked at first. */
  grow(search: number, limit: number, least: number, hoped: number): number {
    return this.exports.grow(search, limit, least, hoped);
  }

  /** The states in which a search began, with those at the start of the span before that lead there; for now only. */
  startOf(search: number): Float64Array {
    const { exports } = this;
    return this.numbers(exports.startOf(search), 4 * exports.startCount(search));
  }

  /** The states in which a span of a length can end, with those at its start that lead there; for now only. */
  statesAt(search: number, length: number): Float64Array {
    const { exports } = this;
    return this.numbers(exports.statesAt(), 4 * exports.reach(search, length));
  }

  private work(corners: Float64Array): void {
    this.numbers(this.exports.statesAt(), corners.length).set(corners);
    this.exports.work(corners.length / 4);
  }

  /** Numbers in memory; for now only, as memory that grows is another. */
  private numbers(at: number, count: number): Float64Array {
    return new Float64Array(this.exports.memory.buffer, at, count);
  }
}
