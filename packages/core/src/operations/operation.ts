import type { Fitter } from "../curve/fit/fitter.ts";
import type { z } from "zod";
import type { Drift } from "../evaluate/drift.ts";
import type { Action } from "../model/action.ts";
import type { Clip } from "../model/clip.ts";
import type { Guide } from "../passes/passKind.ts";
import type { ChannelKey } from "../model/rig.ts";
import type { FrameRange, Shot } from "../model/shot.ts";

/** The controls, channels, keys and frames an operation works on. */
export interface Scope {
  /** Ids of controls, or null for the whole figure: the character with what it carries. */
  readonly controls: readonly string[] | null;
  /** With nothing picked, set and camera are meant too: everything in the shot. */
  readonly everything?: true;
  /** Channel keys, or null for every channel of those controls. */
  readonly channels: readonly ChannelKey[] | null;
  /** Times of the picked keys by channel, or null when keys are not picked one by one. */
  readonly keys: Readonly<Record<ChannelKey, readonly number[]>> | null;
  /** Frames, or null for the whole shot. */
  readonly range: FrameRange | null;
  /** "base" or the id of a pass. */
  readonly layer: string;
}

export const WHOLE_FIGURE: Scope = { controls: null, channels: null, keys: null, range: null, layer: "base" };
export const EVERYTHING: Scope = { ...WHOLE_FIGURE, everything: true };

/** What an operation says it has done. */
export interface Report {
  readonly summary: string;
  readonly keysBefore: number;
  readonly keysAfter: number;
  readonly curvesChanged: number;
  /** Measured against the shot before, when the operation claims to keep the motion. */
  readonly drift: Drift | null;
  /** Worst distance of any one curve, in its own unit, with its place; where curves are fitted. */
  readonly worstCurve: { channel: ChannelKey; frame: number; amount: number } | null;
  /** Which of the worst differences the tolerance bounds; the others follow from it. */
  readonly bounds?: "curve" | "place";
  readonly warnings: readonly string[];
  /** What is good to know and no cause for worry. */
  readonly notes: readonly string[];
  /** Controls that are not where they should be, the worst first. */
  readonly off?: readonly OffPlace[];
  /** Strain at each whole frame from `start` on, before and after; in words, what became of each. */
  readonly strain?: { readonly start: number; readonly rows: readonly StrainRow[]; readonly said: readonly string[] };
  /** Ids of operations that are better done first. */
  readonly doFirst?: readonly string[];
  /** Controls that should be taken along for it to do any good. */
  readonly takeAlong?: readonly string[];
  /** Keys the shot had that give way to others, by channel of the layer worked on. */
  readonly overwritten?: Readonly<Record<ChannelKey, readonly number[]>>;
}

/** How far a control is from where it should be, and where that is worst. */
export interface OffPlace {
  readonly control: string;
  readonly frame: number;
  /** Scene units. */
  readonly distance: number;
  /** Degrees. */
  readonly turn: number;
}

/** How strained a motion is by one cost at each frame, in the cost's unit. */
export interface StrainRow {
  readonly cost: string;
  /** How much it counts; 0: it is only looked at. */
  readonly weight: number;
  /** As much as is just seen. */
  readonly seen: number;
  readonly before: Float64Array;
  readonly after: Float64Array;
}

export interface Outcome {
  readonly shot: Shot;
  readonly report: Report;
  /** What was made besides the shot. */
  readonly action?: Action;
}

export interface Context {
  /**
   * Called now and then by long work with the share done (0..1); awaiting it lets others run. Throws a
   * `cancelled` error once the work is no longer wanted.
   */
  breathe(share: number): Promise<void> | void;
  /** The result is only glanced at before the whole is done: the report may leave out what takes long. */
  readonly firstLook?: boolean;
  /** Work that gets better and better shows what it has so far; asked for when somebody looks. */
  show?(sofar: () => Outcome): void;
  /** The settings as they are by now, where they may change while the work goes on (see `Operation.steers`); null: as they were. */
  latest?(): unknown;
  /** Fits curves elsewhere, several at a time, where that can be had. */
  readonly fitter?: Fitter;
}

export const noContext: Context = { breathe: () => undefined };

/** Where the user stands when an operation is opened. */
export interface Situation {
  readonly shot: Shot;
  readonly scope: Scope;
  /** The playhead. */
  readonly frame: number;
  /** The frame of the pose copied last, and the keys copied last. */
  readonly copiedPose: number | null;
  readonly copiedKeys: Clip | null;
  /** Share (0..1) of the moving controls that a key pose has keys on. */
  readonly poseShare: number;
  /** Frames of the poses picked in the pose tray. */
  readonly pickedPoses?: readonly number[];
  /** Frames of the poses before the gaps picked there. */
  readonly pickedGaps?: readonly number[];
}

/** What must be there for an operation to be of any use (see `needs.ts`). */
export type Need =
  | "a pass that is on"
  | "a chosen pass"
  | "something that is led"
  | "a limb that reaches"
  | "a played action"
  | "an opened action"
  | "copied keys"
  | "picked controls";

/** Where an operation is what one would most likely want next (see `suits.ts`). */
export type Suit =
  | "picked keys"
  | "picked controls"
  | "picked poses"
  | "a marked range"
  | "a chosen pass"
  | "copied keys"
  | "stepped poses"
  | "a key on every frame"
  | "a loop";

/**
 * A rework operation is a value: the catalogue, the work card, the command line and the docs are all
 * made from what it says about itself. `run` is pure: the same in page, worker and Node.
 */
export interface Operation<Settings = unknown> {
  readonly id: string;
  readonly title: string;
  readonly group:
    | "Clean"
    | "Values"
    | "Timing"
    | "Cycles"
    | "Poses"
    | "Passes"
    | "Spaces"
    | "Physics"
    | "Performance"
    | "Tune"
    | "Recipes"
    | "Actions"
    | "By hand";
  /** One sentence. */
  readonly help: string;
  /** Its page of help; whatever is offered has one. */
  readonly guide?: Guide;
  /** Extra words by which it may be looked for. */
  readonly words: string;
  readonly settings: z.ZodType<Settings>;
  /** What it makes of a control does not depend on the others, so a part can be shown before the rest is done. */
  readonly byControl?: true;
  /** It only reads the shot, so nothing locked can be in its way. */
  keepsShot?(settings: Settings): boolean;
  /** It says by itself what becomes of rounds. */
  readonly saysRounds?: true;
  /** What it works on stands in its settings, whatever is in scope. */
  readonly named?: true;
  /** Parts of the scope it takes no notice of: its settings say them, or it is for all of them. */
  readonly leaves?: readonly ("controls" | "range" | "layer")[];
  /** Poses come to other frames or other sides by it, where what they are told in may be another. */
  readonly movesPoses?: true;
  /** Of poses: in a pass it takes that pass alone to other frames or sides, not what is seen with all that plays below it. */
  readonly ofLayerAlone?: true;
  /** It changes which passes there are, not what is keyed: locked channels in them go along. */
  readonly stacks?: true;
  /** What it works on, in words, where that is not the scope as everybody reads it. */
  saysScope?(shot: Shot, scope: Scope, settings: Settings): string;
  /** What must still be done before there is anything to try, where the card itself is where it is done; null: nothing. */
  waits?(settings: Settings): string | null;
  /** Work that goes on may be told other settings, from where it is; answers whether these are such, else it begins anew. */
  steers?(before: Settings, after: Settings): boolean;
  /** Why nothing would change where that is so, and what would help; without it the general reason is given. */
  readonly nothing?: string;
  /** What it makes in place of a changed shot. */
  readonly makes?: "action";
  readonly needs?: readonly Need[];
  readonly suits?: readonly Suit[];
  /** The settings it proposes where the user stands; the others are as their schema says. */
  situation?(at: Situation): Partial<Settings>;
  run(shot: Shot, scope: Scope, settings: Settings, context: Context): Outcome | Promise<Outcome>;
}
