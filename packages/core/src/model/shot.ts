import type { Curve } from "../curve/curve.ts";
import type { Action } from "./action.ts";
import type { Rate } from "./rate.ts";
import type { ChannelKey, Rig } from "./rig.ts";

export type Curves = Readonly<Record<ChannelKey, Curve>>;

export interface FrameRange {
  readonly start: number;
  readonly end: number;
}

/** Where a pass applies, with the frames it takes to come in and to go out. */
export interface PassRange extends FrameRange {
  readonly easeIn: number;
  readonly easeOut: number;
}

/** A sheet of change over what is below it. */
export interface Pass {
  readonly id: string;
  readonly name: string;
  /** Name of a pass kind (see `passes/`). */
  readonly kind: string;
  /** Rotations are put together per channel, or as rotations. */
  readonly compose: "channel" | "rotation";
  readonly on: boolean;
  readonly solo: boolean;
  /** Nothing of it may be changed but its switches. */
  readonly locked: boolean;
  /** What its keys and its band wear; null: the colour of its kind. */
  readonly colour: MarkColour | null;
  /** 1 is 100 %. Keyed or constant; may go beyond 1 and below 0. */
  readonly weight: Curve;
  /** Null: the whole shot. */
  readonly range: PassRange | null;
  /** The channels a computed pass works on; null: every channel of the figure, set and camera left out. Keyed passes have those of their curves. */
  readonly members: readonly ChannelKey[] | null;
  /** What a computed pass is told, as its kind says. */
  readonly settings: Readonly<Record<string, unknown>>;
  /** Keys by channel; of a computed pass, its settings over time. */
  readonly curves: Curves;
}

/** How a pass stands in a version. */
export interface PassState {
  readonly on: boolean;
  readonly solo: boolean;
  readonly weight: Curve;
}

/** A named state of the passes: which are on and how strong. Passes it does not know are off in it. */
export interface Version {
  readonly id: string;
  readonly name: string;
  /** By the id of the pass. */
  readonly passes: Readonly<Record<string, PassState>>;
}

/** Something that leads controls in the world: one follows another, and whatever other kinds there are. */
export interface Constraint {
  readonly id: string;
  readonly name: string;
  /** Name of a constraint kind (see `constraints/`). */
  readonly kind: string;
  readonly on: boolean;
  /** Only it, and others that are alone, have a say. */
  readonly solo?: boolean;
  /** What its row wears; left out: the colour of its kind. */
  readonly colour?: MarkColour | null;
  /** What it is told, as its kind says: who leads whom, and how. */
  readonly settings: Readonly<Record<string, unknown>>;
  /** What changes over time, by channel: the channels of a control of its own, which has the constraint's id. */
  readonly curves: Curves;
}

/** A name and a colour for the pose at a frame. */
export interface PoseMark {
  readonly frame: number;
  /** May be empty. */
  readonly name: string;
  /** One of `markColours`, or null. */
  readonly colour: MarkColour | null;
}

export const markColours = ["sand", "moss", "river", "clay", "dusk"] as const;
export type MarkColour = (typeof markColours)[number];

/** Channels that go together, under a name. */
export interface ChannelSet {
  readonly name: string;
  readonly channels: readonly ChannelKey[];
}

/** The file a shot's character came from, kept beside the shot by its hash. */
export interface ShotAsset {
  /** SHA-256 of its bytes, in hexadecimal. */
  readonly hash: string;
  readonly name: string;
  /** Its size. */
  readonly bytes: number;
  /** It has meshes: the figure is drawn from it. */
  readonly isDrawn: boolean;
  /** Which of its animations the shot began with, counted from 0. */
  readonly animation: number | null;
  /** Its name there; null when it has none. */
  readonly animationName: string | null;
  /** The frame of its second 0. */
  readonly firstFrame: number;
  /** By control: the number of its node in the file. */
  readonly nodes: Readonly<Record<string, number>>;
  /** By control: the channels of the shapes its mesh morphs between, in the file's order. */
  readonly shapes: Readonly<Record<string, readonly string[]>>;
}

export interface Shot {
  readonly id: string;
  readonly name: string;
  readonly rig: Rig;
  readonly rate: Rate;
  readonly range: FrameRange;
  /** The last frame is the first one again: playback leaves it out, or it would be seen twice. */
  readonly cyclic: boolean;
  /** Metres in a scene unit, or null when the file did not say. */
  readonly unitMetres: number | null;
  /** Name of the set the application draws around the figure, or null for the plain room. */
  readonly set: string | null;
  readonly base: Curves;
  /** From the bottom up. */
  readonly passes: readonly Pass[];
  readonly constraints: readonly Constraint[];
  /** What passes play, in the channels of this rig: the shot carries its own copies. */
  readonly actions: readonly Action[];
  /** Channels that no edit may change, in base motion and in passes. */
  readonly locked: readonly ChannelKey[];
  readonly sets: readonly ChannelSet[];
  readonly poseMarks: readonly PoseMark[];
  readonly versions: readonly Version[];
  /** What its figure came from, when that was a file with more in it than motion. */
  readonly asset: ShotAsset | null;
}

export const BASE = "base";

/** What has curves of its own by channel besides base motion: passes and constraints. */
export function layerOf(shot: Pick<Shot, "passes" | "constraints">, layer: string): Pass | Constraint | undefined {
  return shot.passes.find(({ id }) => id === layer) ?? shot.constraints.find(({ id }) => id === layer);
}

/** The curves of base motion, of a pass or of a constraint. */
export function layerCurves(shot: Shot, layer: string): Curves {
  return layer === BASE ? shot.base : (layerOf(shot, layer)?.curves ?? {});
}

export function withLayerCurves(shot: Shot, layer: string, curves: Curves): Shot {
  if (layer === BASE) return { ...shot, base: curves };
  if (shot.constraints.some(({ id }) => id === layer)) return withConstraint(shot, layer, (constraint) => ({ ...constraint, curves }));
  return withPass(shot, layer, (pass) => ({ ...pass, curves }));
}

export function withPass(shot: Shot, id: string, change: (pass: Pass) => Pass): Shot {
  return { ...shot, passes: shot.passes.map((pass) => (pass.id === id ? change(pass) : pass)) };
}

export function withConstraint(shot: Shot, id: string, change: (constraint: Constraint) => Constraint): Shot {
  return { ...shot, constraints: shot.constraints.map((one) => (one.id === id ? change(one) : one)) };
}

export function countKeys(curves: Curves): number {
  let total = 0;
  for (const key in curves) total += curves[key].times.length;
  return total;
}
