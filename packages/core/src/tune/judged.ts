import { changedFrames } from "../evaluate/changedFrames.ts";
import { makePlayer } from "../evaluate/makePlayer.ts";
import { pointOf } from "../figure/pointOf.ts";
import type { Shot } from "../model/shot.ts";
import { type Cost, type Judge, type Subject, subjectOf } from "./cost.ts";
import { type FigureMotion, makeMotion } from "./figureMotion.ts";

/** Costs made ready for a shot. */
export interface Judged {
  readonly subject: Subject;
  readonly costs: readonly Cost[];
  /** In the order of the costs. */
  readonly judges: readonly Judge[];
  /** The costs that cannot judge this shot, and why. */
  readonly refused: readonly { readonly cost: Cost; readonly why: string }[];
  /** The motion they began with. */
  readonly motion: FigureMotion;
}

/** How strained a motion is by one cost. */
export interface Strain {
  readonly cost: string;
  /** The cost itself: 1 is as much as is just seen, throughout. */
  readonly value: number;
  /** At each frame, in the cost's unit. */
  readonly frames: Float64Array;
}

/**
 * The figure at each frame, as all passes and constraints have it. Where its motion before a change is given, only frames are
 * looked at that may be others since.
 */
export function motionOf(shot: Shot, { looks, start, count }: Subject, before?: Pick<Judged, "subject" | "motion">): FigureMotion {
  const changed = before ? changedFrames(before.subject.shot, shot, start, count) : null;
  const motion = makeMotion(looks, start, count);
  if (before && changed) {
    motion.places.set(before.motion.places);
    motion.values.set(before.motion.values);
  }
  const player = makePlayer(shot);
  const point = new Float64Array(3);
  const channels = looks.channels.map((key) => player.channelIndex.get(key) as number);
  for (let f = 0; f < count; f++) {
    if (changed && changed[f] === 0) continue;
    if (channels.length > 0) {
      player.readValues(start + f);
      for (let c = 0; c < channels.length; c++) motion.values[f * channels.length + c] = player.values[channels[c]];
    }
    player.pose(start + f);
    looks.points.forEach(({ control, at }, p) => {
      pointOf(point, player.worlds, control, at);
      motion.places.set(point, (f * looks.points.length + p) * 3);
    });
  }
  return motion;
}

/**
 * Makes costs ready for a shot over some frames. Those that cannot judge it are left out, with the reason. Of a part of a
 * shot, what belongs to the shot is found in the `whole`, where that is given, and the same is looked at.
 */
export function judgedBy(shot: Shot, wanted: readonly Cost[], start: number, count: number, whole?: Judged): Judged {
  const subject = subjectOf(shot, start, count, whole?.subject.looks);
  const looked = wanted.map((cost) => ({ cost, judge: cost.look(subject) }));
  const motion = motionOf(shot, subject);
  const refused: { cost: Cost; why: string }[] = [];
  const ready: { cost: Cost; judge: Judge }[] = [];
  for (const { cost, judge } of looked) {
    const why = typeof judge === "string" ? judge : (judge.begin?.(motion, whole?.motion) ?? null);
    if (why !== null) refused.push({ cost, why });
    else if (typeof judge !== "string") ready.push({ cost, judge });
  }
  return { subject, costs: ready.map(({ cost }) => cost), judges: ready.map(({ judge }) => judge), refused, motion };
}

/** The strain of a motion by each cost. */
export function strainsOf(judged: Judged, motion: FigureMotion): Strain[] {
  return judged.costs.map((_, n) => strainOf(judged, n, motion));
}

/** The strain of a motion by one of the costs. */
export function strainOf({ costs, judges }: Judged, n: number, motion: FigureMotion): Strain {
  const frames = new Float64Array(motion.count);
  const value = judges[n].judge(motion, frames, null, 0);
  return { cost: costs[n].id, value, frames };
}
