import { type Curve, type Key, keyAt, keyOn, makeKey, Tangent, type TangentKind } from "../../curve/curve.ts";
import { insertKeysOn } from "../../curve/edit.ts";
import { constantCurve, curveKeeping } from "../../curve/make.ts";
import { unionOfTimes } from "../../curve/timeRows.ts";
import { activeConstraints } from "../../constraints/activeConstraints.ts";
import { tiesOf } from "../../constraints/ledControls.ts";
import { space } from "../../constraints/space.ts";
import { makeLiveLayer } from "../../evaluate/liveLayer.ts";
import { approach } from "../../maths/leastSquares.ts";
import { makePlayer } from "../../evaluate/makePlayer.ts";
import { KneaderError } from "../../errors.ts";
import { placeIn } from "../../figure/placeIn.ts";
import { moveAt, scaleAt } from "../../figure/rigLayout.ts";
import { channelKey, type Control, controlById, restValue, splitChannelKey, transformChannels } from "../../model/rig.ts";
import { BASE, type Shot } from "../../model/shot.ts";
import { activePasses } from "../../passes/active.ts";
import { timedKind } from "../../passes/kinds.ts";
import { changedBy } from "../../passes/members.ts";
import { liveResult } from "../shared/keyResult.ts";

/** Less than this is rounding. */
const NOTHING = 1e-11;
/** How far beside a key its slope is looked at, in frames. */
const BESIDE = 1e-3;

/** Writes the frame (an affine matrix) in which a control's channels will be told at a frame, for the figure as it is posed there. */
type FrameAt = (out: Float64Array, worlds: Float64Array, frame: number) => void;

/** What is to be told anew of one control. */
export interface Carried {
  readonly control: string;
  /** Is what its channels say at a frame told anew? Elsewhere curves stay. */
  changes(frame: number): boolean;
  /** In what its channels are told from now on. */
  frameAt: FrameAt;
  /** Frames that get a key, besides those there are. */
  readonly keyed: readonly number[];
  /** Of these frames the pose is held until the next key. */
  readonly held: ReadonlySet<number>;
  /** Frames at which a hold that was there is one no longer. */
  readonly freed?: ReadonlySet<number>;
  /** Frames just before which the motion jumped by what was held up to them: the way there is straight. */
  readonly jumps?: ReadonlySet<number>;
  /** The motion there is linear from key to key, as where every frame has one. */
  readonly linear?: boolean;
}

/**
 * Tell a control's move, rotate and (where they change) scale curves of base motion anew, so that at every key it stands in
 * `after` where it stands in `before`, all passes that are on together; `after` has its constraints as they will be. Passes
 * that hold or warp time play over it as they did. Yields the share done. Errors: `bad-setting` where a pass leaves base
 * motion no say.
 */
export function* carryKeys(before: Shot, after: Shot, carried: Carried): Generator<number, Shot> {
  const control = controlById(before.rig, carried.control) as Control;
  const [was, will] = [untimed(before), untimed(after)];
  const player = makePlayer(was);
  const index = player.controlIndex.get(control.id) as number;
  const keys = transformChannels.map((channel) => channelKey(control.id, channel));
  const steady = Math.min(before.range.start, ...carried.keyed);
  const given = keys.map((key, k): Curve => before.base[key] ?? constantCurve(restValue(transformChannels[k]), steady));
  const times = unionOfTimes([
    ...given.filter((curve, k) => before.base[keys[k]] && curve.times.length > 1).map((curve) => curve.times),
    Float64Array.from(carried.keyed).sort(),
  ]);
  const ledOtherwise = activeConstraints(will).some((one) => one.kind !== space.id && tiesOf(one).writes.includes(control.id));
  const pass = activePasses(will).findLast((one) => changedBy(will, one).some((key) => keys.includes(key)));
  const frame = new Float64Array(16);
  const near = new Float64Array(9);
  const told: number[] = new Array(9).fill(0);
  const valuesAt = (time: number): number[] => {
    player.pose(time);
    carried.frameAt(frame, player.worlds, time);
    player.readValues(time);
    const scale = player.values.subarray(scaleAt(index), scaleAt(index) + 3);
    const result = placeIn(told, frame, player.worlds, index, control, near, scale);
    const had = [...player.values.subarray(moveAt(index), moveAt(index) + 9)];
    const own = ledOtherwise
      ? settled(will, keys, time, [[...result], had, [...near], mixed(result, had)], player.worlds.slice(16 * index, 16 * index + 16))
      : result;
    near.set(own);
    return pass ? baseFor(will, keys, time, own, pass.name) : [...own];
  };
  const rows: { time: number; at: number[]; before: number[]; after: number[] }[] = [];
  const turned = moveAt(index) + 3;
  for (const [n, time] of times.entries()) {
    if (!carried.changes(time)) continue;
    if (rows.length === 0) {
      player.readValues(time);
      for (let k = 0; k < 3; k++) near[3 + k] = player.values[turned + k];
    }
    const at = valuesAt(time);
    const beside = (by: number) => (carried.linear || !carried.changes(time + by) ? at : valuesAt(time + by));
    rows.push({ time, at, before: beside(-BESIDE), after: beside(BESIDE) });
    if (n % 32 === 31) yield n / times.length;
  }
  const base = { ...after.base };
  for (const [k, key] of keys.entries()) {
    // What was never keyed and stays as it rests needs no keys, nor does a scale that stays the same.
    if (before.base[key] === undefined && rows.every(({ at }) => Math.abs(at[k] - given[k].values[0]) < NOTHING)) continue;
    if (k >= 6 && given[k].times.length === 1 && rows.every(({ at }) => at[k] === given[k].values[0])) continue;
    base[key] = toldAnew(given[k], times, carried, rows, k);
  }
  const channels = [...new Set([...control.channels, ...transformChannels.filter((_, k) => base[keys[k]] !== undefined)])];
  const controls = after.rig.controls.map((one) =>
    one.id === control.id && channels.length > one.channels.length ? { ...one, channels } : one,
  );
  const rig = controls.some((one, i) => one !== after.rig.controls[i]) ? { ...after.rig, controls } : after.rig;
  return { ...after, rig, base };
}

/** One curve with the values of its keys told anew where they change. */
function toldAnew(
  given: Curve,
  times: Float64Array,
  { changes, held, freed, jumps, linear }: Carried,
  rows: readonly { time: number; at: number[]; before: number[]; after: number[] }[],
  k: number,
): Curve {
  const wide = insertKeysOn(given, times);
  const isOn = (set: ReadonlySet<number> | undefined, time: number) =>
    set !== undefined && [...set].some((one) => Math.abs(one - time) < 1e-6);
  const keys: Key[] = [];
  let n = 0;
  // Places of the keys that are told anew; the others stay as they are, broken tangents and all.
  const told: number[] = [];
  for (let i = 0; i < wide.times.length; i++) {
    const key = keyAt(wide, i);
    while (n < rows.length && rows[n].time < key.time - 1e-6) n++;
    const row = n < rows.length && Math.abs(rows[n].time - key.time) < 1e-6 ? rows[n] : null;
    const hold = isOn(held, key.time);
    if (row === null) {
      if (hold) keys.push({ ...key, kindOut: Tangent.stepped });
      else if (isOn(freed, key.time)) keys.push({ ...key, kindOut: Tangent.free, slopeOut: key.slopeIn });
      else keys.push(key);
      continue;
    }
    told.push(keys.length);
    const original = keyOn(given, key.time);
    const stays = original >= 0 && given.kindOut[original] === Tangent.stepped && !isOn(freed, key.time);
    const kind: TangentKind = linear ? Tangent.linear : Tangent.free;
    keys.push({
      ...makeKey(key.time, row.at[k], kind),
      slopeIn: (row.at[k] - row.before[k]) / BESIDE,
      slopeOut: (row.after[k] - row.at[k]) / BESIDE,
      kindOut: hold || stays ? Tangent.stepped : kind,
    });
  }
  if (told.length === 0 && keys.every((key, i) => key.kindOut === wide.kindOut[i])) return given;
  // Where both sides have the same slope the tangent is unbroken; beside a hold or what stays only one side counts.
  const way = (i: number) => (keys[i].value - keys[i - 1].value) / (keys[i].time - keys[i - 1].time);
  for (const i of told) {
    const key = keys[i];
    if (linear) {
      if (i > 0) key.slopeIn = way(i);
      if (i < keys.length - 1) key.slopeOut = way(i + 1);
      continue;
    }
    if (key.kindIn !== Tangent.free || key.kindOut !== Tangent.free) continue;
    const { slopeIn, slopeOut } = key;
    if (i === 0 || keys[i - 1].kindOut === Tangent.stepped || !changes(key.time - BESIDE)) key.slopeIn = slopeOut;
    else if (i === keys.length - 1 || !changes(key.time + BESIDE)) key.slopeOut = slopeIn;
    else if (Math.abs(slopeIn - slopeOut) <= 0.02 * (Math.abs(slopeIn) + Math.abs(slopeOut)))
      key.slopeIn = key.slopeOut = (slopeIn + slopeOut) / 2;
  }
  for (const i of told) {
    if (i === 0 || linear || !isOn(jumps, keys[i].time)) continue;
    const [from, to] = [keys[i - 1], keys[i]];
    if (from.kindOut === Tangent.free && to.kindIn === Tangent.free) from.slopeOut = to.slopeIn = way(i);
  }
  return curveKeeping(keys, given);
}

/** The shot as its own keys play, at no other frames. */
function untimed(shot: Shot): Shot {
  return shot.passes.some(({ kind }) => timedKind(kind)) ? { ...shot, passes: shot.passes.filter(({ kind }) => !timedKind(kind)) } : shot;
}

/** Half-way between two sets of values. */
const mixed = (a: readonly number[], b: readonly number[]) => a.map((value, k) => (value + b[k]) / 2);

const ROUNDS = 60;
const THERE = 1e-12;

/**
 * The values with which a control that other constraints lead as well stands where it is wanted, looked for from those with
 * which it would without them and from those it had. Answers the nearest it came to.
 */
function settled(
  shot: Shot,
  keys: readonly string[],
  frame: number,
  starts: readonly (readonly number[])[],
  wanted: ArrayLike<number>,
): number[] {
  // As the values come out of all passes, which are left out here.
  const live = makeLiveLayer(BASE, keys);
  const player = makePlayer({ ...shot, passes: [] }, { live, only: [splitChannelKey(keys[0]).control] });
  const o = 16 * (player.controlIndex.get(splitChannelKey(keys[0]).control) as number);
  const rows = [0, 1, 2, 4, 5, 6, 8, 9, 10, 12, 13, 14];
  const at = (values: ArrayLike<number>): number[] => {
    live.put(frame, values);
    player.pose(frame);
    return rows.map((k) => player.worlds[o + k]);
  };
  const goal = rows.map((k) => wanted[k]);
  const near = THERE * (Math.hypot(...goal) + 1);
  const away = (values: ArrayLike<number>) => Math.hypot(...at(values).map((value, k) => value - goal[k]));
  let best = Float64Array.from(starts[0]);
  let least = Number.POSITIVE_INFINITY;
  for (let n = 0; n < starts.length + 3; n++) {
    // Where it got stuck beside the goal it starts again from the best it found, turned by a quarter.
    const values =
      n < starts.length ? Float64Array.from(starts[n]) : best.map((value, k) => (k === 3 + n - starts.length ? value + 90 : value));
    const slope = (from: Float64Array, i: number) => {
      const step = i >= 3 && i < 6 ? 1e-2 : 1e-4;
      const kept = from[i];
      from[i] = kept + step;
      const more = at(from);
      from[i] = kept - step;
      const less = at(from);
      from[i] = kept;
      return more.map((value, k) => (value - less[k]) / (2 * step));
    };
    approach(values, { goal, at, slope, free: [0, 1, 2, 3, 4, 5, 6, 7, 8], share: () => 1, near, rounds: ROUNDS });
    const left = away(values);
    if (left < least) [best, least] = [values, left];
    if (left <= 1e3 * near) break;
  }
  return [...best];
}

/** What base motion must have at a frame for all passes together to come out as wanted. */
function baseFor(shot: Shot, keys: readonly string[], frame: number, wanted: readonly number[], pass: string): number[] {
  const live = liveResult(shot, BASE, frame, keys);
  if (!live.aim(Object.fromEntries(keys.map((key, k) => [key, wanted[k]]))))
    throw new KneaderError(
      "bad-setting",
      `Pass "${pass}" leaves base motion no say at frame ${frame}, so its keys cannot keep the pose.`,
      "Bake or switch off that pass first.",
    );
  return [...live.own()];
}
