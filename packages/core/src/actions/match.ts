import type { Action } from "../model/action.ts";
import { type ChannelKey, channelKey, type Rig, splitChannelKey } from "../model/rig.ts";

/** Which channel of a rig each channel of an action goes to. */
export interface Match {
  readonly matched: ReadonlyMap<ChannelKey, ChannelKey>;
  /** Channels of the action that have no place in the rig. */
  readonly unmatched: readonly ChannelKey[];
}

/** What says which channels are moved, and the names of their controls. */
interface Moved {
  readonly curves: Action["curves"];
  readonly controls: readonly { readonly id: string; readonly name: string }[];
}

const plain = (name: string) => name.toLowerCase().replace(/[^a-z0-9]/g, "");

/** Match by name: the control's id, or its name without regard to case, blanks and punctuation. */
export function matchAction(action: Moved, rig: Rig): Match {
  const byId = new Map(rig.controls.map((control) => [control.id, control]));
  const byName = new Map(rig.controls.map((control) => [plain(control.name), control]));
  const names = new Map(action.controls.map((control) => [control.id, control.name]));
  const matched = new Map<ChannelKey, ChannelKey>();
  const unmatched: ChannelKey[] = [];
  for (const key of Object.keys(action.curves)) {
    const { control, channel } = splitChannelKey(key);
    const target = byId.get(control) ?? byName.get(plain(names.get(control) ?? control));
    if (target?.channels.includes(channel)) matched.set(key, channelKey(target.id, channel));
    else unmatched.push(key);
  }
  return { matched, unmatched };
}

/** Names in a sentence: "Head, Neck, Chest, Hips and 3 more". */
export function listed(names: readonly string[]): string {
  const few = names.slice(0, 4).join(", ");
  return names.length > 4 ? `${few} and ${names.length - 4} more` : few;
}
