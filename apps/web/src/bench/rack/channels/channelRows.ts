import { type ChannelKey, type Control, channelKey, type Curves } from "@kneader/core";
import { type ChannelFilter, listedChannels } from "./channelFilter.ts";

/** One line of the channel list. */
export type ChannelListRow =
  | {
      readonly kind: "control";
      readonly id: string;
      readonly control: Control;
      readonly channels: readonly ChannelKey[];
      readonly open: boolean;
    }
  | { readonly kind: "channel"; readonly id: ChannelKey; readonly control: Control; readonly channel: string };

export interface ListState {
  readonly curves: Curves;
  readonly picked: readonly string[];
  readonly locked: ReadonlySet<ChannelKey>;
  /** Channels drawn in the curve tray; their controls stand open. */
  readonly shown: ReadonlySet<ChannelKey>;
  /** Controls folded or unfolded by hand. */
  readonly folds: ReadonlyMap<string, boolean>;
}

/** The list as flat lines, so that only those in sight need be drawn. A filter by words opens what it finds. */
export function channelRows(controls: readonly Control[], filter: ChannelFilter, state: ListState): ChannelListRow[] {
  const rows: ChannelListRow[] = [];
  for (const control of controls) {
    const channels = listedChannels(control, filter, state);
    if (channels.length === 0) continue;
    const byItself = filter.words !== "" || state.picked.includes(control.id) || channels.some((key) => state.shown.has(key));
    const open = state.folds.get(control.id) ?? byItself;
    rows.push({ kind: "control", id: control.id, control, channels, open });
    if (!open) continue;
    for (const channel of control.channels) {
      const key = channelKey(control.id, channel);
      if (channels.includes(key)) rows.push({ kind: "channel", id: key, control, channel });
    }
  }
  return rows;
}
