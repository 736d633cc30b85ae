import { keyBefore } from "../../curve/curve.ts";
import { type ChannelKey, controlById, splitChannelKey } from "../../model/rig.ts";
import { type Curves, layerCurves, type Shot } from "../../model/shot.ts";
import { listed } from "../../words.ts";

/** Keys that a change has put outside the shot's range. */
export interface Beyond {
  readonly keys: number;
  /** Whose they are. */
  readonly who: string;
  /** The range that would hold all of them. */
  readonly start: number;
  readonly end: number;
}

/** Keys that a change put or left outside the range and that were not outside before; null when there is none. Whole rounds of a loop need no key there. */
export function keysBeyond(before: Shot, after: Shot): Beyond | null {
  if (before === after) return null;
  const controls = new Set<string>();
  let keys = 0;
  let { start, end } = after.range;
  const count = ({ times }: { readonly times: Float64Array }, { range }: Shot) =>
    times.length - keyBefore(times, range.end + 1e-6) + keyBefore(times, range.start - 1e-6);
  const look = (old: Curves, now: Curves): void => {
    for (const key in now) {
      if (old[key] === now[key] && before.range === after.range) continue;
      const { times } = now[key];
      const more = count(now[key], after) - (old[key] ? count(old[key], before) : 0);
      if (more <= 0 || times.length < 2) continue;
      keys += more;
      controls.add(nameOf(after, key));
      start = Math.min(start, Math.floor(times[0] + 1e-6));
      end = Math.max(end, Math.ceil(times[times.length - 1] - 1e-6));
    }
  };
  look(before.base, after.base);
  for (const pass of after.passes) look(layerCurves(before, pass.id), pass.curves);
  return keys > 0 ? { keys, who: listed([...controls]), start, end } : null;
}

function nameOf({ rig }: Shot, key: ChannelKey): string {
  const { control } = splitChannelKey(key);
  return controlById(rig, control)?.name ?? control;
}
