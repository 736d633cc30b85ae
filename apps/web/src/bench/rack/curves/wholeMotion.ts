import {
  activePasses,
  BASE,
  type ChannelKey,
  layoutOf,
  computedKind,
  makePlayer,
  passKind,
  sampleCurve,
  type Shot,
  splitChannelKey,
} from "@kneader/core";

/** What plays on a channel at whole frames: what is below the chosen layer, and what comes out of all passes. */
export interface WholeMotion {
  readonly start: number;
  /** Null for base motion, which has nothing below it. */
  readonly source: Float64Array | null;
  readonly result: Float64Array;
}

/** More frames than this in sight are not worked out: the lines would be a band. */
const MOST = 1500;

/**
 * Source and result of channels over the frames in sight; none where no pass that is on changes anything, or
 * the layer has settings and no motion of its own.
 */
export function wholeMotion(
  shot: Shot,
  layer: string,
  keys: readonly ChannelKey[],
  window: { start: number; end: number },
): ReadonlyMap<ChannelKey, WholeMotion> {
  const found = new Map<ChannelKey, WholeMotion>();
  const pass = shot.passes.find(({ id }) => id === layer);
  const start = Math.floor(window.start);
  const count = Math.ceil(window.end) - start + 1;
  // What only changes when things play is drawn from the curves themselves, between frames too.
  const adds = activePasses(shot).some(({ kind }) => passKind(kind)?.reads !== "time");
  if (!adds || count > MOST || (pass && computedKind(pass.kind))) return found;
  const { channelIndex } = layoutOf(shot.rig);
  const wanted = keys.filter((key) => channelIndex.has(key));
  const only = [...new Set(wanted.map((key) => splitChannelKey(key).control))];
  const whole = makePlayer(shot, { free: true, only });
  const below = layer === BASE ? null : makePlayer(shot, { below: layer, free: true, only });
  const lines = wanted.map((key) => {
    const line = { start, source: below ? new Float64Array(count) : null, result: new Float64Array(count) };
    found.set(key, line);
    return { ...line, at: channelIndex.get(key) as number };
  });
  for (let n = 0; n < count; n++) {
    whole.readValues(start + n);
    below?.readValues(start + n);
    for (const { source, result, at } of lines) {
      result[n] = whole.values[at];
      if (source && below) source[n] = below.values[at];
    }
  }
  if (layer === BASE)
    for (const [key, { result }] of found) {
      const curve = shot.base[key];
      if (curve && result.every((value, n) => Math.abs(value - sampleCurve(curve, start + n)) < 1e-9)) found.delete(key);
    }
  return found;
}

/** Lowest and highest value of such lines. */
export function rangeOf(lines: Iterable<WholeMotion>): { low: number; high: number } | null {
  let low = Number.POSITIVE_INFINITY;
  let high = Number.NEGATIVE_INFINITY;
  for (const { source, result } of lines)
    for (const row of source ? [source, result] : [result])
      for (const value of row) {
        if (value < low) low = value;
        if (value > high) high = value;
      }
  return low > high ? null : { low, high };
}
