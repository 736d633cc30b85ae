import type { Clip } from "../model/clip.ts";
import { type ChannelKey, channelKey, controlById, type Rig, splitChannelKey } from "../model/rig.ts";
import { matchControls } from "./matchControls.ts";
import { byName } from "./strategies/byName.ts";
import { byPath } from "./strategies/byPath.ts";

/** Which channel of a rig each channel of a clip goes to. */
interface ChannelMatch {
  readonly matched: ReadonlyMap<ChannelKey, ChannelKey>;
  /** Channels of the clip that have no place in the rig. */
  readonly unmatched: readonly ChannelKey[];
}

/** The channels of a rig that those of a clip are by what they are called: for keys that are pasted as they are. */
export function matchClip(clip: Pick<Clip, "curves" | "controls">, rig: Rig): ChannelMatch {
  const to = new Map(matchControls(clip, rig, {}, [byName, byPath]).pairs.map((pair) => [pair.from, pair.to]));
  const matched = new Map<ChannelKey, ChannelKey>();
  const unmatched: ChannelKey[] = [];
  for (const key of Object.keys(clip.curves)) {
    const { control, channel } = splitChannelKey(key);
    const target = controlById(rig, to.get(control) ?? "");
    if (target?.channels.includes(channel)) matched.set(key, channelKey(target.id, channel));
    else unmatched.push(key);
  }
  return { matched, unmatched };
}
