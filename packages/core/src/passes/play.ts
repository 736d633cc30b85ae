import { z } from "zod";
import { type Curve, HOLD, type Key, keysOf } from "../curve/curve.ts";
import { clipCurve } from "../curve/edit.ts";
import { curveKeeping } from "../curve/make.ts";
import { sampleCurve } from "../curve/track.ts";
import { KneaderError } from "../errors.ts";
import { carryStand, type Stand, standOf } from "../figure/carryStand.ts";
import type { Action } from "../model/action.ts";
import type { Clip } from "../model/clip.ts";
import { type ChannelKey, channelKey, type Control, moveChannels, restValue, type Rig, splitChannelKey } from "../model/rig.ts";
import type { Pass, Shot } from "../model/shot.ts";
import { framesPerSecond, type Rate } from "../model/rate.ts";
import type { MotionPassKind } from "./passKind.ts";

const NAME = "Play";

const stand = z.object({ x: z.number(), z: z.number(), heading: z.number() });

export const playSettings = z.object({
  action: z.string().min(1).meta({ title: "Plays", widget: "carried" }),
  start: z.number().default(1).meta({ title: "Starts at frame", unit: "frame", step: 1 }),
  from: z.number().min(0).default(0).meta({ title: "From its frame", unit: "frame", step: 1, help: "Counted from its first, which is 0." }),
  to: z.number().min(0).default(24).meta({ title: "To its frame", unit: "frame", step: 1 }),
  speed: z.number().min(1).max(10000).default(100).meta({ title: "Speed", unit: "percent", max: 400, step: 5 }),
  rounds: z
    .number()
    .int()
    .min(1)
    .max(1000)
    .default(1)
    .meta({ title: "Times", max: 20, step: 1, help: "How often it is played, one round after another." }),
  travels: z.boolean().default(true).meta({
    title: "Each round goes on from the last",
    help: "Place and heading of what travels; else each round begins where the first did.",
  }),
  joins: z
    .enum(["replaces", "first", "rest"])
    .default("replaces")
    .meta({
      title: "What is below",
      labels: { replaces: "Replaced", first: "Kept, its change from its first frame added", rest: "Kept, its change from rest added" },
    }),
  /** What travels (by control) and stood at `from` stands at `to`: carried on from there. */
  stands: z
    .record(z.string(), z.object({ from: stand, to: stand, match: z.number().default(0) }))
    .readonly()
    .default({}),
  /** Bands of one row, drawn side by side; where two overlap the one goes over into the other. */
  row: z.string().default(""),
});
export type PlaySettings = z.infer<typeof playSettings>;

/** What a pass of this kind is told. */
export const playOf = (pass: Pass): PlaySettings => playSettings.parse(pass.settings);

/** The action a pass plays, as the shot carries it. */
export function playedAction(shot: Pick<Shot, "actions">, pass: Pass): Action | undefined {
  return shot.actions.find(({ card }) => card.id === pass.settings.action);
}

/** Frames of the shot that a frame of a clip takes. */
export const stretchOf = (clip: Pick<Clip, "rate">, rate: Rate, speed: number): number =>
  (framesPerSecond(rate) / framesPerSecond(clip.rate)) * (100 / speed);

/** The span a pass plays over, in frames of the shot. */
export function playedSpan(
  clip: Pick<Clip, "rate">,
  rate: Rate,
  { start, from, to, speed, rounds }: PlaySettings,
): { start: number; end: number } {
  return { start, end: start + (to - from) * stretchOf(clip, rate, speed) * rounds };
}

/**
 * The curves with which an action is played: its own keys between its two frames, in the shot's frames, round after
 * round. They are the keys it would be turned into, so that nothing differs by a rounding.
 */
export function playedCurves(clip: Clip, rig: Rig, rate: Rate, told: PlaySettings): Record<ChannelKey, Curve> {
  const { start, from, to, speed, rounds, travels, joins, stands } = told;
  const stretch = stretchOf(clip, rate, speed);
  const period = (to - from) * stretch;
  const isPart = from > 0 || to < clip.length || rounds > 1;
  const own = new Map(
    Object.entries(clip.curves).map(([key, curve]) => {
      const part = isPart && to > from ? clipCurve(curve, from, to) : curve;
      return [key, placed(part, from, start, stretch)] as const;
    }),
  );
  const travellers = travellersIn(clip, rig);
  for (const control of travellers) {
    const way = stands[control.id];
    if (!way) continue;
    for (const [key, curve] of Object.entries(
      carryStand(control, ofControl(own, control), way.from, way.to, [start + (way.match - from) * stretch]),
    ))
      own.set(key, curve);
  }
  const curves: Record<ChannelKey, Curve> = {};
  for (const [key, curve] of own)
    curves[key] = rounds > 1 && period > 0 ? { ...curve, runOut: { kind: "repeat" as const, rounds: rounds - 1 } } : curve;
  if (rounds > 1 && travels && period > 0)
    for (const control of travellers) Object.assign(curves, travelling(control, own, start, period, rounds));
  if (joins === "replaces") return curves;
  for (const [key, curve] of Object.entries(curves)) {
    const zero = joins === "rest" ? restValue(splitChannelKey(key).channel) : sampleCurve(curve, start);
    curves[key] = raised(curve, -zero);
  }
  return curves;
}

function placed(curve: Curve, from: number, start: number, stretch: number): Curve {
  if (stretch === 1 && start === from) return { ...curve, runIn: HOLD, runOut: HOLD };
  return {
    ...curve,
    times: curve.times.map((time) => start + (time - from) * stretch),
    slopeIn: stretch === 1 ? curve.slopeIn : curve.slopeIn.map((slope) => slope / stretch),
    slopeOut: stretch === 1 ? curve.slopeOut : curve.slopeOut.map((slope) => slope / stretch),
    runIn: HOLD,
    runOut: HOLD,
  };
}

/** The controls of a clip that go through the world: those with moves that hang on nothing else it moves. */
export function travellersIn(clip: Pick<Clip, "curves">, rig: Rig): Control[] {
  const moved = new Set(Object.keys(clip.curves).map((key) => splitChannelKey(key).control));
  const byId = new Map(rig.controls.map((control) => [control.id, control]));
  return rig.controls.filter((control) => {
    if (!moveChannels.some((channel) => channelKey(control.id, channel) in clip.curves)) return false;
    for (let at = control.parent; at !== null; at = byId.get(at)?.parent ?? null) if (moved.has(at)) return false;
    return true;
  });
}

type Own = ReadonlyMap<ChannelKey, Curve>;

const ofControl = (own: Own, control: Control) =>
  Object.fromEntries([...own].filter(([key]) => splitChannelKey(key).control === control.id));

/** Where a control stands at a time, as its curves say. */
export function standIn(control: Control, curves: Readonly<Record<ChannelKey, Curve>>, time: number): Stand {
  return standOf(control, (channel) => {
    const curve = curves[channelKey(control.id, channel)];
    return curve ? sampleCurve(curve, time) : restValue(channel);
  });
}

/** Headings nearer than this (degrees) are the same. */
const SAME_HEADING = 1e-9;

/** Rounds of what travels: each goes on from where the one before it ended, turned as that had turned. */
function travelling(control: Control, own: Own, start: number, period: number, rounds: number): Record<ChannelKey, Curve> {
  const curves = ofControl(own, control);
  const [first, last] = [standIn(control, curves, start), standIn(control, curves, start + period)];
  const up = channelKey(control.id, "moveY");
  if (Math.abs(last.heading - first.heading) < SAME_HEADING)
    return Object.fromEntries(
      moveChannels.flatMap((channel) => {
        const key = channelKey(control.id, channel);
        return curves[key] ? [[key, { ...curves[key], runOut: { kind: "travel" as const, rounds: rounds - 1 } }]] : [];
      }),
    );
  // Keys are gathered, and each curve is made once: thousands of rounds take their time once, not once a round.
  const keys = new Map(Object.entries(curves).map(([key, curve]) => [key, keysOf(curve)]));
  let piece = curves;
  for (let round = 1; round < rounds; round++) {
    const seam = start + round * period;
    const next = Object.fromEntries(
      Object.entries(curves).map(([key, curve]) => [key, { ...curve, times: curve.times.map((time) => time + round * period) }]),
    );
    const going = carryStand(control, next, standIn(control, next, seam), standIn(control, piece, seam));
    if (next[up]) going[up] = raised(next[up], sampleCurve(piece[up], seam) - sampleCurve(next[up], seam));
    piece = { ...next, ...going };
    for (const [key, before] of keys) join(before, keysOf(piece[key]));
  }
  return Object.fromEntries([...keys].map(([key, all]) => [key, curveKeeping(all)]));
}

const raised = (curve: Curve, by: number): Curve => (by === 0 ? curve : { ...curve, values: curve.values.map((value) => value + by) });

/** Put a curve's keys after those of one that ends where it begins: there one key is both. */
function join(before: Key[], [joint, ...others]: readonly Key[]): void {
  const last = before[before.length - 1];
  if (Math.abs(joint.time - last.time) > 1e-6) before.push(joint);
  else {
    const { slopeOut, weightOut, kindOut } = joint;
    before[before.length - 1] = { ...last, slopeOut, weightOut, kindOut };
  }
  before.push(...others);
}

const known = new WeakMap<Pass["settings"], { clip: Clip; rig: Rig; rate: Rate; curves: Record<ChannelKey, Curve> }>();

function curvesOf({ settings }: Pass, { clip }: Action, { rig, rate }: Shot): Record<ChannelKey, Curve> {
  const last = known.get(settings);
  if (last && last.clip === clip && last.rig === rig && last.rate === rate) return last.curves;
  const curves = playedCurves(clip, rig, rate, playSettings.parse(settings));
  known.set(settings, { clip, rig, rate, curves });
  return curves;
}

/** Plays an action: its keys are read where the pass says, and stay one thing. */
export const playPass: MotionPassKind = {
  id: "play",
  title: "Plays an action",
  help: "Plays an action that the shot carries: moved, trimmed, repeated and dialled as one thing, and turned into keys at any time.",
  reads: "motion",
  joins: ({ settings }) => (settings.joins === "replaces" || settings.joins === undefined ? "replaces" : "adds"),
  madeBy: "play-band",
  own: { name: NAME, channels: [] },
  settings: playSettings,
  brings: ({ members }) => members ?? [],
  compute(pass, { shot }, members) {
    const action = playedAction(shot, pass);
    if (!action) return {};
    const curves = curvesOf(pass, action, shot);
    return Object.fromEntries(members.flatMap((key) => (key in curves ? [[key, curves[key]]] : [])));
  },
  grown(settings, factor, controls) {
    const larger = ({ x, z: depth, heading }: Stand): Stand => ({ x: x * factor, z: depth * factor, heading });
    const stands = Object.entries((settings.stands ?? {}) as PlaySettings["stands"]).map(
      ([id, { from, to, match }]) => [id, controls.has(id) ? { from: larger(from), to: larger(to), match } : { from, to, match }] as const,
    );
    return { ...settings, stands: Object.fromEntries(stands) };
  },
  retimed(pass, to) {
    const { start, speed } = playOf(pass);
    const end = pass.range?.end ?? start;
    const [first, last] = [to(start), to(end)];
    const longer = end > start && last > first ? (last - first) / (end - start) : 1;
    return { ...pass, settings: { ...pass.settings, start: first, speed: Math.min(10000, Math.max(1, speed / longer)) } };
  },
  checked(pass) {
    const read = playSettings.safeParse(pass.settings);
    if (!read.success) throw new KneaderError("bad-setting", `"${pass.name}": ${read.error.issues[0].message}.`, "Give it another value.");
    if (read.data.to < read.data.from) throw new KneaderError("bad-setting", `"${pass.name}" would end before it starts.`, "Trim it less.");
    return pass;
  },
};
