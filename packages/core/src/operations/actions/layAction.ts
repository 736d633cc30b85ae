import { z } from "zod";
import { upperBody } from "../../figure/anatomy/halves.ts";
import type { Curve } from "../../curve/curve.ts";
import { curveFromSamples } from "../../curve/bakeValues.ts";
import { constantCurve } from "../../curve/make.ts";
import { bakeRounds } from "../../curve/loop.ts";
import { sampleInto } from "../../curve/track.ts";
import { KneaderError } from "../../errors.ts";
import { limbEnds } from "../../figure/limbEnds.ts";
import { MOST_FRAMES } from "../../formats/limits.ts";
import { actionSchema } from "../../formats/schema.ts";
import type { Action } from "../../model/action.ts";
import type { Clip } from "../../model/clip.ts";
import { type ChannelKey, controlById, restValue, splitChannelKey } from "../../model/rig.ts";
import { framesPerSecond } from "../../model/rate.ts";
import { BASE, type FrameRange, layerCurves, type Pass, type Shot } from "../../model/shot.ts";
import { crossed } from "../../passes/rows.ts";
import { passKind } from "../../passes/kinds.ts";
import { playedCurves, playPass, type PlaySettings, playSettings, playedSpan, stretchOf } from "../../passes/play.ts";
import { countedWord, listed } from "../../words.ts";
import type { Context, Operation, Scope } from "../operation.ts";
import { freshPass } from "../passes/computedPass.ts";
import { mirrorClip } from "../poses/mirrorClip.ts";
import { mirrorIfWished, mirrorOptions } from "../shared/mirrorSettings.ts";
import { overwrittenKeys, sayOverwritten } from "../shared/overwritten.ts";
import { sceneryAmong, sayScenery } from "../shared/sceneryLeft.ts";
import { changeCurves, outcome, wantedChannels } from "../shared/scope.ts";
import { plantEnds } from "../spaces/plantEnds.ts";
import { pasteKeys } from "../timing/pasteKeys.ts";
import { carriedStands } from "./carryAction.ts";
import { withCarried } from "./carriedCopies.ts";
import { endStep, sayEndStep } from "./endSteps.ts";
import { easeSpan } from "./easeSpan.ts";
import { inSpan } from "./inSpan.ts";
import { fitAction, fitSettings, sayFit } from "./fitSettings.ts";

/** Settings that are seldom told. */
function seldom<Fields extends Readonly<Record<string, z.ZodType>>>(fields: Fields): Fields {
  return Object.fromEntries(
    Object.entries(fields).map(([name, field]) => [name, field.meta({ ...field.meta(), more: true })]),
  ) as unknown as Fields;
}

/** Frames over which it comes in and goes out unless others are said. */
const FEW = 6;

const settings = z.object({
  action: actionSchema.meta({ title: "Action", widget: "action" }),
  at: z.number().min(-1e6).max(1e6).default(1).meta({ title: "Starts at frame", unit: "frame", step: 1 }),
  as: z
    .enum(["replace", "merge", "insert", "pass"])
    .default("replace")
    .meta({
      title: "It goes in",
      labels: {
        replace: "As keys, in place of what its span held",
        merge: "As keys, beside those there are",
        insert: "As keys; what comes later makes room",
        pass: "As a pass that plays it",
      },
    }),
  members: z
    .enum(["all", "upper", "lower"])
    .default("all")
    .meta({ title: "On", labels: { all: "All that it moves", upper: "The upper body", lower: "Legs, hips and tail" } }),
  carry: z
    .boolean()
    .default(false)
    .meta({ title: "Carry on", help: "It starts from where the figure stands and faces; heights stay. Off, it plays where it was saved." }),
  match: z
    .number()
    .min(0)
    .default(0)
    .meta({
      title: "Matched at its frame",
      unit: "frame",
      step: 1,
      more: true,
      when: { carry: true },
      help: "Counted from its first, which is 0.",
    }),
  speed: z.number().min(1).max(10000).default(100).meta({ title: "Speed", unit: "percent", max: 400, step: 5, more: true }),
  rounds: z.number().int().min(1).max(1000).default(1).meta({ title: "Times", max: 20, step: 1, more: true }),
  travels: playSettings.shape.travels.meta({ ...playSettings.shape.travels.meta(), more: true }),
  easeIn: z.number().min(0).max(10000).default(0).meta({ title: "Comes in over", unit: "frames", max: 24, step: 1 }),
  easeOut: z.number().min(0).max(10000).default(0).meta({ title: "Goes out over", unit: "frames", max: 24, step: 1 }),
  joins: playSettings.shape.joins.meta({ ...playSettings.shape.joins.meta(), when: { as: "pass" } }),
  beside: z
    .string()
    .default("")
    .meta({
      title: "Beside",
      widget: "band",
      when: { as: "pass" },
      help: "Bands of one row cross over where they overlap.",
    }),
  mirrored: z.boolean().default(false).meta({ title: "Mirrored", help: "Left and right exchanged.", more: true }),
  ...seldom(mirrorIfWished),
  plants: z
    .boolean()
    .default(false)
    .meta({ title: "Feet planted", help: "Where feet are slow and low they are held, as by Plant.", more: true }),
  ...fitSettings,
});
type Settings = z.infer<typeof settings>;

/** Lay a saved action on the shot: as keys, or as a pass that plays it. */
export const layAction: Operation<Settings> = {
  id: "apply-action",
  title: "Lay action",
  group: "Actions",
  help: "Lays saved motion on the shot from a frame on, fitted to this figure: as keys or as a pass that plays it, where it was saved or carried on.",
  guide: {
    use: "Motion that exists is never animated twice: it is found for limbs of other names, sizes and rest poses, and starts from where the figure stands.",
    watch: "The card says who takes whose motion, what has no place here and what it replaces. As a pass nothing is replaced for good.",
  },
  movesPoses: true,
  words: "pantry paste reuse library drop clip preset apply play retarget transfer",
  leaves: ["range"],
  settings,
  situation: ({ frame }) => ({ at: frame, easeIn: FEW, easeOut: FEW }),
  async run(shot, given, s, context) {
    const scope = ontoKeys(shot, given);
    const action = s.action as Action;
    const fitted = fitAction(shot, action, s);
    await context.breathe(0.2);
    const said = sayFit(shot, action, fitted);
    const mirrored = s.mirrored ? mirrorClip(shot, fitted.clip, shot.base, mirrorOptions(shot, s)) : fitted.clip;
    const meant = meantOf(shot, scope, mirrored, s);
    const match = Math.min(s.match, meant.clip.length);
    const plain = playTold(meant.clip, s);
    const layer = s.as === "pass" ? "" : scope.layer;
    const at = s.at + match * stretchOf(meant.clip, shot.rate, s.speed);
    const told = s.carry ? { ...plain, stands: carriedStands(shot, meant.clip, { layer, at, match }) } : plain;
    const span = playedSpan(meant.clip, shot.rate, told);
    refuseTooLong(shot, span, s);
    await context.breathe(0.4);
    const eases = easesOf(shot, span, s);
    const laid =
      s.as === "pass"
        ? asPass(shot, { card: action.card, clip: meant.clip }, told, { ...s, ...eases })
        : await asKeys(shot, scope, meant.clip, told, { ...s, ...eases }, context);
    const grown = Math.max(laid.range.end, Math.ceil(span.end - 1e-6));
    let after: Shot = { ...laid, range: { start: laid.range.start, end: grown } };
    const notes = [...said.notes];
    const carried = Object.keys(told.stands).map((id) => controlById(shot.rig, id)?.name ?? id);
    if (carried.length > 0) notes.push(`Carries on from where the figure is at frame ${round(at)}: ${listed(carried)}.`);
    if (s.as !== "pass" && Object.values(meant.clip.curves).some((curve) => curve.times.length >= DENSE * (span.end - span.start + 1)))
      notes.push(`Its ${Math.round(framesPerSecond(meant.clip.rate))} keys a second become one on each frame of this shot.`);
    if (grown > shot.range.end) notes.push(`The shot now ends at frame ${grown}.`);
    await context.breathe(0.8);
    const overwritten = s.as === "pass" || s.as === "insert" ? {} : overwrittenKeys(shot, after, scope.layer, span);
    const warnings = [...said.warnings, ...meant.warnings, ...sayOverwritten(overwritten)];
    if (s.plants) {
      const planted = await plantFeet(after, span, context);
      after = planted.shot;
      notes.push(...planted.report.notes);
      warnings.push(...planted.report.warnings);
    }
    const step = context.firstLook ? null : await endStep(shot, after, span, eases.easeIn, eases.easeOut, context);
    if (step?.isPop) warnings.unshift(sayEndStep(shot, step));
    else if (step) notes.unshift(sayEndStep(shot, step));
    const count = countedWord(Object.keys(meant.clip.curves).length, "curve");
    const how = s.as === "pass" ? "as a pass" : s.as === "insert" ? "inserted" : s.as === "merge" ? "merged" : "as keys";
    return outcome(shot, after, `Laid "${action.card.name}" on ${count} ${how}, frames ${round(s.at)} to ${round(span.end)}`, {
      warnings,
      notes,
      overwritten,
    });
  },
};

/** What would reach over more frames than a shot can have is refused before its keys are made, which would take minutes. */
function refuseTooLong({ range }: Shot, span: FrameRange, { as }: Settings): void {
  const last = as === "insert" ? range.end + span.end - span.start : Math.max(range.end, span.end);
  const frames = Math.ceil(last - Math.min(range.start, span.start));
  if (frames <= MOST_FRAMES) return;
  throw new KneaderError(
    "bad-setting",
    `Lay action: with it the shot would have ${frames} frames; at the most ${MOST_FRAMES} are possible.`,
    "Lay it fewer times, faster, or nearer to the shot.",
  );
}

/** Where a pass that is worked out, or a constraint, is chosen, base motion is meant: those take no keys of the figure. */
function ontoKeys(shot: Shot, scope: Scope): Scope {
  const pass = shot.passes.find(({ id }) => id === scope.layer);
  return pass && passKind(pass.kind)?.reads === "keys" ? scope : { ...scope, layer: BASE };
}

const round = (frame: number) => Math.round(frame * 100) / 100;

/** Over how many frames it comes in and goes out: not where nothing plays beside it, and no longer than half of it each. */
function easesOf(shot: Shot, { start, end }: FrameRange, s: Settings): Pick<Settings, "easeIn" | "easeOut"> {
  const most = (end - start) / (s.easeIn > 0 && s.easeOut > 0 ? 2 : 1);
  return {
    easeIn: start <= shot.range.start ? 0 : Math.min(s.easeIn, most),
    easeOut: end >= shot.range.end ? 0 : Math.min(s.easeOut, most),
  };
}

function playTold(clip: Clip, s: Settings): PlaySettings {
  const { at: start, speed, rounds, travels, joins } = s;
  return {
    action: "-",
    start,
    from: 0,
    to: clip.length,
    speed,
    rounds,
    travels,
    joins: s.as === "pass" ? joins : "replaces",
    stands: {},
    row: "",
  };
}

/** The part of a clip that is laid: what is in scope, unlocked, and of the half of the body that is asked for. */
function meantOf(shot: Shot, scope: Scope, clip: Clip, { members }: Settings): { clip: Clip; warnings: string[] } {
  const keys = Object.keys(clip.curves);
  const scenery = new Set(sceneryAmong(shot, { ...scope, keys: null }, keys));
  const wanted = new Set(wantedChannels(shot, { ...scope, keys: null }));
  const upper = members === "all" ? null : upperBody(shot.rig);
  if (members !== "all" && !upper)
    throw new KneaderError(
      "bad-setting",
      "Lay action: no upper body was found on this rig.",
      "Pick the controls that should take it instead.",
    );
  const isMeant = (key: ChannelKey) => upper === null || upper.has(splitChannelKey(key).control) === (members === "upper");
  const curves = Object.fromEntries(keys.filter((key) => wanted.has(key) && isMeant(key)).map((key) => [key, clip.curves[key]]));
  if (Object.keys(curves).length === 0) {
    const locked = keys.filter((key) => shot.locked.includes(key)).length;
    throw new KneaderError(
      locked === keys.length ? "locked" : "nothing-in-scope",
      locked === keys.length ? "Lay action: all that it moves is locked." : "Lay action: it moves nothing of what is in scope.",
      locked === keys.length ? "Unlock what should take it." : "Pick something that it moves, or lay it on all.",
    );
  }
  return { clip: { ...clip, curves }, warnings: scenery.size > 0 ? sayScenery(shot, { ...scope, keys: null }, keys) : [] };
}

function asPass(shot: Shot, action: Action, told: PlaySettings, s: Settings): Shot {
  const { shot: carrying, id } = withCarried(shot, action);
  const { start, end } = playedSpan(action.clip, shot.rate, told);
  const pass: Pass = {
    ...freshPass(shot, playPass, action.card.name),
    members: Object.keys(action.clip.curves),
    settings: { ...told, action: id },
    range: { start, end, easeIn: s.easeIn, easeOut: s.easeOut },
  };
  const stacked = { ...carrying, passes: [...carrying.passes, pass] };
  return s.beside === "" ? stacked : besideBand(shot, stacked, pass.id, s.beside);
}

/** A new band put into the row of another. */
function besideBand(before: Shot, shot: Shot, id: string, beside: string): Shot {
  const other = shot.passes.find((pass) => pass.id === beside && pass.kind === playPass.id);
  if (!other) throw new KneaderError("not-found", `Lay action: the shot has no band "${beside}".`, "Lay it in a row of its own.");
  const row = String(other.settings.row || `row-${beside}`);
  const passes = shot.passes.map((pass) => (pass.id === id || pass === other ? { ...pass, settings: { ...pass.settings, row } } : pass));
  return crossed(before, { ...shot, passes }, id);
}

async function asKeys(shot: Shot, scope: Scope, clip: Clip, told: PlaySettings, s: Settings, context: Context): Promise<Shot> {
  const span = playedSpan(clip, shot.rate, told);
  const present = layerCurves(shot, scope.layer);
  const ease = { ...span, easeIn: s.easeIn, easeOut: s.easeOut };
  const curves: Record<ChannelKey, Curve> = {};
  const played = Object.entries(playedCurves(clip, shot.rig, shot.rate, told));
  for (const [n, [key, curve]] of played.entries()) {
    await context.breathe(0.4 + (0.2 * n) / played.length);
    const keyed = told.rounds > 1 ? bakeRounds(curve, "out", told.rounds - 1) : curve;
    const whole = onWholeFrames(keyed, span);
    const there = present[key] ?? restingCurve(shot, scope.layer, key);
    const eased = there && s.as !== "insert" ? easeSpan(whole, there, key, ease) : whole;
    curves[key] = { ...eased, times: eased.times.map((time) => time - s.at) };
  }
  if (s.as === "replace") return replacing(shot, scope.layer, curves, s.at, span, context);
  const keys: Clip = { ...clip, rate: shot.rate, length: span.end - span.start, curves };
  const place = s.as === "pass" ? "replace" : s.as;
  const paste = pasteKeys.settings.parse({ keys, at: s.at, place, carry: s.carry && place === "insert", to: "same" });
  return (await pasteKeys.run(shot, { ...scope, keys: null }, paste, context)).shot;
}

/**
 * What a channel of base motion without keys is beside the span: at rest, as long as something plays there. Else what was laid would
 * be held all through the shot.
 */
function restingCurve({ range }: Shot, layer: string, key: ChannelKey): Curve | null {
  return layer === BASE ? constantCurve(restValue(splitChannelKey(key).channel), range.start) : null;
}

/** More than so many keys a frame came from a quicker rate. */
const DENSE = 1.5;

/** What has several keys a frame, as captures of a quicker rate have, with one on each of the shot's frames. */
function onWholeFrames(curve: Curve, { start, end }: FrameRange): Curve {
  const [first, last] = [Math.ceil(start - 1e-6), Math.floor(end + 1e-6)];
  const count = last - first + 1;
  if (count < 2 || curve.times.length < DENSE * count) return curve;
  return curveFromSamples(first, sampleInto(curve, first, 1, new Float64Array(count)));
}

/** Keys in place of what a span held. The motion before and after it stays what it was. */
async function replacing(
  shot: Shot,
  layer: string,
  curves: Readonly<Record<ChannelKey, Curve>>,
  at: number,
  span: FrameRange,
  context: Context,
): Promise<Shot> {
  const present = layerCurves(shot, layer);
  const changed: Record<ChannelKey, Curve> = {};
  const all = Object.entries(curves);
  for (const [n, [key, curve]] of all.entries()) {
    await context.breathe(0.6 + (0.2 * n) / all.length);
    const laid = { ...curve, times: curve.times.map((time) => time + at) };
    const there = present[key] ?? restingCurve(shot, layer, key);
    changed[key] = there ? inSpan(there, laid, span) : laid;
  }
  return changeCurves(shot, layer, changed);
}

/** The feet held over the span, as Plant holds them. */
async function plantFeet(shot: Shot, { start, end }: { start: number; end: number }, context: Context) {
  const feet = limbEnds(shot.rig, "feet").map(({ id }) => id);
  const scope: Scope = { controls: feet.length > 0 ? feet : null, channels: null, keys: null, range: { start, end }, layer: BASE };
  const at = { shot, scope: { ...scope, controls: null }, frame: start, copiedPose: null, copiedKeys: null, poseShare: 1 };
  return plantEnds.run(shot, scope, plantEnds.settings.parse({ ...plantEnds.situation?.(at), find: "found" }), context);
}
