import type { ChannelKey, Take } from "@kneader/core";

interface Samples {
  readonly times: number[];
  readonly values: number[];
}

/** How far from a whole frame (frames) a sample may be and still be its own. */
const OWN = 0.75;

/**
 * What the hand does during one round: by channel how far it is from the motion below, at whatever times it was heard.
 * Samples come in order of time; between two the way is straight, after the last it stays, before the first it is nothing.
 */
export class Performance {
  readonly start: number;
  private readonly samples = new Map<ChannelKey, Samples>();
  /** How late the slowest sample was put in, in milliseconds. */
  latest = 0;

  constructor(start: number) {
    this.start = start;
  }

  get keys(): readonly ChannelKey[] {
    return [...this.samples.keys()];
  }

  /** Put what was heard at a time (frames); what comes before the last is left out. Answers whether a channel is new. */
  put(time: number, values: Readonly<Record<ChannelKey, number>>, late: number): boolean {
    let isNew = false;
    for (const [key, value] of Object.entries(values)) {
      let own = this.samples.get(key);
      if (!own) {
        own = { times: [], values: [] };
        this.samples.set(key, own);
        isNew = true;
      }
      const last = own.times[own.times.length - 1];
      if (last !== undefined && time <= last) continue;
      own.times.push(time);
      own.values.push(value);
    }
    this.latest = Math.max(this.latest, late);
    return isNew;
  }

  valueAt(key: ChannelKey, time: number): number {
    const own = this.samples.get(key);
    if (!own || own.times.length === 0 || time < own.times[0]) return 0;
    const { times, values } = own;
    let [low, high] = [0, times.length];
    while (low < high) {
      const middle = (low + high) >>> 1;
      if (times[middle] <= time) low = middle + 1;
      else high = middle;
    }
    if (low === times.length) return values[low - 1];
    const share = (time - times[low - 1]) / (times[low] - times[low - 1]);
    return values[low - 1] + (values[low] - values[low - 1]) * share;
  }

  /** The round as a take up to a frame, with a value at each whole frame; null when nothing was moved. */
  take(id: string, name: string, end: number): Take | null {
    if (this.samples.size === 0 || end < this.start) return null;
    const column = (key: ChannelKey) => Array.from({ length: end - this.start + 1 }, (_, n) => this.valueAt(key, this.start + n));
    return { id, name, start: this.start, values: Object.fromEntries(this.keys.map((key) => [key, column(key)])) };
  }

  /** Whole frames between the first and the last sample at which nothing was heard. */
  filled(): number {
    let count = 0;
    const own = [...this.samples.values()][0];
    if (!own) return 0;
    for (let n = 1; n < own.times.length; n++) {
      const [from, to] = [own.times[n - 1], own.times[n]];
      for (let frame = Math.ceil(from + OWN); frame < to - OWN; frame++) count++;
    }
    return count;
  }
}
