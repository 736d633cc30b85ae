import { z } from "zod";
import { type Curve, keyOn, Tangent } from "../../curve/curve.ts";
import { insertKeyOn } from "../../curve/edit.ts";
import { repeats } from "../../curve/runOn.ts";
import { settle } from "../../curve/tangents.ts";
import { KneaderError } from "../../errors.ts";
import { type ChannelKey, channelTitle, channelUnit, controlById, isFine, splitChannelKey } from "../../model/rig.ts";
import { type FrameRange, layerCurves, type Shot } from "../../model/shot.ts";
import { cycleOf } from "./cycleOf.ts";
import type { Operation, Scope } from "../operation.ts";
import { changeCurves, needSomething, outcome, scopedChannels, scopeRange } from "../shared/scope.ts";
import { countedWord, listed } from "../../words.ts";

const settings = z.object({
  span: z
    .number()
    .int()
    .min(1)
    .max(10000)
    .default(12)
    .meta({ title: "Spread over the last", unit: "frames", max: 60, step: 1, help: "The correction grows over these frames." }),
  slopes: z.boolean().default(true).meta({
    title: "Smooth over the seam",
    help: "Slopes meet too. Without, a corner stays one, as where a foot strikes the ground.",
  }),
  travel: z.boolean().default(true).meta({
    title: "The figure travels",
    help: "Move curves of the top control keep the way they have gone; only their slopes are matched.",
  }),
});

/** How far a curve is from closing: what its end has more than its start. */
interface Mismatch {
  readonly key: ChannelKey;
  readonly value: number;
  /** Units per frame. */
  readonly slope: number;
}

/** Make the end of a range run into its start: values and slopes, every curve. */
export const closeCycle: Operation<z.infer<typeof settings>> = {
  id: "close-cycle",
  title: "Close the cycle",
  group: "Cycles",
  help: "Makes the end of the range run into its start, in value and slope; says how far each curve was off.",
  guide: {
    use: "A cycle must end as it begins, in place and in speed, or it hitches. This says how far off it is and mends it.",
    watch: "The correction is spread over the last frames: few of them make it sudden.",
  },
  words: "loop seam match first last repeat mismatch walk seamless run",
  suits: ["a marked range"],
  settings,
  async run(shot, scope, { span, slopes, travel }) {
    const channels = scopedChannels(shot, scope);
    needSomething(channels, "Close the cycle");
    const curves = layerCurves(shot, scope.layer);
    const { start, end } = cycleMeant(shot, scope, channels);
    if (end - start < 2)
      throw new KneaderError("bad-setting", `Close the cycle: frames ${start} to ${end} are too few for a cycle.`, "Widen the range.");
    const changed: Record<ChannelKey, Curve> = {};
    const off: Mismatch[] = [];
    const others: ChannelKey[] = [];
    for (const key of channels) {
      if (curves[key].times.length < 2) continue;
      // Rounds play the keys again: keys put into them would make an end of the loop that is there.
      if (repeatsElsewhere(curves[key], start, end)) {
        others.push(key);
        continue;
      }
      const keyed = insertKeyOn(insertKeyOn(curves[key], start), end);
      const [first, last] = [keyOn(keyed, start), keyOn(keyed, end)];
      // The way something has gone is no mismatch.
      const value = travel && isTravel(shot, key) ? 0 : keyed.values[last] - keyed.values[first];
      const isStepped = keyed.kindOut[first] === Tangent.stepped || keyed.kindOut[last - 1] === Tangent.stepped;
      const slope = slopes && !isStepped ? keyed.slopeIn[last] - keyed.slopeOut[first] : 0;
      off.push({ key, value, slope });
      if (isOpen({ key, value, slope }))
        changed[key] = closed(keyed, { start, end, span: Math.min(span, end - start - 1), off: value, slopes });
    }
    const worst = off.filter(isOpen).sort((a, b) => severity(b) - severity(a));
    const notes = worst
      .slice(0, 5)
      .map(
        ({ key, value, slope }) =>
          `${channelTitle(shot.rig, key)}: off by ${say(shot, key, value)}, its slope by ${say(shot, key, slope)} a frame.`,
      );
    if (worst.length > 5) notes.push(`And ${worst.length - 5} more.`);
    const whole = start === shot.range.start && end === shot.range.end;
    notes.push(
      whole
        ? `Frame ${end} is frame ${start} again: playback ends at ${end - 1}, so that it is not seen twice.`
        : `Frame ${end} is frame ${start} again.`,
    );
    const warnings = others.length > 0 ? [sayOthers(shot, others)] : [];
    if (worst.length === 0 && off.length > 0) notes.unshift("Nothing is open there. What closes is repeated by Run-in and run-out.");
    const after = worst.length > 0 ? changeCurves(shot, scope.layer, changed) : shot;
    return outcome(
      shot,
      whole && !shot.cyclic ? { ...after, cyclic: true } : after,
      worst.length > 0
        ? `Closed ${worst.length} of ${countedWord(off.length, "curve")} over frames ${start} to ${end}`
        : `Closed no curve: frame ${end} runs into frame ${start} as it is`,
      { notes, warnings },
    );
  },
};

/** The frames that are one cycle: those that are marked, else those that repeat already, else the whole shot. */
function cycleMeant(shot: Shot, scope: Scope, channels: readonly ChannelKey[]): FrameRange {
  if (scope.range) return scope.range;
  const curves = layerCurves(shot, scope.layer);
  const cycle = cycleOf(Object.fromEntries(channels.map((key) => [key, curves[key]])));
  return cycle ? { start: cycle.first, end: cycle.last } : scopeRange(shot, scope);
}

/** Does a curve repeat other frames than these? */
function repeatsElsewhere({ times, runIn, runOut }: Curve, start: number, end: number): boolean {
  const isSame = Math.abs(times[0] - start) < 1e-6 && Math.abs(times[times.length - 1] - end) < 1e-6;
  return !isSame && (repeats(runIn) || repeats(runOut));
}

const isOpen = ({ value, slope }: Mismatch): boolean => Math.abs(value) > 1e-6 || Math.abs(slope) > 1e-6;

function sayOthers(shot: Shot, keys: readonly ChannelKey[]): string {
  const names = [...new Set(keys.map((key) => controlById(shot.rig, splitChannelKey(key).control)?.name ?? key))];
  return `${countedWord(keys.length, "curve")} of ${listed(names)} ${keys.length === 1 ? "repeats" : "repeat"} other frames and ${keys.length === 1 ? "was" : "were"} left alone.`;
}

/** A move curve of a control that no other carries. */
function isTravel(shot: Shot, key: ChannelKey): boolean {
  const { control, channel } = splitChannelKey(key);
  return channel.startsWith("move") && controlById(shot.rig, control)?.parent === null;
}

/** Degrees and percent count as they are, lengths a hundredfold, so that both can stand in one list. */
function severity({ key, value, slope }: Mismatch): number {
  const weight = isFine(splitChannelKey(key).channel) ? 1 : 100;
  return weight * (Math.abs(value) + 10 * Math.abs(slope));
}

/** With its unit: degrees, millimetres where the shot knows its unit, or scene units. */
function say({ unitMetres }: Shot, key: ChannelKey, value: number): string {
  const unit = channelUnit(splitChannelKey(key).channel);
  const round = (number: number) => Math.round(number * 1000) / 1000;
  if (unit === "degrees") return `${round(value)}°`;
  if (unit === "percent") return `${round(value)} %`;
  if (unit !== "length") return String(round(value));
  return unitMetres ? `${round(value * unitMetres * 1000)} mm` : `${round(value)} units`;
}

/** The curve with `off` taken away at the end, growing smoothly over `span`, and one slope at both ends; keys after the cycle stay. */
function closed(curve: Curve, how: { start: number; end: number; span: number; off: number; slopes: boolean }): Curve {
  const [first, last] = [keyOn(curve, how.start), keyOn(curve, how.end)];
  const slope = (curve.slopeOut[first] + curve.slopeIn[last]) / 2;
  const isStepped = curve.kindOut[first] === Tangent.stepped || curve.kindOut[last - 1] === Tangent.stepped;
  const values = curve.values.slice();
  // What is off is spread over the last frames alone.
  for (let i = last; i >= 0 && curve.times[i] > how.end - how.span; i--) {
    const u = Math.min(1, (curve.times[i] - (how.end - how.span)) / how.span);
    values[i] -= how.off * (u * u * (3 - 2 * u));
  }
  const put = <Column extends Float64Array | Uint8Array>(given: Column, number: number): Column => {
    if (!how.slopes || isStepped) return given;
    const column = given.slice() as Column;
    column[first] = column[last] = number;
    return column;
  };
  return settle({
    ...curve,
    values,
    slopeIn: put(curve.slopeIn, slope),
    slopeOut: put(curve.slopeOut, slope),
    kindIn: put(curve.kindIn, Tangent.free),
    kindOut: put(curve.kindOut, Tangent.free),
  });
}
