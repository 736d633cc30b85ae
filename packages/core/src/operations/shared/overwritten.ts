import { unionOfTimes } from "../../curve/timeRows.ts";
import type { ChannelKey } from "../../model/rig.ts";
import { type FrameRange, layerCurves, type Shot } from "../../model/shot.ts";
import { countedWord } from "../../words.ts";

const NO_KEYS = { times: new Float64Array(0), values: new Float64Array(0) };
/** Values nearer than this are the same. */
const SAME = 1e-9;

/** By channel: the keys of a layer within a span that an edit takes away or gives another value. */
export function overwrittenKeys(before: Shot, after: Shot, layer: string, { start, end }: FrameRange): Record<ChannelKey, number[]> {
  const [was, is] = [layerCurves(before, layer), layerCurves(after, layer)];
  const gone: Record<ChannelKey, number[]> = {};
  for (const key in was) {
    if (was[key] === is[key]) continue;
    const { times, values } = was[key];
    const now = key in is ? is[key] : NO_KEYS;
    const lost: number[] = [];
    let next = 0;
    for (let i = 0; i < times.length && times[i] <= end + 1e-6; i++) {
      const time = times[i];
      if (time < start - 1e-6) continue;
      while (next < now.times.length && now.times[next] <= time + 1e-6) next++;
      const stays = next > 0 && time - now.times[next - 1] <= 1e-6 && Math.abs(now.values[next - 1] - values[i]) <= SAME;
      if (!stays) lost.push(time);
    }
    if (lost.length > 0) gone[key] = lost;
  }
  return gone;
}

/** "12 keys at frames 7, 13, 19 are overwritten."; nothing where none is. */
export function sayOverwritten(gone: Readonly<Record<ChannelKey, readonly number[]>>): string[] {
  const rows = Object.values(gone);
  const count = rows.reduce((sum, row) => sum + row.length, 0);
  if (count === 0) return [];
  const times = unionOfTimes(rows.map((row) => Float64Array.from(row)));
  const frames = [...new Set(times.map((time) => Math.round(time * 100) / 100))];
  const few = frames.length > 6 ? `${frames.slice(0, 6).join(", ")} … ${frames[frames.length - 1]}` : frames.join(", ");
  return [`${countedWord(count, "key")} at ${frames.length === 1 ? "frame" : "frames"} ${few} ${count === 1 ? "is" : "are"} overwritten.`];
}
