import type { Curve } from "../curve/curve.ts";
import { constantCurve } from "../curve/make.ts";
import { withValues } from "../curve/values.ts";
import { quatAngle } from "../maths/rotation.ts";
import { turnVector } from "../maths/vector.ts";
import { type Clip, controlsFor } from "../model/clip.ts";
import { type ChannelKey, channelKey, moveChannels, type Rig, rotateChannels, splitChannelKey } from "../model/rig.ts";
import { clipReader } from "./fit/clipReader.ts";
import { compareRests, REST_DIFFERS, type RestPoses, restTurns } from "./fit/restPoses.ts";
import { sizeRatio, type SizeRatio } from "./fit/sizeRatio.ts";
import { type Fitting, type Ground, tellAnew, type Told } from "./fit/tellAnew.ts";
import { type HandMap, type Match, matchControls } from "./matchControls.ts";
import { bodyOf } from "../figure/anatomy/bodyOf.ts";
import { aboveWhere, type Skeleton, skeletonOf } from "../figure/anatomy/skeleton.ts";

/** How a clip is fitted to a rig. */
export interface FitOptions {
  /** What was said by hand of who takes whose motion. */
  readonly hand?: HandMap;
  /** How many times larger the rig is; null: as found. */
  readonly ratio?: number | null;
  /** Limbs that rest in other directions: laid over each other, left, or laid over each other where they differ much. */
  readonly limbs?: "found" | "laid" | "left";
}

/** A clip in a rig's own channels, and what was done for it. */
export interface Fitted {
  readonly clip: Clip;
  readonly match: Match;
  /** The ratio it was fitted with, and the one found. */
  readonly ratio: number;
  readonly size: SizeRatio;
  /** Channels of the clip without a place in the rig, those that are bridged left out. */
  readonly unmatched: readonly ChannelKey[];
  /** Controls (ids in the rig) that got keys of their own making, as they rest, or hang, otherwise. */
  readonly retold: readonly string[];
  /** Levels only the rig has, which get keys at rest so that they do not bend what is below. */
  readonly rested: readonly string[];
  /** The limbs of the two rest in directions so many degrees apart; 0 when they were not compared. */
  readonly apart: number;
  readonly laidLimbs: boolean;
}

/**
 * A clip taken over by a rig. A control that rests as the other does, under the same, keeps the keys as they are, moves
 * times the ratio; every other is told the motion anew (see `tellAnew`).
 */
export function fitClip(clip: Clip, rig: Rig, { hand, ratio: asked = null, limbs = "found" }: FitOptions = {}): Fitted {
  const match = matchControls(clip, rig, hand);
  const [from, to] = [skeletonOf(clip), skeletonOf(rig)];
  const found = new Map(match.pairs.map((pair) => [from.index.get(pair.from) as number, to.index.get(pair.to) as number]));
  const size = sizeRatio(from, to);
  const ratio = asked ?? size.ratio;
  const compared = compareRests(from, to, found);
  const laidLimbs = limbs === "laid" || (limbs === "found" && compared.apart > REST_DIFFERS);
  const rests: RestPoses = laidLimbs ? compared : { ...compared, limbs: new Map() };
  const motion = motionOf(clip, from, found);
  const ground = groundsOf(clip, from, to, ratio);
  const turning = new Map([...found].filter(([i]) => motion.turns(i).length > 0).map(([i, at]) => [at, i]));
  const fitting: Fitting = { from, to, rests, ground, turning };
  const plain = plainTest(fitting, found);
  const curves: Record<ChannelKey, Curve> = {};
  const told: Told[] = [];
  const unmatched: ChannelKey[] = [];
  const takes = (at: number, channels: readonly string[]) => channels.every((channel) => to.controls[at].channels.includes(channel));
  for (const [i, at] of found) {
    const own = motion.own(i);
    const [turns, moves] = [motion.turns(i), motion.moves(i)];
    const isTop = aboveWhere(from, i, (one) => found.has(one)) < 0;
    const turnsAnew = turns.length > 0 && !plain.turn(i, at);
    const movesAnew = moves.length > 0 && !plain.place(i, at, isTop);
    for (const [channel, curve] of own) {
      const key = channelKey(to.controls[at].id, channel);
      const isMove = (moveChannels as readonly string[]).includes(channel);
      const isTurn = (rotateChannels as readonly string[]).includes(channel);
      if (!to.controls[at].channels.includes(channel)) unmatched.push(channelKey(from.controls[i].id, channel));
      else if (isMove ? !movesAnew : !isTurn || !turnsAnew) curves[key] = isMove ? scaled(curve, ratio) : curve;
    }
    const turnsHere = turnsAnew && takes(at, rotateChannels);
    const movesHere = movesAnew && takes(at, moveChannels);
    if (turnsHere || movesHere) {
      const sources = [...(turnsHere ? turns : []), ...(movesHere ? moves : [])];
      told.push({ from: i, to: at, curves: sources, turns: turnsHere, moves: movesHere ? (isTop ? "world" : "within") : null });
    }
  }
  Object.assign(curves, tellAnew(clip, fitting, told));
  const standing = told.filter(({ moves }) => moves === "world").map((one) => one.to);
  if (standing.length > 0 && bodyOf(to)) groundFigure(rig, to, standing, curves, clip.length, ground.to);
  const rested = restBetween(to, turning, new Set(found.values()), curves);
  unmatched.push(...withoutPlace(clip, from, found, motion.isBridged));
  return {
    clip: { ...clip, curves: inOrder(rig, curves), controls: controlsFor(rig, Object.keys(curves)), figure: rig.figure },
    match,
    ratio,
    size,
    unmatched,
    retold: told.map((one) => to.controls[one.to].id),
    rested,
    apart: compared.apart,
    laidLimbs,
  };
}

const scaled = (curve: Curve, ratio: number) =>
  withValues(
    curve,
    Array.from(curve.values, (_, i) => i),
    (i) => curve.values[i] * ratio,
    ratio,
  );

/** Which curves of a clip a control's motion is made of: its own, and those of levels above it that have no other here. */
function motionOf({ curves }: Clip, from: Skeleton, found: ReadonlyMap<number, number>) {
  const byControl = new Map<string, [channel: string, curve: Curve][]>();
  for (const [key, curve] of Object.entries(curves)) {
    const { control, channel } = splitChannelKey(key);
    byControl.set(control, [...(byControl.get(control) ?? []), [channel, curve]]);
  }
  const own = (i: number) => byControl.get(from.controls[i].id) ?? [];
  const of = (i: number, channels: readonly string[]) => own(i).flatMap(([channel, curve]) => (channels.includes(channel) ? [curve] : []));
  /** Itself and the levels above it that nothing takes. */
  const levels = (i: number) => {
    const all = [i];
    for (let at = from.parents[i]; at >= 0 && !found.has(at); at = from.parents[at]) all.push(at);
    return all;
  };
  const bridged = new Set([...found.keys()].flatMap((i) => levels(i).slice(1)));
  return {
    own,
    turns: (i: number) => levels(i).flatMap((one) => of(one, rotateChannels)),
    moves(i: number) {
      const isTop = aboveWhere(from, i, (one) => found.has(one)) < 0;
      // At the top whatever turns above it moves it as well.
      return isTop ? topMoves(levels(i)) : of(i, moveChannels);
    },
    isBridged: (i: number) => bridged.has(i),
  };

  function topMoves(all: readonly number[]): Curve[] {
    const moves = all.flatMap((one) => of(one, moveChannels));
    const turnsAbove = all.slice(1).flatMap((one) => of(one, rotateChannels));
    return moves.length + turnsAbove.length > 0 ? [...moves, ...turnsAbove] : [];
  }
}

/** Turns nearer than this (degrees), and places nearer than this share of the size, are the same. */
const SAME_TURN = 1e-6;
const SAME_PLACE = 0.02;

/** Which keys may stay as they are: of a control that rests as the other does, under controls that do. */
function plainTest({ from, to, rests, ground }: Fitting, found: ReadonlyMap<number, number>) {
  const [mine, theirs] = [restTurns(from), restTurns(to)];
  const isStraight = Math.abs(rests.heading[3]) > 1 - 1e-12;
  const isAlike = (i: number, at: number) => quatAngle(mine, 4 * i, theirs, 4 * at) < SAME_TURN && !rests.limbs.has(at);
  const reached = new Set(found.values());
  /** The matched ones above both are each other's, with nothing in between that turns, and rest alike. */
  const hangsAlike = (i: number, at: number) => {
    const [above, aboveTo] = [from.parents[i], to.parents[at]];
    if (above < 0 || aboveTo < 0) return above < 0 && aboveTo < 0;
    if (found.get(above) === aboveTo) return isAlike(above, aboveTo);
    // What stands above the first that is matched rests, and turns nothing.
    const isFirst = aboveWhere(from, i, (one) => found.has(one)) < 0 && aboveWhere(to, at, (one) => reached.has(one)) < 0;
    return isFirst && quatAngle(mine, 4 * above, theirs, 4 * aboveTo) < SAME_TURN;
  };
  const turn = (i: number, at: number) =>
    isStraight && from.controls[i].order === to.controls[at].order && isAlike(i, at) && hangsAlike(i, at);
  return {
    turn,
    place(i: number, at: number, isTop: boolean) {
      if (!isStraight || !hangsAlike(i, at)) return false;
      if (!isTop) return true;
      const [p, q] = [from.place(i), to.place(at)];
      const off = Math.hypot(...[0, 1, 2].map((k) => q[k] - ground.ratio * p[k]));
      const size = Math.max(1e-9, ...to.controls.map((_, n) => Math.abs(to.place(n)[1])));
      return off < SAME_PLACE * size;
    },
  };
}

/** A rest pose whose ground is within this share of its height of where the motion's is stands on it. */
const STANDS = 0.15;

/** Where the ground is under both: of the clip where its figure rests, or, when that hangs elsewhere, where its feet come to. */
function groundsOf(clip: Clip, from: Skeleton, to: Skeleton, ratio: number): Ground {
  const [mine, theirs] = [bodyOf(from), bodyOf(to)];
  const floor = theirs?.ground ?? lowestOf(to);
  const rest = mine?.ground ?? lowestOf(from);
  const height = mine ? mine.top - mine.ground : 1;
  const low = usualLow(clip);
  return { ratio, from: Math.abs(low - rest) < STANDS * height ? rest : low, to: floor };
}

const lowestOf = (skeleton: Skeleton) =>
  skeleton.controls.reduce(
    (least, { role }, i) => (role === "figure" ? Math.min(least, skeleton.place(i)[1]) : least),
    Number.POSITIVE_INFINITY,
  ) || 0;

/** Frames looked at for where the ground is. */
const LOOKS = 60;

/** The height at which the lowest control of a clip's figure is while it stands: what it is below in a tenth of the frames. */
function usualLow({ curves, controls, length }: Pick<Clip, "curves" | "controls" | "length">): number {
  const reader = clipReader({ curves, controls });
  const count = Math.min(LOOKS, Math.ceil(length) + 1);
  const lows = Array.from({ length: count }, (_, n) => {
    reader.read((length * n) / Math.max(1, count - 1));
    return reader.lowest();
  }).sort((a, b) => a - b);
  return lows[Math.floor(0.1 * (count - 1))];
}

/** Raise or lower what stands in the world so that its feet come to the ground it rests on: no two figures' feet are built alike. */
function groundFigure(
  rig: Rig,
  to: Skeleton,
  standing: readonly number[],
  curves: Record<ChannelKey, Curve>,
  length: number,
  floor: number,
): void {
  const off = floor - usualLow({ curves, controls: rig.controls, length });
  const turns = restTurns(to);
  for (const i of standing) {
    const up = Float64Array.of(0, off, 0);
    const parent = to.parents[i];
    const back =
      parent < 0 ? null : Float64Array.of(-turns[4 * parent], -turns[4 * parent + 1], -turns[4 * parent + 2], turns[4 * parent + 3]);
    if (back) turnVector(up, 0, back, 0, up, 0);
    moveChannels.forEach((channel, k) => {
      const key = channelKey(to.controls[i].id, channel);
      const curve = curves[key];
      if (up[k] !== 0 && curve) curves[key] = { ...curve, values: curve.values.map((value) => value + up[k]) };
    });
  }
}

/** Keys at rest for levels between controls that turn now: in the other figure they are not there. */
function restBetween(
  to: Skeleton,
  turning: ReadonlyMap<number, number>,
  matched: ReadonlySet<number>,
  curves: Record<ChannelKey, Curve>,
): string[] {
  const rested = new Set<number>();
  for (const at of turning.keys()) {
    const high = aboveWhere(to, at, (one) => turning.has(one));
    if (high < 0) continue;
    for (let one = to.parents[at]; one !== high; one = to.parents[one]) if (!matched.has(one)) rested.add(one);
  }
  return [...rested].map((one) => {
    const { id, channels } = to.controls[one];
    for (const channel of rotateChannels) if (channels.includes(channel)) curves[channelKey(id, channel)] ??= constantCurve(0);
    return id;
  });
}

/** Channels of controls that have no other here and are not bridged. */
function withoutPlace(
  { curves }: Clip,
  from: Skeleton,
  found: ReadonlyMap<number, number>,
  isBridged: (i: number) => boolean,
): ChannelKey[] {
  return Object.keys(curves).filter((key) => {
    const i = from.index.get(splitChannelKey(key).control);
    return i === undefined || (!found.has(i) && !isBridged(i));
  });
}

function inOrder(rig: Rig, curves: Readonly<Record<ChannelKey, Curve>>): Record<ChannelKey, Curve> {
  const keys = rig.controls.flatMap(({ id, channels }) => channels.map((channel) => channelKey(id, channel)));
  return Object.fromEntries(keys.flatMap((key) => (key in curves ? [[key, curves[key]]] : [])));
}
