import { linearCurve, linearFrame } from "../curve/make.ts";
import type { Curve } from "../curve/curve.ts";
import type { ChannelKey } from "../model/rig.ts";
import type { Shot } from "../model/shot.ts";
import type { Below } from "./passKind.ts";

/** The whole frames over which a pass is worked out: those of the shot. */
export function wholeRange({ range }: Pick<Shot, "range">): { start: number; count: number } {
  const start = Math.floor(range.start);
  return { start, count: Math.ceil(range.end) - start + 1 };
}

/** Values of channels at `count` whole frames from `start`. */
export function belowSamples(below: Below, keys: readonly ChannelKey[], start: number, count: number): Map<ChannelKey, Float64Array> {
  const player = below.player("channels");
  const known = keys.flatMap((key) => {
    const at = player.channelIndex.get(key);
    return at === undefined ? [] : [{ key, at, values: new Float64Array(count) }];
  });
  for (let n = 0; n < count; n++) {
    player.readValues(start + n);
    for (const { at, values } of known) values[n] = player.values[at];
  }
  return new Map(known.map(({ key, values }) => [key, values]));
}

/** Values at whole frames from `start` as curves with a linear key a frame; those of one call share their columns. */
export function curvesOf(start: number, count: number, columns: ReadonlyMap<ChannelKey, Float64Array>): Record<ChannelKey, Curve> {
  const frame = linearFrame(Float64Array.from({ length: count }, (_, n) => start + n));
  return Object.fromEntries([...columns].map(([key, values]) => [key, linearCurve(frame, values)]));
}
