import { BASE, type ChannelKey, type FrameRange, pickedCount, type Scope } from "@kneader/core";
import { create } from "zustand";

/** What is picked on the bench. The same everywhere: view, channel list, curves, poses. */
interface Selection {
  /** Ids of controls; none means the whole figure. */
  controls: readonly string[];
  /** With nothing picked: set and camera too. */
  everything: boolean;
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
  /** Nothing is picked: the whole figure is meant, or everything in the shot. */
  clear(everything?: boolean): void;
}

/** The part of it that names things a shot may lose. */
export type Picks = Pick<Selection, "controls" | "channels" | "keys" | "layer">;

const none = { controls: [], everything: false, channels: [], keys: {}, range: null, poses: [], gaps: [] };

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
  clear: (everything = false) => set({ ...none, everything }),
}));

/** The scope the next operation will have. */
export function scopeOf(
  selection: Pick<Selection, "controls" | "channels" | "keys" | "range" | "layer"> & { everything?: boolean },
): Scope {
  return {
    controls: selection.controls.length > 0 ? selection.controls : null,
    ...(selection.everything ? { everything: true } : {}),
    channels: selection.channels.length > 0 ? selection.channels : null,
    keys: pickedCount(selection.keys) > 0 ? selection.keys : null,
    range: selection.range,
    layer: selection.layer,
  };
}

export function currentScope(): Scope {
  return scopeOf(useSelection.getState());
}
