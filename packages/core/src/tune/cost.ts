import { layoutOf } from "../figure/rigLayout.ts";
import { sizeOf } from "../figure/sides.ts";
import { framesPerSecond } from "../model/rate.ts";
import type { Shot } from "../model/shot.ts";
import type { FigureMotion } from "./figureMotion.ts";
import { LookList } from "./figureMotion.ts";

/** What costs are worked out of. */
export interface Subject {
  readonly shot: Shot;
  readonly fps: number;
  /** The figure's size at rest, scene units. */
  readonly size: number;
  readonly start: number;
  readonly count: number;
  readonly looks: LookList;
  /** Index of a control by its id. */
  readonly index: ReadonlyMap<string, number>;
}

export function subjectOf(shot: Shot, start: number, count: number, looks = new LookList()): Subject {
  const { controlIndex } = layoutOf(shot.rig);
  return { shot, fps: framesPerSecond(shot.rate), size: sizeOf(shot.rig), start, count, looks, index: controlIndex };
}

/** A cost made ready for a shot. */
export interface Judge {
  /** The strain that is just seen, in the cost's unit. */
  readonly seen: number;
  /**
   * Looks at the motion as it is before anything is changed: what is held on to. Where that is a part of a `whole` motion,
   * what belongs to the shot is found in the whole. Answers why there is nothing to judge, or null.
   */
  begin?(motion: FigureMotion, whole?: FigureMotion): string | null;
  /**
   * The cost: the mean of what is squared over frames and parts, where 1 is as much as is just seen. Writes the strain at
   * each frame, in the cost's unit, into `strain`; adds `weight` times how the cost changes with the figure to `slope`.
   */
  judge(motion: FigureMotion, strain: Float64Array, slope: FigureMotion | null, weight: number): number;
  /** What is wrong at a frame (counted from the first), in words. */
  say(motion: FigureMotion, frame: number): string;
}

/** Something that is bad about a motion. A new one is one file like `costs/jerk.ts` and one line in `costs/costs.ts`. */
export interface Cost {
  readonly id: string;
  readonly title: string;
  readonly unit: "length" | "degrees";
  /** What it means, in a sentence. */
  readonly help: string;
  /** It compares frames that are far apart: a part of a shot says nothing of it. */
  readonly spans?: true;
  /** Makes it ready, or says in a sentence why it cannot judge this shot. */
  look(subject: Subject): Judge | string;
}
