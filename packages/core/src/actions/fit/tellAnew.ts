import { type Curve, type Key, makeKey, Tangent } from "../../curve/curve.ts";
import { constantCurve, curveFromKeys, curveKeeping } from "../../curve/make.ts";
import { unionOfTimes } from "../../curve/timeRows.ts";
import { moveAt, worldAt } from "../../figure/rigLayout.ts";
import { DEG, eulerFromQuat, nearestEuler, quatMultiply } from "../../maths/rotation.ts";
import { turnVector } from "../../maths/vector.ts";
import type { Clip } from "../../model/clip.ts";
import { type ChannelKey, channelKey, moveChannels, rotateChannels } from "../../model/rig.ts";
import { pathTo, type Skeleton } from "../skeleton.ts";
import { type ClipPoser, clipPoser } from "./clipPoser.ts";
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

/** How far beside a key its slope is looked at, in frames. */
const BESIDE = 1e-3;

/**
 * Give controls the motion of others: their turns in the world from how they rest are carried over (Gleicher 1998, section
 * 3, by the same turns from rest), told under whatever the one that takes them hangs on. Keys stand where the curves they
 * come from have them. Curves by channel of the one that takes them.
 */
export function tellAnew(clip: Clip, given: Fitting, told: readonly Told[]): Record<ChannelKey, Curve> {
  const { to } = given;
  const reader = makeReader(given, told, clipPoser(clip));
  const rows = told.map(({ curves }) => unionOfTimes(curves.map(({ times }) => times)));
  const wanted = unionOfTimes(rows);
  const frames = unionOfTimes([wanted, Float64Array.from({ length: Math.ceil(clip.length) + 1 }, (_, n) => Math.min(n, clip.length))]);
  const near = told.map(() => new Float64Array(3));
  const keys = told.map(() => Array.from({ length: 6 }, (): Key[] => []));
  const [at, before, after] = [0, 1, 2].map(() => told.map(() => new Float64Array(6)));
  const places = rows.map(() => 0);
  const dense = rows.map((row) => row.length > 0.7 * clip.length && row.length > 2);
  const steps = told.map(({ curves }) => curves.every((curve) => curve.kindOut.every((kind) => kind === Tangent.stepped)));
  for (const time of frames) {
    reader(time, near, at);
    const due = told.map((_, n) => rows[n][places[n]] === time);
    if (due.some((is, n) => is && !dense[n] && !steps[n])) {
      const turned = at.map((row) => row.subarray(3));
      reader(time - BESIDE, turned, before);
      reader(time + BESIDE, turned, after);
    }
    told.forEach((_, n) => {
      near[n].set(at[n].subarray(3));
      if (!due[n]) return;
      places[n]++;
      for (let k = 0; k < 6; k++) {
        const value = at[n][k];
        if (dense[n]) keys[n][k].push(makeKey(time, value, Tangent.linear));
        else if (steps[n]) keys[n][k].push({ ...makeKey(time, value, Tangent.flat), kindOut: Tangent.stepped });
        else keys[n][k].push(slopedKey(time, value, before[n][k], after[n][k]));
      }
    });
  }
  const curves: Record<ChannelKey, Curve> = {};
  told.forEach(({ to: i, turns, moves }, n) => {
    const { id } = to.controls[i];
    const put = (channel: string, k: number) => {
      const list = keys[n][k];
      const still = list.every(
        ({ value, slopeIn, slopeOut }) => value === list[0].value && (dense[n] || (slopeIn === 0 && slopeOut === 0)),
      );
      curves[channelKey(id, channel)] = still
        ? constantCurve(list[0].value, list[0].time)
        : dense[n]
          ? curveFromKeys(list)
          : curveKeeping(list);
    };
    if (moves) for (const [k, channel] of moveChannels.entries()) put(channel, k);
    if (turns) for (const [k, channel] of rotateChannels.entries()) put(channel, k + 3);
  });
  return curves;
}

/** Slopes smaller than this are rounding. */
const NOTHING = 1e-9;

function slopedKey(time: number, value: number, before: number, after: number): Key {
  const clean = (slope: number) => (Math.abs(slope) < NOTHING ? 0 : slope);
  const [slopeIn, slopeOut] = [clean((value - before) / BESIDE), clean((after - value) / BESIDE)];
  const isOne = Math.abs(slopeIn - slopeOut) <= 0.02 * (Math.abs(slopeIn) + Math.abs(slopeOut));
  const both = (slopeIn + slopeOut) / 2;
  return { ...makeKey(time, value, Tangent.free), slopeIn: isOne ? both : slopeIn, slopeOut: isOne ? both : slopeOut };
}

type Reader = (time: number, near: readonly Float64Array[], out: readonly Float64Array[]) => void;

/** Writes moves and angles (degrees, near others) of all that is told at a time, six numbers each. */
function makeReader(given: Fitting, told: readonly Told[], poser: ClipPoser): Reader {
  const { from, to, rests, ground } = given;
  const [restFrom, restTo] = [restTurns(from), restTurns(to)];
  const turns = new Float64Array(restTo.length);
  const place = new Map(told.map(({ to: i }, n) => [i, n]));
  const needed = withAbove(to, [...place.keys()]);
  const [q, base, euler] = [new Float64Array(4), new Float64Array(4), new Float64Array(3)];
  const isInWorld = told.some(({ moves }) => moves === "world");
  return (time, near, out) => {
    poser.read(time);
    const theirs = poser.turns();
    const worlds = isInWorld ? poser.worlds() : null;
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
    for (let k = 0; k < 3; k++) out[k] = ground.ratio * poser.values[moveAt(source) + k];
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
