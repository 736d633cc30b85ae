import { z } from "zod";
import { type Curve, Tangent, THIRD } from "../curve/curve.ts";
import { extremesOf } from "../curve/extremes.ts";
import { fitSamples } from "../curve/fit/fitSamples.ts";
import { constantCurve } from "../curve/make.ts";
import { settle } from "../curve/tangents.ts";
import { sampleCurve, sampleInto } from "../curve/track.ts";
import { freedKind } from "../curve/turn.ts";
import { measureDrift } from "../drift.ts";
import { type ChannelKey, channelUnit, splitChannelKey } from "../model/rig.ts";
import { layerCurves, type Shot } from "../model/shot.ts";
import type { Operation, Report } from "./operation.ts";
import { byControl, changeCurves, needSomething, outcome, scopedChannels } from "./scope.ts";

const settings = z.object({
  rotation: z.number().min(0).max(90).default(0.5).meta({
    title: "Rotation within",
    unit: "degrees",
    max: 5,
    step: 0.05,
    help: "No rotate curve leaves the original by more than this at any frame.",
  }),
  move: z.number().min(0).default(0.004).meta({
    title: "Position within",
    unit: "length",
    max: 0.1,
    step: 0.001,
    help: "The same for move curves and for anything that is not a rotation.",
  }),
  strength: z
    .number()
    .min(0)
    .max(400)
    .default(100)
    .meta({ title: "Strength", unit: "percent", widget: "dial", max: 200, step: 5, help: "Multiplies both tolerances." }),
  together: z
    .enum(["control", "figure", "curve"])
    .default("control")
    .meta({
      title: "Keys at the same frames",
      labels: { control: "Across each control", figure: "Across the figure", curve: "Each curve alone" },
      help: "Together, poses stay poses; alone, the fewest keys.",
    }),
  tangents: z
    .enum(["unbroken", "broken"])
    .default("unbroken")
    .meta({ title: "Tangents", labels: { unbroken: "Unbroken", broken: "May break" }, help: "Broken tangents need fewer keys." }),
  extremes: z
    .boolean()
    .default(false)
    .meta({ title: "Keep the peaks and valleys", help: "Puts a key on every peak and valley that stands out by more than the tolerance." }),
});
type Settings = z.infer<typeof settings>;

/** Fewest keys within a stated tolerance of the original at every frame. */
export const simplify: Operation<Settings> = {
  id: "simplify",
  title: "Simplify",
  group: "Clean",
  help: "Keeps the fewest keys whose curves stay within a tolerance of the original at every frame.",
  words: "reduce keys thin clean captured noise fewer",
  settings,
  async run(shot, scope, s, context) {
    const curves = layerCurves(shot, scope.layer);
    const channels = scopedChannels(shot, scope);
    needSomething(channels, "Simplify");
    const groups =
      s.together === "curve" ? channels.map((key) => [key]) : s.together === "figure" ? [channels] : [...byControl(channels).values()];
    const changed: Record<ChannelKey, Curve> = {};
    let worst: Report["worstCurve"] = null;
    for (const [g, group] of groups.entries()) {
      await context.breathe((0.8 * g) / groups.length);
      const span = groupSpan(
        group.map((key) => curves[key]),
        scope.range,
      );
      const moving: { key: ChannelKey; samples: Float64Array; tolerance: number }[] = [];
      for (const key of group) {
        const curve = curves[key];
        const tolerance = toleranceFor(key, s);
        if (span.end <= span.start) continue;
        const samples = sampleInto(curve, span.start, 1, new Float64Array(span.end - span.start + 1));
        if (!hasWholeFrames(curve) || isStepped(curve)) continue;
        const level = levelWithin(samples, tolerance);
        if (level !== null && scope.range === null) {
          if (curve.times.length > 1) changed[key] = { ...constantCurve(level, span.start), runIn: curve.runIn, runOut: curve.runOut };
        } else moving.push({ key, samples, tolerance });
      }
      if (moving.length === 0) continue;
      const protect = s.extremes ? [...new Set(moving.flatMap((m) => extremesOf(m.samples, m.tolerance)))].sort((a, b) => a - b) : [];
      const fit = fitSamples(moving, { broken: s.tangents === "broken", protect });
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
    for (const key of Object.keys(changed)) {
      const off = worstOff(curves[key], changed[key]);
      if (worst === null || off.amount > worst.amount) worst = { channel: key, ...off };
    }
    const after = changeCurves(shot, scope.layer, changed);
    await context.breathe(0.85);
    const drift = measureDrift(shot, after, scope.range ?? shot.range);
    const summary = `Simplified ${Object.keys(changed).length} of ${channels.length} curves`;
    return outcome(shot, after, summary, { drift, worstCurve: worst });
  },
};

interface Fitted {
  at: readonly number[];
  start: number;
  values: readonly number[];
  slopesIn: readonly number[];
  slopesOut: readonly number[];
}

function toleranceFor(key: ChannelKey, s: Settings): number {
  const base = channelUnit(splitChannelKey(key).channel) === "degrees" ? s.rotation : s.move;
  return (base * s.strength) / 100;
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

/** Where two curves are furthest apart at the whole frames of the first. */
function worstOff(before: Curve, after: Curve): { frame: number; amount: number } {
  let worst = { frame: before.times[0], amount: 0 };
  for (let frame = Math.ceil(before.times[0]); frame <= before.times[before.times.length - 1]; frame++) {
    const amount = Math.abs(sampleCurve(before, frame) - sampleCurve(after, frame));
    if (amount > worst.amount) worst = { frame, amount };
  }
  return worst;
}

/** The shot with every curve of base fitted within tolerances: for makers of shots. */
export async function simplified(shot: Shot, given: Partial<Settings>): Promise<Shot> {
  const scope = { controls: null, channels: null, keys: null, range: null, layer: "base" };
  return (await simplify.run(shot, scope, settings.parse(given), { breathe: () => undefined })).shot;
}
