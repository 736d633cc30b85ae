import { type Curve, keyBefore, keyOn, Tangent, THIRD } from "../../curve/curve.ts";
import { sharedExtremes } from "../../curve/extremes.ts";
import { type FitInput, type FitResult, fitSamples, leastShare } from "../../curve/fit/fitSamples.ts";
import type { Fitter } from "../../curve/fit/fitter.ts";
import { constantCurve } from "../../curve/make.ts";
import { repeats } from "../../curve/runOn.ts";
import { keyedAtEnds, sealRange } from "../../curve/sealRange.ts";
import { settle } from "../../curve/tangents.ts";
import { sampleInto } from "../../curve/track.ts";
import { freedKind } from "../../curve/turn.ts";
import type { ChannelKey } from "../../model/rig.ts";
import { type Curves, layerCurves, type Shot } from "../../model/shot.ts";
import type { Scope } from "../operation.ts";
import { byControl } from "../shared/scope.ts";
import { type FitJob, fitJobs } from "./fitJobs.ts";

export interface FitChannels {
  readonly together: "control" | "figure" | "curve";
  readonly broken: boolean;
  /**
   * Put keys on the peaks and valleys that stand out by more than `PROMINENT` tolerances; not where the whole
   * figure shares its keys, as any curve's peak would key all of them.
   */
  readonly extremes: boolean;
  /** Frames at which keys are wanted whatever happens. */
  readonly keep: readonly number[];
  toleranceOf(channel: ChannelKey): number;
  /** The share of the tolerance that a channel has at frames from one on, where it has not all of it. */
  sharesOf?(channel: ChannelKey, start: number, count: number): Float64Array | undefined;
  /** Asked now and then with the share done; may throw to stop. */
  breathe(share: number): Promise<void> | void;
  /** Fits several groups at a time, where that can be had. */
  readonly fitter?: Fitter;
}

/**
 * How many tolerances a peak must stand out by to be given a key. At one, every wobble of a captured curve
 * is a peak and half of what was saved is lost; at four, what an animator would call a peak is one.
 */
const PROMINENT = 4;

export interface Fits {
  /** The curves that have fewer keys now. */
  readonly changed: Record<ChannelKey, Curve>;
  /** Channels left as they are, because they hold from key to key or have keys between frames. */
  readonly left: readonly ChannelKey[];
}

/**
 * Fit channels with the fewest keys within their tolerances. Stepped spans stay stepped: a curve that is
 * stepped in part is fitted between its holds, on its own.
 */
export async function fitChannels(shot: Shot, scope: Scope, channels: readonly ChannelKey[], how: FitChannels): Promise<Fits> {
  const curves = layerCurves(shot, scope.layer);
  const wanted =
    how.together === "curve" ? channels.map((key) => [key]) : how.together === "figure" ? [channels] : [...byControl(channels).values()];
  const groups = wanted.flatMap((group) => byCycle(group, curves));
  const changed: Record<ChannelKey, Curve> = {};
  const left: ChannelKey[] = [];
  const jobs: (FitJob & { readonly lay: (fit: FitResult) => void })[] = [];
  for (const group of groups) {
    await how.breathe(0);
    const span = groupSpan(
      group.map((key) => curves[key]),
      scope.range,
    );
    const moving: (FitInput & { key: ChannelKey })[] = [];
    /** A curve with the fitted keys, and outside them what it was. */
    const joined = (curve: Curve, fitted: Fitted): Curve => sealed(curve, joinFit(scope.range ? keyedAtEnds(curve, span) : curve, fitted));
    const sealed = (curve: Curve, next: Curve): Curve => {
      if (scope.range) return sealRange(keyedAtEnds(curve, span), next, span);
      const isStraight = curve.runIn.kind === "straight" || curve.runOut.kind === "straight";
      return isStraight ? sealRange(curve, next, EVERYWHERE) : next;
    };
    for (const key of group) {
      const curve = curves[key];
      const tolerance = how.toleranceOf(key);
      if (span.end <= span.start) continue;
      if (!hasWholeFrames(curve) || isStepped(curve)) {
        left.push(key);
        continue;
      }
      if (hasHolds(curve)) {
        const next = sealed(
          curve,
          await fitBetweenHolds(
            scope.range ? keyedAtEnds(curve, span) : curve,
            span,
            { tolerance, keepsEnd: keepsEnd(curve, scope.range) },
            how,
          ),
        );
        if (next.times.length < curve.times.length) changed[key] = next;
        continue;
      }
      const samples = samplesOf(curve, span);
      const shares = how.sharesOf?.(key, span.start, samples.length);
      const level = levelWithin(samples, tolerance * leastShare({ shares }));
      if (level !== null && scope.range === null && runsLevel(curve)) {
        if (curve.times.length > 1) changed[key] = { ...constantCurve(level, span.start), runIn: curve.runIn, runOut: curve.runOut };
      } else moving.push({ key, samples, tolerance, shares, ...whatStays(curve, scope.range) });
    }
    if (moving.length === 0) continue;
    const lay = (fit: FitResult) =>
      moving.forEach(({ key }, i) => {
        const curve = curves[key];
        const fitted: Fitted = {
          at: fit.at,
          start: span.start,
          values: fit.values[i],
          slopesIn: fit.slopesIn[i],
          slopesOut: fit.slopesOut[i],
        };
        const next = joined(curve, fitted);
        if (next.times.length < curve.times.length) changed[key] = next;
      });
    jobs.push({ inputs: moving, options: { broken: how.broken, protect: stopsOf(moving, span, how) }, lay });
  }
  const fits = await fitJobs(jobs, how.breathe, how.fitter);
  for (const [n, { lay }] of jobs.entries()) {
    await how.breathe(1);
    lay(fits[n]);
  }
  return { changed, left };
}

/** A group with the curves that repeat apart, by their cycles: a key beyond its cycle would make it longer. */
function byCycle(group: readonly ChannelKey[], curves: Curves): ChannelKey[][] {
  const groups = new Map<string, ChannelKey[]>();
  for (const key of group) {
    const { times, runIn, runOut } = curves[key];
    const name = repeats(runIn) || repeats(runOut) ? `${times[0]} ${times[times.length - 1]}` : "";
    const list = groups.get(name) ?? [];
    groups.set(name, list);
    list.push(key);
  }
  return [...groups.values()];
}

/** Must both ends keep their values, since what is off there would be off outside, or jump or add up from round to round? */
function keepsEnd(curve: Curve, range: Span | null): boolean {
  const { runIn, runOut } = curve;
  return range !== null || runIn.kind === "travel" || runOut.kind === "travel" || isClosed(curve);
}

/** Does a curve that repeats come back to where it began? */
function isClosed({ values, runIn, runOut }: Curve): boolean {
  return (runIn.kind === "repeat" || runOut.kind === "repeat") && values[values.length - 1] === values[0];
}

/** Slopes that differ by less are one (a unit a frame). */
const ONE_SLOPE = 1e-9;

/** What stays at the ends: their values, and where rounds run into each other without a corner one slope. */
function whatStays(curve: Curve, range: Span | null): Pick<FitInput, "keepsEnd" | "endSlope"> {
  const { slopeIn, slopeOut, runIn, runOut } = curve;
  const travels = runIn.kind === "travel" || runOut.kind === "travel";
  const slope = slopeOut[0];
  const runsOn = range === null && (travels || isClosed(curve)) && Math.abs(slopeIn[slopeIn.length - 1] - slope) < ONE_SLOPE;
  return { keepsEnd: keepsEnd(curve, range), ...(runsOn && { endSlope: slope }) };
}

/** Would a level line also do outside the keys? */
function runsLevel({ values, slopeIn, slopeOut, runIn, runOut }: Curve): boolean {
  const last = values.length - 1;
  if ((runIn.kind === "travel" || runOut.kind === "travel") && values[last] !== values[0]) return false;
  return !(runIn.kind === "straight" && slopeIn[0] !== 0) && !(runOut.kind === "straight" && slopeOut[last] !== 0);
}

const EVERYWHERE = { start: Number.NEGATIVE_INFINITY, end: Number.POSITIVE_INFINITY };

interface Span {
  readonly start: number;
  readonly end: number;
}

function samplesOf(curve: Curve, { start, end }: Span): Float64Array {
  return sampleInto(curve, start, 1, new Float64Array(end - start + 1));
}

/** Sample numbers that must have a key: peaks and valleys, and the frames that were asked for. */
function stopsOf(inputs: readonly { samples: Float64Array; tolerance: number }[], span: Span, how: FitChannels): number[] {
  const peaks = how.extremes && how.together !== "figure" ? sharedExtremes(inputs, PROMINENT) : [];
  const asked = how.keep.map((frame) => Math.round(frame) - span.start).filter((at) => at > 0 && at < span.end - span.start);
  return [...new Set([...peaks, ...asked])].sort((a, b) => a - b);
}

/** Does the curve hold from key `i` to the next? */
function isHeld(curve: Curve, i: number): boolean {
  return curve.kindOut[i] === Tangent.stepped || curve.kindIn[i + 1] === Tangent.stepped;
}

function hasHolds(curve: Curve): boolean {
  for (let i = 0; i + 1 < curve.times.length; i++) if (isHeld(curve, i)) return true;
  return false;
}

type Closeness = Pick<FitInput, "tolerance" | "keepsEnd">;

/** Fit what lies between the holds of a curve; the keys at both ends of a hold stay, and so does the hold. */
async function fitBetweenHolds(curve: Curve, span: Span, closeness: Closeness, how: FitChannels): Promise<Curve> {
  let fitted = curve;
  for (let i = 0; i + 1 < curve.times.length; i++) {
    if (isHeld(curve, i)) continue;
    let j = i + 1;
    while (j + 1 < curve.times.length && !isHeld(curve, j)) j++;
    const run = { start: Math.max(span.start, curve.times[i]), end: Math.min(span.end, curve.times[j]) };
    if (run.end - run.start > 1) {
      await how.breathe(0);
      const input = { samples: samplesOf(curve, run), ...closeness };
      const fit = fitSamples([input], { broken: how.broken, protect: stopsOf([input], run, how) });
      const joined = joinFit(fitted, {
        at: fit.at,
        start: run.start,
        values: fit.values[0],
        slopesIn: fit.slopesIn[0],
        slopesOut: fit.slopesOut[0],
      });
      // The run ends where a hold begins, or begins where one ends: that side is the hold's.
      const [first, last] = [keyOn(joined, run.start), keyOn(joined, run.end)];
      if (run.start === curve.times[i]) joined.kindIn[first] = curve.kindIn[i];
      if (run.end === curve.times[j]) joined.kindOut[last] = curve.kindOut[j];
      fitted = settle(joined);
    }
    i = j - 1;
  }
  return fitted;
}

interface Fitted {
  at: readonly number[];
  start: number;
  values: readonly number[];
  slopesIn: readonly number[];
  slopesOut: readonly number[];
}

/** The whole frames that all curves of a group are fitted over. */
function groupSpan(curves: readonly Curve[], range: { start: number; end: number } | null): { start: number; end: number } {
  let start = Number.POSITIVE_INFINITY;
  let end = Number.NEGATIVE_INFINITY;
  for (const curve of curves) {
    start = Math.min(start, curve.times[0]);
    end = Math.max(end, curve.times[curve.times.length - 1]);
  }
  if (range) {
    start = Math.max(start, range.start);
    end = Math.min(end, range.end);
  }
  return { start: Math.ceil(start), end: Math.floor(end) };
}

function hasWholeFrames(curve: Curve): boolean {
  const { times } = curve;
  for (let i = 0; i < times.length; i++) if (!Number.isInteger(times[i])) return false;
  return true;
}

/** Stepped curves hold their poses on purpose and are left as they are. */
function isStepped(curve: Curve): boolean {
  return curve.times.length > 1 && curve.kindOut.every((kind) => kind === Tangent.stepped);
}

/** The one value that serves for all samples within the tolerance, or null. */
function levelWithin(samples: Float64Array, tolerance: number): number | null {
  let low = samples[0];
  let high = samples[0];
  for (const value of samples) {
    if (value < low) low = value;
    if (value > high) high = value;
  }
  if (high === low) return low;
  return high - low <= 2 * tolerance * (1 - 1e-9) ? (low + high) / 2 : null;
}

/** The fitted keys in place of the curve's own ones in their span; keys outside stay. */
function joinFit(curve: Curve, { at, start, values, slopesIn, slopesOut }: Fitted): Curve {
  const end = start + at[at.length - 1];
  const before = countBefore(curve.times, start);
  const after = keyBefore(curve.times, end) + 1;
  const around = <Column extends Float64Array | Uint8Array>(column: Column, own: Column, fitted: ArrayLike<number>): Column => {
    column.set(own.subarray(0, before));
    column.set(fitted, before);
    column.set(own.subarray(after), before + at.length);
    return column;
  };
  const count = before + at.length + curve.times.length - after;
  const numbers = (own: Float64Array, fitted: ArrayLike<number>) => around(new Float64Array(count), own, fitted);
  const kinds = (own: Uint8Array) => around(new Uint8Array(count), own, new Uint8Array(at.length).fill(Tangent.free)).map(freedKind);
  const thirds = new Float64Array(at.length).fill(THIRD);
  return settle({
    ...curve,
    times: numbers(
      curve.times,
      at.map((frame) => start + frame),
    ),
    values: numbers(curve.values, values),
    slopeIn: numbers(curve.slopeIn, slopesIn),
    slopeOut: numbers(curve.slopeOut, slopesOut),
    weightIn: numbers(curve.weightIn, thirds),
    weightOut: numbers(curve.weightOut, thirds),
    kindIn: kinds(curve.kindIn),
    kindOut: kinds(curve.kindOut),
  });
}

/** How many of rising times are before a bound. */
function countBefore(times: Float64Array, bound: number): number {
  const last = keyBefore(times, bound);
  return last >= 0 && times[last] === bound ? last : last + 1;
}
