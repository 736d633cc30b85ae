import { type Curve, type Key, keysOf, makeKey, Tangent } from "../../curve/curve.ts";
import { curveFromSamples } from "../../curve/bakeValues.ts";
import { constantCurve, curveFromKeys, curveKeeping } from "../../curve/make.ts";
import { withoutRedundant } from "../../curve/redundant.ts";
import { activePasses } from "../../passes/active.ts";
import { steppingPass } from "../../passes/stepping.ts";
import { allCurves } from "../../model/shotFields.ts";
import { makePlayer } from "../../evaluate/makePlayer.ts";
import { placeIn } from "../../figure/placeIn.ts";
import { scaleAt } from "../../figure/rigLayout.ts";
import { channelKey, type Control, restValue, transformChannels } from "../../model/rig.ts";
import type { Shot } from "../../model/shot.ts";

/** Less than this is rounding. */
const NOTHING = 1e-11;
/** How far beside a key its slope is looked at, in frames. */
const BESIDE = 1e-3;

/** What is baked, and how. */
export interface BakeTold {
  readonly controls: readonly Control[];
  /** The frames that get keys, rising. */
  readonly times: Float64Array;
  /** They are all the frames of the range: keys are linear. Else they have the slope of the motion. */
  readonly isDense: boolean;
  /** Frames just before which the motion may jump by what was held up to them: the way there is straight. */
  readonly jumps: ReadonlySet<number>;
  /** By control: writes the matrix in which its keys are told, for the figure as it is posed. */
  readonly frames: readonly ((out: Float64Array, worlds: Float64Array) => void)[];
}

/**
 * Give controls keys in base motion with which they stand where a shot has them, all passes, constraints and timing
 * counted in: `after` is the shot without what was baked. Keys they had outside the frames are told anew where they stand.
 * Yields the share done.
 */
export function* bakeMatrices(before: Shot, after: Shot, { controls, times, isDense, jumps, frames }: BakeTold): Generator<number, Shot> {
  const player = makePlayer(before);
  const frame = new Float64Array(16);
  const out: number[] = new Array(9).fill(0);
  const beyond = isDense ? outsideTimes(before, controls, times) : new Float64Array(0);
  const all = Float64Array.from([...times, ...beyond]).sort();
  const make = () => controls.map(() => transformChannels.map(() => new Float64Array(all.length)));
  const [at, earlier, later] = [make(), ...(isDense ? [] : [make(), make()])];
  // What is held until the next frame would be on its way there between the two.
  const leaving = isDense && mayHold(before) ? make() : null;
  const near = controls.map(() => new Float64Array(9));
  const scales = controls.map(() => new Float64Array(3));
  const places = controls.map(({ id }) => player.controlIndex.get(id) as number);
  const read = (time: number, n: number, into: Float64Array[][]) => {
    player.readValues(time);
    for (let c = 0; c < places.length; c++) for (let k = 0; k < 3; k++) scales[c][k] = player.values[scaleAt(places[c]) + k];
    player.pose(time);
    for (let c = 0; c < places.length; c++) {
      frames[c](frame, player.worlds);
      placeIn(out, frame, player.worlds, places[c], controls[c], near[c], scales[c]);
      for (let k = 0; k < 9; k++) into[c][k][n] = out[k];
    }
  };
  for (let n = 0; n < all.length; n++) {
    read(all[n], n, at);
    if (earlier) {
      for (let c = 0; c < controls.length; c++) near[c].set(at[c].map((column) => column[n]));
      read(all[n] - BESIDE, n, earlier);
      read(all[n] + BESIDE, n, later);
    }
    for (let c = 0; c < controls.length; c++) for (let k = 0; k < 9; k++) near[c][k] = at[c][k][n];
    if (leaving && n + 1 < all.length) read(all[n + 1] - BESIDE, n, leaving);
    if (n % 64 === 63) yield n / all.length;
  }
  const base = { ...after.base };
  const channels = new Map<string, string[]>();
  controls.forEach((control, c) => {
    const names = new Set(control.channels);
    transformChannels.forEach((channel, k) => {
      const key = channelKey(control.id, channel);
      const values = at[c][k];
      // What was never keyed and stays as it rests needs no keys.
      const rest = restValue(channel);
      if (before.base[key] === undefined && values.every((value) => Math.abs(value - rest) < NOTHING)) return;
      base[key] = isDense
        ? denseCurve(times, all, values, leaving?.[c][k] ?? null)
        : slopedCurve(before.base[key], all, values, earlier[c][k], later[c][k], jumps);
      names.add(channel);
    });
    channels.set(control.id, [...names]);
  });
  const rig = {
    ...after.rig,
    controls: after.rig.controls.map((control) => {
      const names = channels.get(control.id);
      return names && names.length > control.channels.length ? { ...control, channels: names } : control;
    }),
  };
  return { ...after, rig, base };
}

/** Times of keys outside the frames that are baked. */
function outsideTimes(shot: Shot, controls: readonly Control[], times: Float64Array): Float64Array {
  const [first, last] = [times[0], times[times.length - 1]];
  const found = new Set<number>();
  for (const { id } of controls)
    for (const channel of transformChannels) {
      const curve = shot.base[channelKey(id, channel)];
      if (curve && curve.times.length > 1) for (const time of curve.times) if (time < first - 1e-6 || time > last + 1e-6) found.add(time);
    }
  return Float64Array.from(found);
}

/** Does anything in a shot hold and then jump? */
function mayHold(shot: Shot): boolean {
  const holds = ({ kindIn, kindOut }: Curve) => kindOut.includes(Tangent.stepped) || kindIn.includes(Tangent.stepped);
  return activePasses(shot).some(({ kind }) => kind === steppingPass.id) || allCurves(shot).some(([, curve]) => holds(curve));
}

/** Is a value held until right before the next frame, and another one there? */
const isHeld = (value: number, leaving: number, next: number): boolean =>
  Math.abs(next - leaving) > 0.5 * Math.abs(next - value) && Math.abs(next - value) > 1e-9;

function denseCurve(times: Float64Array, all: Float64Array, values: Float64Array, leaving: Float64Array | null): Curve {
  const held = leaving && values.some((value, n) => n + 1 < values.length && isHeld(value, leaving[n], values[n + 1])) ? leaving : null;
  if (held) {
    const keys = Array.from(all, (time, n) =>
      makeKey(time, values[n], n + 1 < all.length && isHeld(values[n], held[n], values[n + 1]) ? Tangent.stepped : Tangent.linear),
    );
    const curve = curveFromKeys(keys);
    return withoutRedundant(curve, [...keys.keys()], 0);
  }
  if (all.length === times.length) return curveFromSamples(times[0], values);
  if (values.every((value) => value === values[0])) return constantCurve(values[0], times[0]);
  return curveFromKeys(Array.from(all, (time, n) => makeKey(time, values[n], Tangent.linear)));
}

/** Keys with the slopes of the motion; where a key of the curve held, and the motion still does, it holds. */
function slopedCurve(
  given: Curve | undefined,
  times: Float64Array,
  values: Float64Array,
  earlier: Float64Array,
  later: Float64Array,
  jumps: ReadonlySet<number>,
): Curve {
  if (values.every((value) => value === values[0]) && later.every((value) => value === values[0]))
    return constantCurve(values[0], times[0]);
  const held = new Set(
    given
      ? keysOf(given)
          .filter(({ kindOut }) => kindOut === Tangent.stepped)
          .map(({ time }) => time)
      : [],
  );
  const keys = Array.from(times, (time, n): Key => {
    const way = (to: number) => (values[to] - values[to - 1]) / (times[to] - times[to - 1]);
    const slopeIn = jumps.has(time) && n > 0 ? way(n) : (values[n] - earlier[n]) / BESIDE;
    const slopeOut = n + 1 < times.length && jumps.has(times[n + 1]) ? way(n + 1) : (later[n] - values[n]) / BESIDE;
    const isOne = Math.abs(slopeIn - slopeOut) <= 0.02 * (Math.abs(slopeIn) + Math.abs(slopeOut));
    const both = (slopeIn + slopeOut) / 2;
    return {
      ...makeKey(time, values[n], Tangent.free),
      slopeIn: isOne ? both : slopeIn,
      slopeOut: isOne ? both : slopeOut,
      kindOut: held.has(time) && slopeOut === 0 ? Tangent.stepped : Tangent.free,
    };
  });
  return curveKeeping(keys);
}
