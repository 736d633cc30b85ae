import type { z } from "zod";
import type { Curve } from "../curve/curve.ts";
import type { TurnPower } from "../maths/turnPower.ts";
import type { Player } from "../figure/player.ts";
import type { ChannelKey } from "../model/rig.ts";
import type { FrameRange, Pass, Shot } from "../model/shot.ts";

interface KindBase {
  readonly id: string;
  readonly title: string;
  /** A sentence for the user. */
  readonly help: string;
}

/** How a pass's own value joins what is below it. */
export interface Mix {
  readonly keep: number;
  readonly take: number;
}

/** A pass with keys of its own, and how its value joins what is below it. */
export interface KeyedPassKind extends KindBase {
  readonly reads: "keys";
  /** Channels: what is below times `keep`, and the pass's own value times `take`; `weight` is 1 at 100 %. */
  mix(weight: number): Mix;
  /** Rotations: the quaternion turns[4·at[n]…] is joined in place with the pass's own[4n…], by the weight that is the share of `power`; `own` may be written to. */
  rotations(turns: Float64Array, at: Int32Array, own: Float64Array, power: TurnPower): void;
  /** The own value that changes nothing above a channel that has `below`. */
  neutral(below: number): number;
}

/** A page of help: what something is for, and what to watch for. */
export interface Guide {
  readonly use: string;
  readonly watch: string;
}

/** What every pass without keys of its own has. */
interface ComputedBase extends KindBase {
  /** The operation that makes such a pass, and shapes it anew. */
  readonly madeBy: string;
  /** Where that operation needs nothing of its own it is made from the kind: words by which it is looked for, and whether something must be picked. */
  readonly offer?: { readonly words: string; readonly picked?: true; readonly guide: Guide };
  /** The name under which its settings over time stand in `pass.curves`, as if it were a control, and what they are. */
  readonly own: { readonly name: string; readonly channels: readonly string[] };
  /** What `pass.settings` may be. */
  readonly settings: z.ZodType;
  /** What of the settings depends on what a pass is made for: its span, and the channels it works on (null: the figure's). */
  proposes?(span: FrameRange, shot: Shot, members: readonly ChannelKey[] | null): Record<string, unknown>;
  /** Names of the settings that are lengths, which grow with the rig. */
  readonly lengths?: readonly string[];
  /** Settings whose lengths do not stand by themselves, after some controls (by id) grew by a factor. */
  grown?(settings: Pass["settings"], factor: number, controls: ReadonlySet<string>): Pass["settings"];
  /** What a setting over time is while it has no keys, where it does not stand in the settings by its own name. */
  fixed?(pass: Pass, channel: string): number;
  /** Channels that a pass of this kind moves though nothing below does. */
  brings?(pass: Pass): readonly ChannelKey[];
  /** The pass after the motion below it was retimed: `to` says where a frame went. */
  retimed(pass: Pass, to: (frame: number) => number): Pass;
  /** The pass as it may be kept after an edit. Raises `bad-setting` when it cannot be kept. */
  checked(pass: Pass): Pass;
}

/** Answers, for a frame above a pass, the frame at which what is below is read at 100 %. */
export type FrameReader = (frame: number) => number;

/** A pass without values of its own: it says at which other frame what is below it is read. */
export interface TimedPassKind extends ComputedBase {
  readonly reads: "time";
  /** The reader of a channel; channels that are read alike are given one and the same. */
  reader(pass: Pass, shot: Pick<Shot, "range" | "rig" | "base">): (key: ChannelKey) => FrameReader;
}

/** The motion below a pass, to be read at any frame. */
export interface Below {
  /** The shot with only the passes below. */
  readonly shot: Shot;
  /** A player of it: of the channels alone, or of the figure with its follows; of some controls (by id) or of all. */
  player(whole: "channels" | "figure", only?: readonly string[]): Player;
}

/** A pass whose values are worked out from the whole of the motion below it, once for each state of it. */
export interface MotionPassKind extends ComputedBase {
  readonly reads: "motion";
  /** How the values of a pass of this kind join what is below. */
  joins(pass: Pass): "adds" | "replaces";
  /** The pass's own curves over the shot's range, for those members on which it has any. */
  compute(pass: Pass, below: Below, members: readonly ChannelKey[]): Record<ChannelKey, Curve>;
  /** Where it reads what is below at other frames as well: the reader of a channel, as for passes that do only that. */
  reader?: TimedPassKind["reader"];
}

export type ComputedPassKind = TimedPassKind | MotionPassKind;

/** One kind of pass. A new kind is one file like `adds.ts` and one line in `kinds.ts`. */
export type PassKind = KeyedPassKind | ComputedPassKind;
