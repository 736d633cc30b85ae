import { type KernelMemory, onlyOne, openKernel } from "../maths/kernelMemory.ts";
import { INVERSE_SIZE } from "./bezier.ts";
import { handlesKernelCode } from "./handlesKernelCode.ts";

/** What `assembly/handles/index.ts` offers, which says what each of them does; places in memory are bytes. */
interface Exports {
  readonly memory: WebAssembly.Memory;
  room(): number;
  fill(segment: number, end: number, inverses: number, start: number, step: number, n: number, count: number, out: number): number;
}

/** Numbers of a segment, the last of which says where its inverse is; see `track.ts`. */
const SEGMENT = 7;

/** So many values are written at once, the last of them beyond what is asked for. */
const AT_ONCE = 4;

/** What a track has prepared. */
interface Prepared {
  readonly segments: Float64Array;
  readonly inverses: Float64Array;
}

/** Values of segments with weighted handles, worked out in WebAssembly, of one curve at a time. */
class HandlesKernel {
  private readonly exports: Exports;
  private readonly memory: KernelMemory;

  constructor() {
    const { exports, memory } = openKernel<Exports>(handlesKernelCode);
    this.exports = exports;
    this.memory = memory;
  }

  /**
   * Values at start + n·step into `out`, from number `n` on, as long as they are in a track's segments from
   * place `k` on, before place `end`. Answers where it stops: what is there is not in them, or has to be solved another way.
   */
  fill({ segments, inverses }: Prepared, k: number, end: number, start: number, step: number, n: number, out: Float64Array): number {
    const some = segments.subarray(k, end);
    let [low, high] = [inverses.length, 0];
    for (let i = SEGMENT - 1; i < some.length; i += SEGMENT)
      if (some[i] >= 0) {
        low = Math.min(low, some[i]);
        high = some[i] + 1 + INVERSE_SIZE;
      }
    const { first } = this.memory;
    const inversesAt = first + some.length;
    const outAt = inversesAt + Math.max(0, high - low);
    if (!this.memory.hasRoom(outAt + out.length + AT_ONCE)) return n;
    const { numbers } = this.memory;
    numbers.set(some, first);
    if (high > low) numbers.set(inverses.subarray(low, high), inversesAt);
    const [from, to] = [8 * first, 8 * inversesAt];
    const stop = this.exports.fill(from, to, 8 * (inversesAt - low), start, step, n, out.length, 8 * outAt);
    out.set(numbers.subarray(outAt + n, outAt + stop), n);
    return stop;
  }
}

/** The one of this thread, if there can be one. */
export const handlesKernel = onlyOne(() => new HandlesKernel());
