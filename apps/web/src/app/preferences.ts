import type { PullBy } from "@kneader/core";
import { create } from "zustand";
import { preferencesStore } from "../storage/stores.ts";
import type { DragRules } from "../bench/rack/plot/dragRules.ts";
import type { ArcOver } from "../bench/view/arcs/arcFrames.ts";
import type { Layout } from "../bench/layouts.ts";
import type { Look } from "../bench/view/looks.ts";
import type { ThemeName } from "./theme.ts";

export const details = ["curves", "sheet", "spacing"] as const;
export type Detail = (typeof details)[number];

interface Preferences extends DragRules {
  theme: ThemeName;
  /** Changed shortcuts by command id. */
  shortcuts: Record<string, string>;
  ghosts: boolean;
  arc: boolean;
  /** Arcs over the shot, the marked range, or so many frames around the playhead; flat as the shot camera sees them; with their bends. */
  arcOver: ArcOver;
  arcAround: number;
  arcFlat: boolean;
  arcBends: boolean;
  /** A plain room with a grid instead of the shot's set. */
  room: boolean;
  camera: "shot" | "front" | "side" | "free";
  layout: Layout;
  /** Where splitters were put, in percent, by layout and splitter. */
  splitters: Readonly<Record<string, number>>;
  look: Look;
  /** Which poses are drawn pale: the neighbouring ones, every few frames, or chosen frames. */
  ghostBy: "poses" | "every" | "frames";
  ghostEvery: number;
  /** How many before the playhead and after it. */
  ghostsBefore: number;
  ghostsAfter: number;
  ghostFrames: readonly number[];
  /** How strongly they are drawn, 0..1. */
  ghostInk: number;
  /** Operations applied lately, the last one first. */
  lately: readonly string[];
  /** The first steps were shown. */
  welcomed: boolean;
  /** What gives way when a part of the figure is dragged. */
  pullBy: PullBy;
  /** What stays where it is while the rest is pulled. */
  holdFeet: boolean;
  holdHands: boolean;
  /** The other side follows mirrored. */
  pullBoth: boolean;
  /** Words of one's own for left and right in names: "gauche/droite, port/starboard". */
  sideWords: string;
  poseShare: number;
  /** Only poses at which this part of the body changes, or only named ones; null: all. */
  poseFilter: string | null;
  /** Poses and gaps are those of the figure as a whole, not of the picked controls. */
  wholePoses: boolean;
  /** What the lower part of the rack shows, and what stands below that. */
  detail: Detail;
  below: Detail | null;
  /** The box around picked keys, whose sides scale them. */
  keyBox: boolean;
  /** Source and result of the passes are drawn with the curves. */
  result: boolean;
}

interface PreferencesState extends Preferences {
  set(change: Partial<Preferences>): void;
}

const defaults: Preferences = {
  theme: "light",
  shortcuts: {},
  ghosts: true,
  arc: true,
  arcOver: "shot",
  arcAround: 12,
  arcFlat: false,
  arcBends: true,
  room: false,
  camera: "shot",
  layout: "balanced",
  splitters: {},
  look: "lit",
  ghostBy: "poses",
  ghostEvery: 4,
  ghostsBefore: 1,
  ghostsAfter: 1,
  ghostFrames: [],
  ghostInk: 0.34,
  lately: [],
  welcomed: false,
  pullBy: "turn",
  holdFeet: false,
  holdHands: false,
  pullBoth: false,
  sideWords: "",
  poseShare: 0.5,
  poseFilter: null,
  wholePoses: true,
  detail: "curves",
  below: null,
  keyBox: true,
  result: true,
  keepTime: false,
  keepValue: false,
  wholeFrames: true,
  toKeys: false,
};

export const usePreferences = create<PreferencesState>((set, get) => ({
  ...defaults,
  set(change) {
    set(change);
    const { set: _, ...kept } = get();
    void preferencesStore.setItem("preferences", kept).catch(() => undefined);
  },
}));

/** Read what was kept; called once before the application is drawn. */
export async function loadPreferences(): Promise<void> {
  const kept = await preferencesStore.getItem<Partial<Preferences>>("preferences").catch(() => null);
  if (kept) usePreferences.setState(kept);
}
