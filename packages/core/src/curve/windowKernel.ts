import { type KernelMemory, onlyOne, openKernel } from "../maths/kernelMemory.ts";
import { windowKernelCode } from "./windowKernelCode.ts";

/** What `assembly/window/index.ts` offers, which says what each of them does; places in memory are bytes. */
interface Exports {
  readonly memory: WebAssembly.Memory;
  room(): number;
  sample(window: number, width: number, time: number): number;
}

/**
 * The segments that some curves are in, in columns of `width` numbers from number `at` on: from and to when each is, its four
 * coefficients (constant first), and the values at the time asked for last. The width is even; what is too much covers all time.
 */
export interface Window {
  numbers: Float64Array;
  at: number;
  readonly width: number;
  /** The last column, as far as there are curves. */
  values: Float64Array;
  /** The kernel's places when it got its own; null: it stands in an array of its own. */
  places: object | null;
}

const COLUMNS = 7;

/** A window of so many curves in an array of its own; no segment is fetched yet. */
export function makeWindow(count: number): Window {
  const width = (count + 1) & ~1;
  const numbers = new Float64Array(COLUMNS * width);
  const window = { numbers, at: 0, width, values: valuesIn(numbers, 0, width, count), places: null };
  empty(window, count);
  return window;
}

const valuesIn = (numbers: Float64Array, at: number, width: number, count: number) =>
  numbers.subarray(at + (COLUMNS - 1) * width, at + (COLUMNS - 1) * width + count);

/** Intervals that hold no time: every segment is fetched at its first use. */
function empty({ numbers, at, width }: Window, count: number): void {
  numbers.fill(0, at, at + COLUMNS * width);
  numbers.fill(Number.POSITIVE_INFINITY, at, at + count);
  if (count < width) {
    numbers[at + count] = -Number.MAX_VALUE;
    numbers[at + width + count] = Number.POSITIVE_INFINITY;
  }
}

/** Values of many keyed curves at a time, worked out in WebAssembly. */
class WindowKernel {
  private readonly exports: Exports;
  private readonly memory: KernelMemory;

  constructor() {
    const { exports, memory } = openKernel<Exports>(windowKernelCode);
    this.exports = exports;
    this.memory = memory;
  }

  /** Give a window a place in memory, if it has none; false where there is no room. */
  hold(window: Window, count: number): boolean {
    const { memory } = this;
    if (window.places === memory.places) return true;
    const at = memory.place((COLUMNS + 1) * window.width);
    if (at >= 0) {
      window.numbers = memory.numbers;
      window.at = at;
      window.values = valuesIn(memory.numbers, at, window.width, count);
      window.places = memory.places;
      empty(window, count);
    } else if (window.places !== null) Object.assign(window, makeWindow(count));
    return at >= 0;
  }

  /** Work out a window's values; answers how many curves are not in their segments: see `missing`. */
  sample({ at, width }: Window, time: number): number {
    return this.exports.sample(8 * at, width, time);
  }

  /** Number `n` of those. */
  missing({ at, width }: Window, n: number): number {
    return this.memory.integers[2 * (at + COLUMNS * width) + n];
  }
}

/** The one of this thread, if there can be one. */
export const windowKernel = onlyOne(() => new WindowKernel());
