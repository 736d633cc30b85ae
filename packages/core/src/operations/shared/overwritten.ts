import { keyOn } from "../../curve/curve.ts";
import type { ChannelKey } from "../../model/rig.ts";
import { type FrameRange, layerCurves, type Shot } from "../../model/shot.ts";

/** Values nearer than this are the same. */
const SAME = 1e-9;

/** By channel: the keys of a layer within a span that an edit takes away or gives another value. */
export function overwrittenKeys(before: Shot, after: Shot, layer: string, { start, end }: FrameRange): Record<ChannelKey, number[]> {
  const [was, is] = [layerCurves(before, layer), layerCurves(after, layer)];
  const gone: Record<ChannelKey, number[]> = {};
  for (const key in was) {
    if (was[key] === is[key]) continue;
    const times = [...was[key].times].filter((time, i) => {
      if (time < start - 1e-6 || time > end + 1e-6) return false;
      const at = is[key] ? keyOn(is[key], time) : -1;
      return at < 0 || Math.abs(is[key].values[at] - was[key].values[i]) > SAME;
    });
    if (times.length > 0) gone[key] = times;
  }
  return gone;
}

/** "12 keys at frames 7, 13, 19 are overwritten."; nothing where none is. */
export function sayOverwritten(gone: Readonly<Record<ChannelKey, readonly number[]>>): string[] {
  const times = Object.values(gone).flat();
  if (times.length === 0) return [];
  const frames = [...new Set(times.map((time) => Math.round(time * 100) / 100))].sort((a, b) => a - b);
  const few = frames.length > 6 ? `${frames.slice(0, 6).join(", ")} … ${frames[frames.length - 1]}` : frames.join(", ");
  return [
    `${times.length} ${times.length === 1 ? "key" : "keys"} at ${frames.length === 1 ? "frame" : "frames"} ${few} ${times.length === 1 ? "is" : "are"} overwritten.`,
  ];
}
