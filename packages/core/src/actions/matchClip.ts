import type { Clip } from "../model/clip.ts";
import { type ChannelKey, channelKey, type Rig, splitChannelKey } from "../model/rig.ts";
import { strategies } from "./strategies/strategies.ts";

/** Which channel of a rig each channel of a clip goes to. */
interface Match {
  readonly matched: ReadonlyMap<ChannelKey, ChannelKey>;
  /** Channels of the clip that have no place in the rig. */
  readonly unmatched: readonly ChannelKey[];
}

/** Find for each control of a clip the one of the rig that is meant, by the first strategy that finds one. */
export function matchClip(clip: Pick<Clip, "curves" | "controls">, rig: Rig, ways = strategies): Match {
  const find = ways.map((way) => way.prepare(rig));
  const names = new Map(clip.controls.map((control) => [control.id, control.name]));
  const matched = new Map<ChannelKey, ChannelKey>();
  const unmatched: ChannelKey[] = [];
  for (const key of Object.keys(clip.curves)) {
    const { control: id, channel } = splitChannelKey(key);
    const meant = { id, name: names.get(id) ?? id };
    let target: ReturnType<(typeof find)[number]>;
    for (const way of find) target ??= way(meant);
    if (target?.channels.includes(channel)) matched.set(key, channelKey(target.id, channel));
    else unmatched.push(key);
  }
  return { matched, unmatched };
}
