import { z } from "zod";
import { captureClip } from "../../actions/captureClip.ts";
import { KneaderError } from "../../errors.ts";
import { type Action, withAbout } from "../../model/action.ts";
import { type Clip, figureWith } from "../../model/clip.ts";
import { freshId } from "../../model/freshId.ts";
import { BASE, type FrameRange, type Shot } from "../../model/shot.ts";
import { emptyShot } from "../../model/shotFields.ts";
import { playPass, playSettings } from "../../passes/play.ts";
import { withSpan } from "../../passes/rows.ts";
import { countedWord } from "../../words.ts";

import type { Context, Operation, Scope } from "../operation.ts";
import { freshPass } from "../passes/computedPass.ts";
import { cutKeys } from "../shared/cutKeys.ts";
import { channelsMeant, report, scopeRange } from "../shared/scope.ts";
import { fewestKeys } from "../spaces/fewestKeys.ts";
import { liftKeys } from "../timing/liftKeys.ts";
import { withCarried } from "./carriedCopies.ts";

const settings = z.object({
  name: z.string().trim().min(1).max(120).default("New action").meta({ title: "Name" }),
  what: z
    .enum(["range", "pose"])
    .default("range")
    .meta({ title: "Save", labels: { range: "The motion of the range, or the picked keys", pose: "One pose" } }),
  frame: z
    .number()
    .min(-1e6)
    .max(1e6)
    .default(1)
    .meta({ title: "Pose of frame", unit: "frame", step: 1, when: { what: "pose" } }),
  as: z
    .enum(["seen", "keyed"])
    .default("seen")
    .meta({
      title: "Motion",
      labels: { seen: "As seen: passes and constraints baked", keyed: "As keyed in the chosen layer" },
      help: "What no pass and no constraint touches keeps its keys either way.",
    }),
  rotation: z
    .number()
    .min(0)
    .max(90)
    .default(0.1)
    .meta({
      title: "What is baked turns within",
      unit: "degrees",
      max: 5,
      step: 0.05,
      when: { as: "seen", what: "range" },
      help: "By the fewest keys; at 0 it has one on every frame.",
    }),
  move: z
    .number()
    .min(0)
    .default(0.001)
    .meta({ title: "and moves within", unit: "length", max: 0.1, step: 0.001, when: { as: "seen", what: "range" } }),
  afterwards: z
    .enum(["stays", "taken", "played"])
    .default("stays")
    .meta({
      title: "In the shot its keys",
      labels: { stays: "Stay", taken: "Are taken off", played: "Give way to a pass that plays the action" },
      when: { what: "range" },
    }),
  folder: z
    .string()
    .trim()
    .min(1)
    .max(200)
    .default("My actions")
    .meta({ title: "Folder", widget: "folder", help: "Folders in folders are told apart by a slash." }),
  tags: z.array(z.string().trim().min(1).max(40)).max(20).default([]).meta({ title: "Tags" }),
  notes: z.string().max(4000).default("").meta({ title: "Notes", widget: "lines" }),
});
type Settings = z.infer<typeof settings>;

/** Save a range of motion for reuse. */
export const saveAction: Operation<Settings> = {
  id: "save-action",
  title: "Save as action",
  group: "Actions",
  help: "Saves the scope's motion over its range, its picked keys, or one pose as an action in the pantry.",
  guide: {
    use: "Motion that exists is never animated twice: a nod, a wave, a pose, kept for any shot.",
    watch: "It saves what is in scope over the marked range. Pick only the parts that belong to it.",
  },
  keepsShot: ({ what, afterwards }) => what === "pose" || afterwards === "stays",
  words: "pantry library reuse store pose clip record preset",
  suits: ["a marked range", "picked poses"],
  settings,
  makes: "action",
  situation: ({ frame }) => ({ frame }),
  async run(shot, scope, s, context) {
    const { clip, range } = s.what === "pose" ? poseOf(shot, scope, s) : await motionOf(shot, scope, s, context);
    const { name, notes, tags, folder } = s;
    const action = withAbout({ card: { id: freshId("action"), name, notes, tags, folder, savedAt: Date.now() }, clip });
    const count = countedWord(Object.keys(clip.curves).length, "curve");
    const over = s.what === "pose" ? `the pose of frame ${s.frame}` : `frames ${round(range.start)} to ${round(range.end)}`;
    const after = s.what === "pose" || s.afterwards === "stays" ? shot : withoutSaved(shot, scope, action, range, s.afterwards);
    const become =
      after === shot ? "" : s.afterwards === "taken" ? "; its keys are taken off the shot" : "; a pass plays it in place of its keys";
    return { shot: after, action, report: report(shot, after, `Saved "${name}": ${count}, ${over}${become}`) };
  },
};

const round = (frame: number) => Math.round(frame * 100) / 100;

interface Taken {
  readonly clip: Clip;
  readonly range: FrameRange;
}

/** The channels that are saved: of picked keys those that have some. */
const meant = (shot: Shot, scope: Scope) => channelsMeant(shot, scope.keys ? scope : { ...scope, keys: null });

function poseOf(shot: Shot, scope: Scope, { frame, as }: Settings): Taken {
  const range = { start: frame, end: frame };
  const from = as === "keyed" ? layerAlone(shot, scope.layer) : shot;
  return { clip: captureClip(from, meant(shot, { ...scope, keys: null }), range), range };
}

async function motionOf(shot: Shot, scope: Scope, s: Settings, context: Context): Promise<Taken> {
  if (scope.keys && s.as === "keyed") {
    const lifted = liftKeys(shot, scope);
    const clip = { ...lifted, whole: false, controls: figureWith(shot.rig, Object.keys(lifted.curves)) };
    return { clip, range: { start: lifted.from, end: lifted.from + lifted.length } };
  }
  const range = rangeOf(shot, scope);
  const channels = meant(shot, scope);
  if (s.as === "keyed") return { clip: captureClip(layerAlone(shot, scope.layer), channels, range), range };
  return { clip: await thinned(shot, captureClip(shot, channels, range), s, context), range };
}

/** The marked range; of picked keys, from the first to the last of them. */
function rangeOf(shot: Shot, scope: Scope): FrameRange {
  const times = Object.values(scope.keys ?? {}).flat();
  if (scope.range || times.length === 0) return scopeRange(shot, scope);
  return { start: Math.floor(Math.min(...times)), end: Math.ceil(Math.max(...times)) };
}

/** A layer's keys by themselves, as if nothing else were there. */
function layerAlone(shot: Shot, layer: string): Shot {
  const pass = shot.passes.find(({ id }) => id === layer);
  if (layer !== BASE && !pass)
    throw new KneaderError("nothing-in-scope", "Save action: the chosen layer has no keys of the figure.", "Choose base motion or a pass.");
  return { ...shot, base: pass ? pass.curves : shot.base, passes: [], constraints: [] };
}

/** What was baked, one key a frame, with the fewest keys within the tolerance; what kept its keys stays. */
async function thinned(shot: Shot, clip: Clip, s: Settings, context: Context): Promise<Clip> {
  const baked = Object.keys(clip.curves).filter(
    (key) => clip.curves[key].times.length === clip.length + 1 && clip.length > 1 && clip.curves[key] !== shot.base[key],
  );
  const dense = baked.filter((key) => (shot.base[key]?.times.length ?? 0) < clip.length / 2);
  if (dense.length === 0 || (s.rotation === 0 && s.move === 0)) return clip;
  const alone = emptyShot({ ...shot, passes: [], constraints: [], locked: [], range: { start: 0, end: clip.length }, base: clip.curves });
  return { ...clip, curves: (await fewestKeys(alone, dense, null, s, context)).base };
}

/** The shot without the keys that were saved, and on wish with a pass that plays them. */
function withoutSaved(shot: Shot, scope: Scope, action: Action, range: FrameRange, afterwards: "taken" | "played"): Shot {
  const cut = cutKeys(shot, { ...scope, range }).shot;
  if (afterwards === "taken") return cut;
  const { shot: carrying, id } = withCarried(cut, action);
  const told = playSettings.parse({ action: id, start: range.start, to: action.clip.length });
  const pass = { ...freshPass(shot, playPass, action.card.name), members: Object.keys(action.clip.curves), settings: { ...told } };
  return { ...carrying, passes: [...carrying.passes, withSpan(carrying, pass)] };
}
