import { BASE, type ChannelKey, channelKey, type FrameRange, ownControl, pickedCount, type Scope, type Shot } from "@kneader/core";
import { create } from "zustand";

/** What is picked on the bench. The same everywhere: view, channel list, curves, poses. */
interface Selection {
  /** Ids of controls; none means the whole figure. */
  controls: readonly string[];
  /** Channels picked one by one within those controls; none means all of them. */
  channels: readonly ChannelKey[];
  /** Times of picked keys by channel. */
  keys: Readonly<Record<ChannelKey, readonly number[]>>;
  range: FrameRange | null;
  /** Frames of the poses picked in the pose tray. */
  poses: readonly number[];
  /** Frames of the poses before the gaps picked there. */
  gaps: readonly number[];
  /** "base" or a pass: where keys go and which curves are shown. */
  layer: string;
  /** The pose copied last: its frame. */
  copiedPose: number | null;
  pickControls(ids: readonly string[]): void;
  pickChannels(keys: readonly ChannelKey[]): void;
  pickKeys(keys: Readonly<Record<ChannelKey, readonly number[]>>): void;
  pickPoses(frames: readonly number[]): void;
  pickGaps(frames: readonly number[]): void;
  setRange(range: FrameRange | null): void;
  setLayer(layer: string): void;
  copyPose(frame: number): void;
  clear(): void;
}

/** The part of it that names things a shot may lose. */
export type Picks = Pick<Selection, "controls" | "channels" | "keys" | "layer">;

const none = { controls: [], channels: [], keys: {}, range: null, poses: [], gaps: [] };

export const useSelection = create<Selection>((set) => ({
  ...none,
  layer: BASE,
  copiedPose: null,
  pickControls: (controls) => set({ controls, channels: [], keys: {} }),
  pickChannels: (channels) => set({ channels, keys: {} }),
  pickKeys: (keys) => set({ keys }),
  pickPoses: (poses) => set({ poses }),
  pickGaps: (gaps) => set({ gaps }),
  setRange: (range) => set({ range }),
  setLayer: (layer) => set({ layer, keys: {} }),
  copyPose: (copiedPose) => set({ copiedPose }),
  clear: () => set(none),
}));

/** The scope the next operation will have. */
export function scopeOf(selection: Pick<Selection, "controls" | "channels" | "keys" | "range" | "layer">): Scope {
  return {
    controls: selection.controls.length > 0 ? selection.controls : null,
    channels: selection.channels.length > 0 ? selection.channels : null,
    keys: pickedCount(selection.keys) > 0 ? selection.keys : null,
    range: selection.range,
    layer: selection.layer,
  };
}

export function currentScope(): Scope {
  return scopeOf(useSelection.getState());
}

/** "Whole figure · 54 curves", "Tail 2, Tail 3 · 6 curves", "7 keys on 3 curves". */
export function sayScope(shot: Shot, scope: Scope): string {
  const curves = scope.layer === BASE ? shot.base : (shot.passes.find((pass) => pass.id === scope.layer)?.curves ?? {});
  if (scope.keys) {
    const count = pickedCount(scope.keys);
    const on = Object.keys(scope.keys).length;
    return `${count} ${count === 1 ? "key" : "keys"} on ${on} ${on === 1 ? "curve" : "curves"}`;
  }
  const own = ownControl(shot, scope.layer);
  const wanted = scope.controls === null || own ? null : new Set(scope.controls);
  const picked = scope.channels === null ? null : new Set(scope.channels);
  const locked = new Set(shot.locked);
  let count = 0;
  let still = 0;
  for (const control of own ? [own] : shot.rig.controls) {
    if (wanted && !wanted.has(control.id)) continue;
    for (const channel of control.channels) {
      const key = channelKey(control.id, channel);
      if (!(key in curves) || (picked !== null && !picked.has(key))) continue;
      if (locked.has(key)) still++;
      else count++;
    }
  }
  const names = shot.rig.controls.filter((control) => wanted?.has(control.id)).map((control) => control.name);
  const who = own
    ? own.name
    : names.length === 0
      ? "Whole figure"
      : names.length > 2
        ? `${names[0]} and ${names.length - 1} more`
        : names.join(", ");
  return `${who} · ${count} ${count === 1 ? "curve" : "curves"}${still > 0 ? `, ${still} locked` : ""}`;
}
