const PAGE = 65536;

/** The memory of a kernel in WebAssembly, seen as numbers, integers and bytes. */
export class KernelMemory {
  numbers = new Float64Array(0);
  integers = new Int32Array(0);
  bytes = new Uint8Array(0);
  private readonly memory: WebAssembly.Memory;
  private readonly most: number;

  /** It grows to no more than `most` bytes. */
  constructor(memory: WebAssembly.Memory, most: number) {
    this.memory = memory;
    this.most = most;
    this.look();
  }

  /** Does it reach up to a place (in numbers of eight bytes), or can it be made to? What was seen of it before is not there then. */
  reaches(to: number): boolean {
    const missing = to * 8 - this.bytes.length;
    if (missing <= 0) return true;
    if (to * 8 > this.most) return false;
    try {
      this.memory.grow(Math.ceil(missing / PAGE));
    } catch {
      return false;
    }
    this.look();
    return true;
  }

  private look(): void {
    const { buffer } = this.memory;
    this.numbers = new Float64Array(buffer);
    this.integers = new Int32Array(buffer);
    this.bytes = new Uint8Array(buffer);
  }
}
