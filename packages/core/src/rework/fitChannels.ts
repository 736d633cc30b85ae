import { type Curve, Tangent, THIRD } from "../curve/curve.ts";
import { sharedExtremes } from "../curve/extremes.ts";
import { fitSteps } from "../curve/fit/fitSamples.ts";
import { constantCurve } from "../curve/make.ts";
import { settle } from "../curve/tangents.ts";
import { sampleInto } from "../curve/track.ts";
import { freedKind } from "../curve/turn.ts";
import type { ChannelKey } from "../model/rig.ts";
import { layerCurves, type Shot } from "../model/shot.ts";
import type { Scope } from "./operation.ts";
import { byControl } from "./scope.ts";

export interface FitChannels {
  readonly together: "control" | "figure" | "curve";
  readonly broken: boolean;
  /**
   * Put keys on the peaks and valleys that stand out by more than `PROMINENT` tolerances; not where the whole
   * figure shares its keys, as any curve's peak would key all of them.
   */
  readonly extremes: boolean;
  toleranceOf(channel: ChannelKey): number;
  /** Asked between groups with the share done; may throw to stop. */
  breathe(share: number): Promise<void> | void;
}

/**
 * How many tolerances a peak must stand out by to be given a key. At one, every wobble of a captured curve
 * is a peak and half of what was saved is lost; at four, what an animator would call a peak is one.
 */
const PROMINENT = 4;

/** Fit channels with the fewest keys within their tolerances; answers the curves that have fewer keys now. */
export async function fitChannels(
  shot: Shot,
  scope: Scope,
  channels: readonly ChannelKey[],
  how: FitChannels,
): Promise<Record<ChannelKey, Curve>> {
  const curves = layerCurves(shot, scope.layer);
  const groups =
    how.together === "curve" ? channels.map((key) => [key]) : how.together === "figure" ? [channels] : [...byControl(channels).values()];
  const changed: Record<ChannelKey, Curve> = {};
  for (const [g, group] of groups.entries()) {
    await how.breathe(g / groups.length);
    const span = groupSpan(
      group.map((key) => curves[key]),
      scope.range,
    );
    const moving: { key: ChannelKey; samples: Float64Array; tolerance: number }[] = [];
    for (const key of group) {
      const curve = curves[key];
      const tolerance = how.toleranceOf(key);
      if (span.end <= span.start) continue;
      const samples = sampleInto(curve, span.start, 1, new Float64Array(span.end - span.start + 1));
      if (!hasWholeFrames(curve) || isStepped(curve)) continue;
      const level = levelWithin(samples, tolerance);
      if (level !== null && scope.range === null) {
        if (curve.times.length > 1) changed[key] = { ...constantCurve(level, span.start), runIn: curve.runIn, runOut: curve.runOut };
      } else moving.push({ key, samples, tolerance });
    }
    if (moving.length === 0) continue;
    const protect = how.extremes && how.together !== "figure" ? sharedExtremes(moving, PROMINENT) : [];
    const steps = fitSteps(moving, { broken: how.broken, protect });
    let step = steps.next();
    for (; !step.done; step = steps.next()) await how.breathe((g + step.value) / groups.length);
    const fit = step.value;
    moving.forEach(({ key }, i) => {
      const curve = curves[key];
      const fitted: Fitted = {
        at: fit.at,
        start: span.start,
        values: fit.values[i],
        slopesIn: fit.slopesIn[i],
        slopesOut: fit.slopesOut[i],
      };
      const next = joinFit(curve, fitted);
      if (next.times.length < curve.times.length) changed[key] = next;
    });
  }
  return changed;
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
  return curve.times.every((time) => Number.isInteger(time));
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
function joinFit(curve: Curve, fit: Fitted): Curve {
  const first = fit.start;
  const last = fit.start + fit.at[fit.at.length - 1];
  const times: number[] = [];
  const rows: number[][] = [];
  const kinds: [number, number][] = [];
  const keep = (i: number): void => {
    times.push(curve.times[i]);
    rows.push([curve.values[i], curve.slopeIn[i], curve.slopeOut[i], curve.weightIn[i], curve.weightOut[i]]);
    kinds.push([freedKind(curve.kindIn[i]), freedKind(curve.kindOut[i])]);
  };
  let i = 0;
  for (; i < curve.times.length && curve.times[i] < first; i++) keep(i);
  fit.at.forEach((at, k) => {
    times.push(first + at);
    rows.push([fit.values[k], fit.slopesIn[k], fit.slopesOut[k], THIRD, THIRD]);
    kinds.push([Tangent.free, Tangent.free]);
  });
  while (i < curve.times.length && curve.times[i] <= last) i++;
  for (; i < curve.times.length; i++) keep(i);
  return settle({
    ...curve,
    times: Float64Array.from(times),
    values: Float64Array.from(rows, (r) => r[0]),
    slopeIn: Float64Array.from(rows, (r) => r[1]),
    slopeOut: Float64Array.from(rows, (r) => r[2]),
    weightIn: Float64Array.from(rows, (r) => r[3]),
    weightOut: Float64Array.from(rows, (r) => r[4]),
    kindIn: Uint8Array.from(kinds, (k) => k[0]),
    kindOut: Uint8Array.from(kinds, (k) => k[1]),
  });
}
