import { besides, slopedKey } from "../../curve/besides.ts";
import { type Curve, type Key, makeKey, Tangent } from "../../curve/curve.ts";
import { constantCurve, curveFromKeys, curveKeeping } from "../../curve/make.ts";
import { placesOf, unionOfTimes } from "../../curve/timeRows.ts";
import { sampleCurve } from "../../curve/track.ts";
import { moveAt, worldAt } from "../../figure/rigLayout.ts";
import { DEG, eulerFromQuat, nearestEuler, quatAngle, quatFromEuler, quatMultiply, type RotationOrder } from "../../maths/rotation.ts";
import { turnVector } from "../../maths/vector.ts";
import type { Clip } from "../../model/clip.ts";
import { type ChannelKey, channelKey, moveChannels, rotateChannels } from "../../model/rig.ts";
import { pathTo, type Skeleton } from "../../figure/anatomy/skeleton.ts";
import { type ClipReader, clipReader } from "./clipReader.ts";
import { type RestPoses, restTurns, turnFrom } from "./restPoses.ts";

/** A control that takes the motion of another in its own terms. Indices in their skeletons. */
export interface Told {
  readonly from: number;
  readonly to: number;
  /** The curves of the clip that its motion comes from. */
  readonly curves: readonly Curve[];
  /** It turns, and not only moves. */
  readonly turns: boolean;
  /** It moves: from a place in the world, or within what it hangs on. */
  readonly moves: "world" | "within" | null;
}

/** How the world of the one figure lies in that of the other. */
export interface Ground {
  readonly ratio: number;
  /** Heights of the ground under each, scene units. */
  readonly from: number;
  readonly to: number;
}

/** Two figures laid over each other. */
export interface Fitting {
  readonly from: Skeleton;
  readonly to: Skeleton;
  readonly rests: RestPoses;
  readonly ground: Ground;
  /** By control that gets a turn of another, in whatever way: that other. */
  readonly turning: ReadonlyMap<number, number>;
}

/** Turns may differ by so much between keys (degrees), and places by this share of how far they go. */
const NEAR_TURN = 0.5;
const NEAR_PLACE = 0.005;
/** Keys are put in between in so many rounds at the most. */
const ROUNDS = 12;

/**
 * Give controls the motion of others: their turns in the world from how they rest are carried over (turns from rest, as
 * in Gleicher 1998, "Retargetting Motion to New Characters"; from memory), told under whatever the one that takes them
 * hangs on. Keys stand where the curves they come from have them, and on frames in between where the motion would differ.
 * Curves by channel of the one that takes them.
 */
export function tellAnew(clip: Clip, given: Fitting, told: readonly Told[]): Record<ChannelKey, Curve> {
  const { to } = given;
  const rows = told.map(({ curves }) => unionOfTimes(curves.map(({ times }) => times)));
  const whole = Float64Array.from({ length: Math.ceil(clip.length) + 1 }, (_, n) => Math.min(n, clip.length));
  const frames = unionOfTimes([unionOfTimes(rows), whole]);
  const truth = readAll(given, told, clip, frames);
  const curves: Record<ChannelKey, Curve> = {};
  told.forEach((one, n) => {
    const { id, order } = to.controls[one.to];
    const keyed = new Set<number>();
    placesOf(rows[n], frames, (at) => {
      keyed.add(at);
    });
    const make = makerFor(one, rows[n], clip, frames, truth, n);
    let made = make(keyed);
    for (let round = 0; round < ROUNDS; round++) {
      const missing = worstBetween(made, keyed, frames, truth.at(n), order);
      if (missing.length === 0) break;
      for (const at of missing) keyed.add(at);
      made = make(keyed);
    }
    if (one.moves) for (const [k, channel] of moveChannels.entries()) curves[channelKey(id, channel)] = made[k];
    if (one.turns) for (const [k, channel] of rotateChannels.entries()) curves[channelKey(id, channel)] = made[k + 3];
  });
  return curves;
}

/** What all that is told has at times: six numbers each. */
interface Truth {
  /** Of one at all frames, six numbers a frame. */
  at(n: number): Float64Array;
  /** Of all, beside a frame, near what they have at it. */
  beside(time: number, at: number): readonly Float64Array[];
}

function readAll(given: Fitting, told: readonly Told[], clip: Clip, frames: Float64Array): Truth {
  const reader = makeReader(given, told, clipReader(clip));
  const rows = told.map(() => new Float64Array(6 * frames.length));
  const room = told.map(() => new Float64Array(6));
  const near = told.map(() => new Float64Array(3));
  frames.forEach((time, at) => {
    reader(time, near, room);
    rows.forEach((row, n) => {
      row.set(room[n], 6 * at);
      near[n].set(room[n].subarray(3));
    });
  });
  const known = new Map<number, readonly Float64Array[]>();
  return {
    at: (n) => rows[n],
    beside(time, at) {
      let found = known.get(time);
      if (!found) {
        const out = told.map(() => new Float64Array(6));
        reader(
          time,
          rows.map((row) => row.subarray(6 * at + 3, 6 * at + 6)),
          out,
        );
        found = out;
        known.set(time, found);
      }
      return found;
    },
  };
}

type Maker = (keyed: ReadonlySet<number>) => Curve[];

/** Makes the six curves of one that is told, with keys at some of the frames. */
function makerFor({ curves }: Told, row: Float64Array, clip: Clip, frames: Float64Array, truth: Truth, n: number): Maker {
  const values = truth.at(n);
  const isDense = row.length > 0.7 * clip.length && row.length > 2;
  const steps = curves.every((curve) => curve.kindOut.every((kind) => kind === Tangent.stepped));
  return (keyed) => {
    const places = [...keyed].sort((a, b) => a - b);
    return Array.from({ length: 6 }, (_, k) => {
      const keys = places.map((at): Key => {
        const [time, value] = [frames[at], values[6 * at + k]];
        if (isDense) return makeKey(time, value, Tangent.linear);
        if (steps) return { ...makeKey(time, value, Tangent.flat), kindOut: Tangent.stepped };
        return slopedKey(
          time,
          value,
          besides(time).map((beside) => truth.beside(beside, at)[n][k]),
        );
      });
      const [first] = keys;
      const isStill = keys.every(({ value, slopeIn, slopeOut }) => value === first.value && (isDense || (slopeIn === 0 && slopeOut === 0)));
      if (isStill) return constantCurve(first.value, first.time);
      return isDense ? curveFromKeys(keys) : curveKeeping(keys);
    });
  };
}

/** Of each gap between keys the frame where the curves differ the most, where that is too much. */
function worstBetween(
  curves: readonly Curve[],
  keyed: ReadonlySet<number>,
  frames: Float64Array,
  truth: Float64Array,
  order: RotationOrder,
): number[] {
  const reach = [0, 1, 2].map((k) => {
    const column = Array.from(frames, (_, at) => truth[6 * at + k]);
    return Math.max(...column) - Math.min(...column);
  });
  const most = NEAR_PLACE * Math.max(...reach);
  const [a, b] = [new Float64Array(4), new Float64Array(4)];
  const [first, last] = [Math.min(...keyed), Math.max(...keyed)];
  const missing: number[] = [];
  let worst = { at: -1, off: 1 };
  for (let at = first; at <= last; at++) {
    if (keyed.has(at)) {
      if (worst.at >= 0) missing.push(worst.at);
      worst = { at: -1, off: 1 };
      continue;
    }
    const [x, y, z, ...angles] = curves.map((curve) => sampleCurve(curve, frames[at]));
    const o = 6 * at;
    quatFromEuler(a, 0, angles[0] * DEG, angles[1] * DEG, angles[2] * DEG, order);
    quatFromEuler(b, 0, truth[o + 3] * DEG, truth[o + 4] * DEG, truth[o + 5] * DEG, order);
    const away = Math.hypot(x - truth[o], y - truth[o + 1], z - truth[o + 2]);
    const off = Math.max(quatAngle(a, 0, b, 0) / NEAR_TURN, most > 0 ? away / most : 0);
    if (off > worst.off) worst = { at, off };
  }
  return missing;
}

type Reader = (time: number, near: readonly Float64Array[], out: readonly Float64Array[]) => void;

/** Writes moves and angles (degrees, near others) of all that is told at a time, six numbers each. */
function makeReader(given: Fitting, told: readonly Told[], reader: ClipReader): Reader {
  const { from, to, rests, ground } = given;
  const [restFrom, restTo] = [restTurns(from), restTurns(to)];
  const turns = new Float64Array(restTo.length);
  const place = new Map(told.map(({ to: i }, n) => [i, n]));
  const needed = withAbove(to, [...place.keys()]);
  const [q, base, euler] = [new Float64Array(4), new Float64Array(4), new Float64Array(3)];
  const isInWorld = told.some(({ moves }) => moves === "world");
  return (time, near, out) => {
    reader.read(time);
    const theirs = reader.turns();
    const worlds = isInWorld ? reader.worlds() : null;
    for (const i of needed) {
      const { order, restTurn } = to.controls[i];
      base.set(restTurn);
      if (to.parents[i] >= 0) quatMultiply(base, 0, turns, 4 * to.parents[i], base, 0);
      const source = given.turning.get(i);
      if (source === undefined) turns.set(base, 4 * i);
      else carriedTurn(turns, i, theirs, source);
      const n = place.get(i);
      if (n === undefined) continue;
      if (told[n].turns) {
        turnFrom(q, 0, base, 0, turns, 4 * i);
        eulerFromQuat(euler, 0, q, 0, order);
        for (let k = 0; k < 3; k++) euler[k] /= DEG;
        out[n].set(nearestEuler(euler, near[n], order), 3);
      }
      if (told[n].moves === "world" && worlds) placeInWorld(out[n], i, worlds, told[n].from);
      else if (told[n].moves === "within") moveWithin(out[n], i, told[n].from);
    }
  };

  /** heading · (the other's turn from its rest) · heading⁻¹ · limb · (own turn at rest) */
  function carriedTurn(out: Float64Array, i: number, theirs: Float64Array, source: number): void {
    conjugate(q, 0, restFrom, 4 * source);
    quatMultiply(q, 0, theirs, 4 * source, q, 0);
    quatMultiply(q, 0, rests.heading, 0, q, 0);
    quatMultiply(q, 0, q, 0, conjugate(euler4, 0, rests.heading, 0), 0);
    const limb = rests.limbs.get(i);
    if (limb) quatMultiply(q, 0, q, 0, limb, 0);
    quatMultiply(out, 4 * i, q, 0, restTo, 4 * i);
  }

  /** Moves with which a control, under what rests above it, stands where the other does, in its own world's size. */
  function placeInWorld(out: Float64Array, i: number, worlds: Float64Array, source: number): void {
    const o = worldAt(source) + 12;
    const rest = to.place(i);
    for (let k = 0; k < 3; k++) out[k] = worlds[o + k] - (k === 1 ? ground.from : 0);
    turnVector(out, 0, rests.heading, 0, out, 0);
    for (let k = 0; k < 3; k++) out[k] = ground.ratio * out[k] + (k === 1 ? ground.to : 0) - rest[k];
    if (to.parents[i] >= 0) turnVector(out, 0, conjugate(q, 0, restTo, 4 * to.parents[i]), 0, out, 0);
  }

  function moveWithin(out: Float64Array, i: number, source: number): void {
    for (let k = 0; k < 3; k++) out[k] = ground.ratio * reader.values[moveAt(source) + k];
    if (from.parents[source] >= 0) turnVector(out, 0, restFrom, 4 * from.parents[source], out, 0);
    turnVector(out, 0, rests.heading, 0, out, 0);
    if (to.parents[i] >= 0) turnVector(out, 0, conjugate(q, 0, restTo, 4 * to.parents[i]), 0, out, 0);
  }
}

const euler4 = new Float64Array(4);

function conjugate(out: Float64Array, o: number, q: Float64Array, qo: number): Float64Array {
  for (let k = 0; k < 3; k++) out[o + k] = -q[qo + k];
  out[o + 3] = q[qo + 3];
  return out;
}

/** Controls with all that stand above them, those above first. */
function withAbove(skeleton: Skeleton, wanted: readonly number[]): number[] {
  return [...new Set(wanted.flatMap((i) => pathTo(skeleton, i)))].sort((a, b) => a - b);
}
