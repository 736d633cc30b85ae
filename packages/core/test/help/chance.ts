/** Numbers by chance, the same for a seed everywhere (Park & Miller 1988). */
export class Chance {
  private state: number;

  constructor(seed: number) {
    this.state = (seed * 2654435761 + 12345) % 2147483646 || 1;
  }

  next(): number {
    this.state = (this.state * 48271) % 2147483647;
    return this.state / 2147483647;
  }

  below(limit: number): number {
    return Math.floor(this.next() * limit);
  }

  between(low: number, high: number): number {
    return low + (high - low) * this.next();
  }

  of<Value>(list: readonly Value[]): Value {
    return list[this.below(list.length)];
  }
}
