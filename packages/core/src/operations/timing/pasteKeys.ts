import { z } from "zod";
import { matchClip } from "../../actions/matchClip.ts";
import { countedWord, listed } from "../../words.ts";
import type { Curve } from "../../curve/curve.ts";
import { keptKeys } from "../../curve/someKeys.ts";
import { keeping } from "../../curve/make.ts";
import { sealRange } from "../../curve/sealRange.ts";
import type { Clip } from "../../model/clip.ts";
import { clipSchema } from "../../formats/clipText.ts";
import type { ChannelKey } from "../../model/rig.ts";
import { BASE, layerCurves, type Shot } from "../../model/shot.ts";
import { carryClip, carryLater } from "./carryClip.ts";
import { clipPairs } from "./clipPairs.ts";
import { holdAt } from "./insertHold.ts";
import { joinCurve } from "../shared/joinCurve.ts";
import type { Operation, Scope } from "../operation.ts";
import { mirrorIfWished, mirrorOptions } from "../shared/mirrorSettings.ts";
import { mirrorReport } from "../shared/mirrorReport.ts";
import { prepareClip } from "./prepareClip.ts";
import { retime } from "./retime.ts";
import { changeCurves, channelsMeant, outcome } from "../shared/scope.ts";

const settings = z.object({
  keys: clipSchema.meta({ title: "Copied", widget: "clip" }),
  at: z.number().min(-1e6).max(1e6).default(1).meta({ title: "Starts at frame", unit: "frame", step: 1 }),
  place: z
    .enum(["merge", "replace", "insert", "whole"])
    .default("merge")
    .meta({
      title: "Existing keys",
      labels: {
        merge: "Kept, but not at the same frames",
        replace: "Replaced within the span",
        insert: "Kept, and moved later to make room",
        whole: "Replaced, all of them",
      },
    }),
  carry: z.boolean().default(true).meta({
    title: "Carry on",
    help: "Position and heading of what travels go on from where the figure is, instead of jumping back to where they were copied.",
  }),
  takes: z
    .number()
    .min(1)
    .max(10000)
    .default(100)
    .meta({ title: "Length", unit: "percent", max: 400, step: 5, help: "Of its own: 200 % is half as fast." }),
  reversed: z.boolean().default(false).meta({ title: "Reversed" }),
  mirrored: z.boolean().default(false).meta({ title: "Mirrored", help: "Left and right exchanged." }),
  ...mirrorIfWished,
  to: z
    .enum(["same", "picked"])
    .default("same")
    .meta({ title: "Onto", labels: { same: "The same channels, by name", picked: "What is picked, in order" } }),
  order: z
    .array(z.string())
    .default([])
    .meta({ title: "In this order", widget: "order", when: { to: "picked" }, help: "Drag to change what goes where." }),
});

type Settings = z.infer<typeof settings>;

/** Settings with which a clip is pasted unless others are chosen: keys at a frame, whole curves where they were. */
function pasteSettings(clip: Clip, frame: number): Partial<z.infer<typeof settings>> {
  return {
    keys: clip,
    at: clip.whole ? clip.from : frame,
    place: clip.whole ? "whole" : "merge",
    order: Object.keys(clip.curves),
  };
}

/** Put copied keys into the shot. */
export const pasteKeys: Operation<Settings> = {
  id: "paste-keys",
  title: "Paste keys",
  group: "Timing",
  help: "Puts copied keys, curves or poses at a frame: onto the same channels or those picked, reversed, mirrored or stretched; what travels carries on.",
  guide: {
    use: "Puts copied motion anywhere: after itself, mirrored, backward, on other controls. What travels carries on from where the figure is.",
    watch: "The card says what it replaces. Carry on names the channels it concerns.",
  },
  movesPoses: true,
  words: "copy insert merge replace clipboard ripple carry on duplicate append after mirrored",
  suits: ["copied keys"],
  leaves: ["range"],
  settings,
  needs: ["copied keys"],
  situation: ({ shot, scope, copiedKeys, frame }) =>
    copiedKeys ? { ...pasteSettings(copiedKeys, frame), to: isForOthers(shot, scope, copiedKeys) ? "picked" : "same" } : {},
  async run(shot, scope, s) {
    const clip = prepareClip(shot, s);
    const { pairs, missing, scenery } = clipPairs(shot, { ...scope, keys: null }, clip, s);
    const end = s.at + clip.length;
    const opened = s.place === "insert" ? makeRoom(shot, scope, [...pairs.values()], s.at, clip.length) : shot;
    const curves = layerCurves(opened, scope.layer);
    const laid = new Map([...pairs].map(([from, to]) => [to, shiftedBy(clip.curves[from], s.at)]));
    const changed: Record<ChannelKey, Curve> = {};
    const carries = s.carry && scope.layer === BASE && s.place !== "whole";
    const notes = carries ? carryClip(shot, curves, laid, s.at, end) : [];
    for (const [key, curve] of laid) changed[key] = placed(curves[key], curve, s, end);
    if (carries && s.place === "insert") carryLater(shot, curves, changed, laid, s.at, end);
    const after = changeCurves(opened, scope.layer, changed);
    const grown = Math.max(after.range.end, Math.ceil(end - 1e-6));
    if (grown > shot.range.end) notes.push(`The shot now ends at frame ${grown}.`);
    const count = [...laid.values()].reduce((sum, curve) => sum + curve.times.length, 0);
    const warnings =
      missing.length > 0
        ? [`${missing.length} of ${countedWord(Object.keys(clip.curves).length, "curve")} have no place here: ${listed(missing)}.`]
        : [];
    const summary = `Pasted ${countedWord(count, "key")} on ${laid.size} ${laid.size === 1 ? "curve" : "curves"}, frames ${s.at} to ${round(end)}`;
    const whole = { ...after, range: { start: shot.range.start, end: grown } };
    const told = s.mirrored ? mirrorReport(shot, whole, scope, [], mirrorOptions(shot, s)) : { warnings: [], notes: [] };
    return outcome(shot, whole, summary, {
      warnings: [...warnings, ...told.warnings, ...scenery],
      notes: [...notes, ...told.notes],
    });
  },
};

/** Is something picked, and none of it what was copied? Then the keys are meant for that. */
function isForOthers(shot: Shot, scope: Scope, clip: Clip): boolean {
  if (scope.controls === null && scope.channels === null) return false;
  const meant = new Set(channelsMeant(shot, { ...scope, keys: null }));
  return meant.size > 0 && ![...matchClip(clip, shot.rig).matched.values()].some((key) => meant.has(key));
}

/** Everything after a frame moved later, the pose at it held meanwhile: the whole shot, or only the curves pasted onto. */
function makeRoom(shot: Shot, scope: Scope, targets: readonly ChannelKey[], at: number, length: number): Shot {
  if (length <= 0) return shot;
  const curves = layerCurves(shot, scope.layer);
  const held = (curve: Curve) => holdAt(curve, at, length);
  return retime(
    shot,
    scope,
    targets.filter((key) => key in curves),
    held,
    (frame) => (frame > at ? frame + length : frame),
  );
}

function placed(present: Curve | undefined, laid: Curve, { place, at }: Settings, end: number): Curve {
  if (place !== "insert" || !present) return joinCurve(present, laid, place === "insert" ? "merge" : place);
  // What was held to make room gives way, also where the pasted curve has no key at its ends.
  const room = keeping(keptKeys(present, (time) => time <= at + 1e-6 || time >= end - 1e-6));
  return sealRange(room, joinCurve(room, laid, "replace"), { start: at, end });
}

function shiftedBy(curve: Curve, frames: number): Curve {
  return frames === 0 ? curve : { ...curve, times: curve.times.map((time) => time + frames) };
}

const round = (frame: number) => Math.round(frame * 100) / 100;
