import { type CaptureFrame, decodeFrame } from "./messages.ts";

/** A span of frames of the device that never came. */
export interface Gap {
  readonly start: number;
  readonly end: number;
}

/** So many seconds of arrivals tell where the device's clock stands. */
const WINDOW = 10;
/** Packets from longer ago than this (seconds) are let go of unless a take wants them. */
const KEPT = 5;

/**
 * What came in from a device, in order, once each. The device's clock is set against one's own by the packets that were
 * quickest: delay only ever makes them later. Between their line's two ends a skew of the clocks is taken out too.
 */
export class Receiver {
  readonly channels: number;
  private readonly kept = new Map<number, CaptureFrame>();
  private newest: CaptureFrame | null = null;
  private taking: { readonly from: number; readonly frames: Map<number, CaptureFrame> } | null = null;
  /** Quickest arrivals, one a second: device clock and how much later by one's own (seconds). */
  private quickest: { readonly second: number; clock: number; apart: number }[] = [];
  /** What was counted. */
  readonly counts = { taken: 0, again: 0, refused: 0 };

  constructor(channels: number) {
    this.channels = channels;
  }

  /** Take a binary message that arrived at a time (seconds, one's own clock). Errors: `bad-capture`; what was taken before stays. */
  accept(bytes: Uint8Array, arrived: number): CaptureFrame | null {
    let frame: CaptureFrame;
    try {
      frame = decodeFrame(bytes, this.channels);
    } catch (error) {
      this.counts.refused++;
      throw error;
    }
    const known = this.taking?.frames ?? this.kept;
    if (known.has(frame.sequence) || this.kept.has(frame.sequence)) {
      this.counts.again++;
      return null;
    }
    this.counts.taken++;
    this.kept.set(frame.sequence, frame);
    if (this.taking && frame.sequence >= this.taking.from) this.taking.frames.set(frame.sequence, frame);
    this.setClock(frame.clock, arrived);
    if (!this.newest || frame.sequence > this.newest.sequence) {
      this.newest = frame;
      this.forget();
    }
    return frame;
  }

  /** The frame of the highest number so far. */
  latest(): CaptureFrame | null {
    return this.newest;
  }

  /** One's own time (seconds) at which a frame of the device was performed. */
  ownTime(clock: number): number {
    const points = this.quickest;
    if (points.length === 0) return clock;
    const mean = (of: (point: (typeof points)[number]) => number) => points.reduce((sum, point) => sum + of(point), 0) / points.length;
    const [x, y] = [mean((point) => point.clock), mean((point) => point.apart)];
    let [xx, xy] = [0, 0];
    for (const point of points) {
      xx += (point.clock - x) ** 2;
      xy += (point.clock - x) * (point.apart - y);
    }
    // A skew is told apart from chance only over some seconds.
    const skew = points.length >= 4 && xx > 0 ? xy / xx : 0;
    return clock + y + skew * (clock - x);
  }

  /** Begin a take, with so many seconds of what came before. */
  begin(preRoll: number): void {
    const from = this.newest ? this.newest.clock - preRoll : 0;
    const frames = new Map<number, CaptureFrame>();
    for (const [sequence, frame] of this.kept) if (frame.clock >= from) frames.set(sequence, frame);
    const first = frames.size > 0 ? Math.min(...frames.keys()) : (this.newest?.sequence ?? 0);
    this.taking = { from: first, frames };
  }

  /** End the take: its frames in order, and where some are missing. */
  end(): { frames: CaptureFrame[]; gaps: Gap[] } {
    const frames = [...(this.taking?.frames.values() ?? [])].sort((a, b) => a.sequence - b.sequence);
    this.taking = null;
    const gaps: Gap[] = [];
    for (let n = 1; n < frames.length; n++) {
      const [before, after] = [frames[n - 1].sequence, frames[n].sequence];
      if (after - before > 1) gaps.push({ start: before + 1, end: after - 1 });
    }
    return { frames, gaps };
  }

  private setClock(clock: number, arrived: number): void {
    const second = Math.floor(clock);
    const apart = arrived - clock;
    const known = this.quickest.find((point) => point.second === second);
    if (!known) this.quickest.push({ second, clock, apart });
    else if (apart < known.apart) Object.assign(known, { clock, apart });
    if (this.quickest.length > WINDOW) this.quickest.shift();
  }

  private forget(): void {
    const oldest = (this.newest as CaptureFrame).clock - KEPT;
    for (const [sequence, { clock }] of this.kept) {
      if (clock >= oldest) break;
      this.kept.delete(sequence);
    }
  }
}
