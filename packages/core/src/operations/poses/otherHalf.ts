import { z } from "zod";
import { type Curve, HOLD, keyOn } from "../../curve/curve.ts";
import { clipCurve, shiftFrom } from "../../curve/edit.ts";
import { settle } from "../../curve/tangents.ts";
import { sampleCurve } from "../../curve/track.ts";
import { KneaderError } from "../../errors.ts";
import { inPieces } from "../../inPieces.ts";
import { type ChannelKey, channelTitle, channelUnit, moveChannels, restValue, splitChannelKey } from "../../model/rig.ts";
import { BASE, type Curves, type FrameRange, layerCurves, type Shot } from "../../model/shot.ts";
import { countedWord } from "../../words.ts";
import { closeCycle } from "../loops/closeCycle.ts";
import type { Context, Operation, Scope } from "../operation.ts";
import { carryOn, standingAt, travellers } from "../../figure/carryOn.ts";
import { joinCurve } from "../shared/joinCurve.ts";
import { layerPose } from "../shared/layerPose.ts";
import { mirrorContacts } from "../shared/mirrorContacts.ts";
import { mirrorReport } from "../shared/mirrorReport.ts";
import { mirrorOptions, wayMirror } from "../shared/mirrorSettings.ts";
import { overwrittenKeys, sayOverwritten } from "../shared/overwritten.ts";
import { changeCurves, needSomething, outcome, scopeRange, wantedChannels } from "../shared/scope.ts";
import { mirrorSteps } from "./mirrorClip.ts";
import { liftBothSides, steady } from "./mirrorRange.ts";
import { keyTimes } from "./poses.ts";

const settings = z.object({
  place: z
    .enum(["after", "before", "wrapped"])
    .default("after")
    .meta({
      title: "Put",
      labels: { after: "After the range", before: "Before the range", wrapped: "Half a cycle later, within the shot's cycle" },
    }),
  joint: z
    .enum(["mirrored", "kept"])
    .default("mirrored")
    .meta({
      title: "Where they meet",
      labels: { mirrored: "The mirrored pose", kept: "The pose that is there" },
      help: "With the mirrored pose the cycle closes whatever the first half ends with.",
    }),
  closes: z
    .boolean()
    .default(true)
    .meta({
      title: "Close the cycle",
      help: "Slopes meet over the seam too, and the shot is played as a cycle.",
      when: { place: "after" },
    }),
  ...wayMirror,
});

type Settings = z.infer<typeof settings>;

/** Make the second half of a cycle: the first, mirrored. */
export const otherHalf: Operation<Settings> = {
  id: "other-half",
  title: "Other half",
  group: "Poses",
  help: "Puts the mirrored keys of the range after it (or before), so that half a cycle becomes a whole one: end poses are shared, travel goes on, sway goes to the other side.",
  guide: {
    use: "Half a walk becomes a whole one, a run keyed 1 to 15 ends at 29. In a cycle what is at 25 % goes to 75 %.",
    watch:
      "The card says by how much the pose where the halves meet differs from the mirrored first one. Keys that are there are overwritten.",
  },
  movesPoses: true,
  ofLayerAlone: true,
  words: "mirror half cycle walk run second append finish complete symmetric flip before wrap",
  suits: ["a marked range"],
  settings,
  async run(shot, scope, s, context) {
    const span = scopeRange(shot, scope);
    const length = span.end - span.start;
    if (!(length > 0))
      throw new KneaderError("bad-setting", "Other half: the range has one frame only.", "Mark the first half of the cycle.");
    const place = placeOf(shot, span, s);
    const { layer } = scope;
    const options = mirrorOptions(shot, s, layerPose(shot, layer, span.start), layerPose(shot, layer, span.end));
    const steps = mirrorSteps(shot, liftBothSides(shot, scope, span), layer === BASE ? shot.base : {}, options);
    const image = await inPieces(steps, (share) => context.breathe(0.9 * share));
    const wanted = new Set(wantedChannels(shot, scope));
    const moving = Object.entries(image.curves).filter(
      ([key, curve]) => wanted.has(key) && (key in layerCurves(shot, layer) || moves(curve)),
    );
    const curves = withResting(
      shot,
      layer,
      moving.map(([key]) => key),
      span,
    );
    const laid = new Map(moving.map(([key, curve]) => [key, shiftFrom(curve, Number.NEGATIVE_INFINITY, place.start)]));
    needSomething([...laid.keys()], "Other half");
    const meets = s.place === "before" ? place.end : place.start;
    if (layer === BASE) carry(shot, curves, laid, meets);
    const apart = meeting(shot, curves, laid, meets, s);
    const closes = s.closes && s.place === "after";
    if (closes && s.joint === "mirrored") endsAsItBegan(shot, curves, laid, span);
    const changed: Record<ChannelKey, Curve> = {};
    for (const [key, curve] of laid) {
      await context.breathe(0.9);
      changed[key] =
        s.place === "wrapped" ? wrapped(shot, key, curves[key], curve, span, place.cycle) : joinCurve(curves[key], curve, "replace");
    }
    const joined = changeCurves(shot, layer, changed);
    const range = { start: Math.min(shot.range.start, Math.floor(place.start)), end: Math.max(shot.range.end, Math.ceil(place.end)) };
    const whole = s.place === "wrapped" ? joined : { ...joined, range };
    const moved = closes ? await closed(whole, scope, { start: span.start, end: place.end }, context) : whole;
    const isMoved = (id: string) => moving.some(([key]) => splitChannelKey(key).control === id);
    const after = layer === BASE && s.place !== "wrapped" ? mirrorContacts(moved, span, place.by, false, isMoved) : moved;
    const overwritten = overwrittenKeys(shot, joined, layer, s.place === "wrapped" ? place.cycle : place);
    // The last pose of the half is where they meet: what becomes of it is said by itself.
    const times = keyTimes(shot, layer, Object.keys(curves)).filter((time) => time >= span.start && time < span.end);
    const found = mirrorReport(
      shot,
      after,
      scope,
      times.map((time) => [time, wrap(time + place.by, place.cycle, s)]),
      options,
      true,
    );
    const notes = [...apart, ...found.notes];
    if (s.place !== "wrapped" && (range.end > shot.range.end || range.start < shot.range.start))
      notes.push(`The shot now ${range.end > shot.range.end ? `ends at frame ${range.end}` : `begins at frame ${range.start}`}.`);
    // In a pass that is only so of the pass: what plays below it goes its own way.
    if (closes && scope.layer === BASE) notes.push(`Frame ${place.end} is frame ${span.start} again: the cycle is closed.`);
    return outcome(shot, after, `Mirrored frames ${span.start} to ${span.end} onto ${place.start} to ${place.end}`, {
      warnings: [...sayOverwritten(overwritten), ...found.warnings],
      notes,
      off: found.off,
      overwritten,
    });
  },
};

interface Placed extends FrameRange {
  /** How far keys are moved. */
  readonly by: number;
  readonly cycle: FrameRange;
}

function placeOf(shot: Shot, { start, end }: FrameRange, s: Settings): Placed {
  const cycle = shot.range;
  const length = end - start;
  if (s.place === "after") return { start: end, end: end + length, by: length, cycle };
  if (s.place === "before") return { start: start - length, end: start, by: -length, cycle };
  const half = (cycle.end - cycle.start) / 2;
  if (length > half + 1e-6 || start < cycle.start || end > cycle.end)
    throw new KneaderError(
      "bad-setting",
      `Other half: frames ${start} to ${end} are more than half of the cycle ${cycle.start} to ${cycle.end}.`,
      "Mark half of the cycle at the most, or put the other half after the range.",
    );
  return { start: start + half, end: end + half, by: half, cycle };
}

/** The layer's curves, with those that only partners have at rest over the first half. */
function withResting(shot: Shot, layer: string, keys: readonly ChannelKey[], { start, end }: FrameRange): Curves {
  const curves = layerCurves(shot, layer);
  const rest = (key: ChannelKey) => (layer === BASE ? restValue(splitChannelKey(key).channel) : 0);
  const added = keys.filter((key) => !(key in curves)).map((key) => [key, steady(start, end, rest(key))]);
  return { ...curves, ...Object.fromEntries(added) };
}

/** Does a curve do anything at all? */
const moves = ({ values }: Curve): boolean => values.some((value) => value !== values[0]) || values[0] !== 0;

/** What travels goes on from where it is where the halves meet, or comes to it. */
function carry(shot: Shot, curves: Curves, laid: Map<ChannelKey, Curve>, meets: number): void {
  for (const control of travellers(shot.rig)) {
    const own = Object.fromEntries([...laid].filter(([key]) => splitChannelKey(key).control === control.id));
    const carried = carryOn(control, own, standingAt(control, own, meets), standingAt(control, curves, meets));
    for (const [key, curve] of Object.entries(carried)) laid.set(key, curve);
  }
}

/** What does not travel ends the cycle as it began: mirrored twice. */
function endsAsItBegan(shot: Shot, curves: Curves, laid: Map<ChannelKey, Curve>, span: FrameRange): void {
  const going = new Set(travellers(shot.rig).map(({ id }) => id));
  for (const [key, curve] of laid) {
    if (!curves[key] || going.has(splitChannelKey(key).control)) continue;
    laid.set(key, withValueAt(curve, curve.times.length - 1, sampleCurve(curves[key], span.start)));
  }
}

const withValueAt = (curve: Curve, i: number, value: number): Curve =>
  settle({ ...curve, values: curve.values.map((one, n) => (n === i ? value : one)) });

/** Makes both halves share the pose where they meet; says by how much they differed. */
function meeting(shot: Shot, curves: Curves, laid: Map<ChannelKey, Curve>, at: number, s: Settings): string[] {
  const apart: { key: ChannelKey; by: number }[] = [];
  for (const [key, curve] of laid) {
    if (!curves[key]) continue;
    const there = sampleCurve(curves[key], at);
    const i = keyOn(curve, at);
    if (i < 0) continue;
    const by = curve.values[i] - there;
    if (Math.abs(by) > 1e-6) apart.push({ key, by });
    if (s.joint === "kept") laid.set(key, withValueAt(curve, i, there));
  }
  if (apart.length === 0) return [`At frame ${at} the halves meet exactly.`];
  const size = ({ key, by }: (typeof apart)[number]) => Math.abs(by) * (channelUnit(splitChannelKey(key).channel) === "length" ? 100 : 1);
  const [worst] = apart.sort((a, b) => size(b) - size(a));
  const { channel } = splitChannelKey(worst.key);
  const unit = { degrees: "°", percent: " %", length: " units", factor: "", number: "" }[channelUnit(channel)];
  const taken = s.joint === "mirrored" ? "takes the mirrored pose" : "keeps its pose";
  return [
    `Frame ${at} ${taken}: ${countedWord(apart.length, "channel")} differed, ${channelTitle(shot.rig, worst.key)} by ${Math.abs(Math.round(worst.by * 1000) / 1000)}${unit}.`,
  ];
}

const wrap = (time: number, { start, end }: FrameRange, s: Settings): number =>
  s.place === "wrapped" && time > end + 1e-6 ? time - (end - start) : time;

/** Laid into a cycle: what would come after its end comes at its start, less the way the cycle goes. */
function wrapped(shot: Shot, key: ChannelKey, present: Curve | undefined, laid: Curve, span: FrameRange, cycle: FrameRange): Curve {
  const length = cycle.end - cycle.start;
  const last = laid.times[laid.times.length - 1];
  const within = clipCurve(laid, laid.times[0], Math.min(last, cycle.end));
  const first = joinCurve(present, within, "replace");
  if (last <= cycle.end + 1e-6) return first;
  const { control, channel } = splitChannelKey(key);
  const travels = (moveChannels as readonly string[]).includes(channel) && travellers(shot.rig).some(({ id }) => id === control);
  const way = present && travels ? sampleCurve(present, cycle.end) - sampleCurve(present, cycle.start) : 0;
  const over = shiftFrom(clipCurve(laid, cycle.end, last), Number.NEGATIVE_INFINITY, -length);
  const back = settle({ ...over, values: over.values.map((value) => value - way), runIn: HOLD, runOut: HOLD });
  // Keys of the first half that the wrapped part reaches are its own.
  const end = Math.min(back.times[back.times.length - 1], span.start);
  return joinCurve(first, clipCurve(back, cycle.start, Math.max(cycle.start, end)), "replace");
}

async function closed(shot: Shot, scope: Scope, range: FrameRange, context: Context): Promise<Shot> {
  const { shot: after } = await closeCycle.run(
    { ...shot, range },
    { ...scope, range, keys: null },
    { span: 12, slopes: true, travel: true },
    context,
  );
  return { ...after, range: shot.range, cyclic: range.start === shot.range.start && range.end === shot.range.end };
}
