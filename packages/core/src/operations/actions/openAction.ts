import { z } from "zod";
import type { Curve } from "../../curve/curve.ts";
import { sameCurve } from "../../curve/sameCurve.ts";
import { clipCurve } from "../../curve/edit.ts";
import { KneaderError } from "../../errors.ts";
import { carryStand } from "../../figure/carryStand.ts";
import type { Clip } from "../../model/clip.ts";
import { freshId } from "../../model/freshId.ts";
import { type ChannelKey, controlById, splitChannelKey } from "../../model/rig.ts";
import { makePass } from "../../model/shotFields.ts";
import type { Pass, Shot } from "../../model/shot.ts";
import { freeName } from "../../passes/editPasses.ts";
import { playedCurves, playOf, playPass, type PlaySettings, playSettings, stretchOf } from "../../passes/play.ts";
import { withSpan } from "../../passes/rows.ts";
import { countedWord } from "../../words.ts";
import type { Operation } from "../operation.ts";
import { outcome } from "../shared/scope.ts";
import { playedPass } from "./playedPass.ts";

/** What a pass knows that has an action's keys open. */
const opened = z.object({ opens: z.string(), silenced: z.array(z.string()), as: playSettings });

const usesOf = ({ passes }: Shot, id: string): Pass[] =>
  passes.filter(({ kind, settings }) => kind === playPass.id && settings.action === id);

/** Open the action of a played pass as keys, to be changed for all its uses. */
export const openAction: Operation<Record<string, never>> = {
  id: "open-action",
  title: "Open action",
  group: "Actions",
  help: "Shows the whole of the action that the chosen pass plays as keys of a pass of its own, where it plays; what plays it is off meanwhile. Put back, it is changed wherever it plays.",
  guide: {
    use: "One change to a blink or a step, in all the places where it plays.",
    watch: "It is the shot's own copy: what stands in the pantry stays as it is.",
  },
  words: "edit change inside unpack played band uses instances",
  needs: ["a played action"],
  leaves: ["controls", "range"],
  stacks: true,
  settings: z.object({}) as z.ZodType<Record<string, never>>,
  async run(shot, scope) {
    const { pass, action } = playedPass(shot, scope.layer, "Open action");
    const { start, from, speed, stands } = playOf(pass);
    const stretch = stretchOf(action.clip, shot.rate, speed);
    const as: PlaySettings = {
      ...playSettings.parse({ action: action.card.id, start: start - from * stretch, to: action.clip.length, speed }),
      stands,
    };
    const uses = usesOf(shot, action.card.id);
    const silenced = uses.filter(({ on }) => on).map(({ id }) => id);
    const curves = playedCurves(action.clip, shot.rig, shot.rate, as);
    const own: Pass = {
      ...makePass(freshId("pass"), freeName(shot, `${action.card.name}, open`), "replaces", curves),
      settings: { opens: action.card.id, silenced, as },
      solo: shot.passes.some(({ solo }) => solo),
    };
    const passes = [...shot.passes.map((one) => (uses.includes(one) ? { ...one, on: false } : one)), own];
    return outcome(shot, { ...shot, passes }, `Opened "${action.card.name}", which plays in ${countedWord(uses.length, "place")}`, {
      notes: ["Close action puts it back, changed wherever it plays."],
    });
  },
};

/** Put an action that was opened back, changed. */
export const closeAction: Operation<Record<string, never>> = {
  id: "close-action",
  title: "Close action",
  group: "Actions",
  help: "Puts an opened action back with the keys it has now: all passes that play it play them.",
  guide: {
    use: "Ends what Open action began: one change, everywhere it plays.",
    watch: "Keys before its first frame and after its last are cut off.",
  },
  words: "put back update apply edit played uses instances",
  needs: ["an opened action"],
  leaves: ["controls", "range", "layer"],
  stacks: true,
  settings: z.object({}) as z.ZodType<Record<string, never>>,
  async run(shot, scope) {
    const all = shot.passes.filter(({ settings }) => opened.safeParse(settings).success);
    const pass = all.find(({ id }) => id === scope.layer) ?? all[0];
    if (!pass) throw new KneaderError("nothing-in-scope", "Close action: no action is open.", "Open one from its band first.");
    const { opens, silenced, as } = opened.parse(pass.settings);
    const action = shot.actions.find(({ card }) => card.id === opens);
    if (!action)
      throw new KneaderError(
        "not-found",
        `Close action: the shot no longer carries what "${pass.name}" opened.`,
        "Keep its keys as a pass.",
      );
    const curves = putBack(shot, pass, action.clip, as);
    if (Object.keys(curves).length === 0)
      throw new KneaderError(
        "nothing-in-scope",
        `Close action: "${pass.name}" has no key left.`,
        "Undo, or remove the passes that play it.",
      );
    const clip: Clip = { ...action.clip, curves };
    const gained = Object.keys(curves).filter((key) => !(key in action.clip.curves));
    const off = new Set(silenced);
    const passes = shot.passes
      .filter((one) => one !== pass)
      .map((one) => {
        const isUse = one.kind === playPass.id && one.settings.action === opens;
        const wider = isUse && gained.length > 0 ? { ...one, members: [...(one.members ?? []), ...gained] } : one;
        return off.has(one.id) ? { ...wider, on: true } : wider;
      });
    const actions = shot.actions.map((one) => (one === action ? { ...action, clip } : one));
    const after: Shot = { ...shot, actions, passes };
    const settled: Shot = { ...after, passes: after.passes.map((one) => withSpan(after, one)) };
    const uses = usesOf(settled, opens).length;
    return outcome(shot, settled, `Changed "${action.card.name}" in ${countedWord(uses, "place")}`);
  },
};

/** The keys of an opened pass in the action's own frames, from its first to its last, begun where it was saved. */
function putBack(shot: Shot, pass: Pass, clip: Clip, as: PlaySettings): Record<ChannelKey, Curve> {
  const stretch = stretchOf(clip, shot.rate, as.speed);
  const before = playedCurves(clip, shot.rig, shot.rate, as);
  const own: Record<ChannelKey, Curve> = { ...pass.curves };
  // What nobody touched stays to the last bit.
  const same = new Set(Object.keys(own).filter((key) => before[key] && sameCurve(before[key], own[key])));
  for (const [id, { from, to }] of Object.entries(as.stands)) {
    const control = controlById(shot.rig, id);
    const curves = Object.fromEntries(Object.entries(own).filter(([key]) => splitChannelKey(key).control === id));
    if (!control || Object.keys(curves).every((key) => same.has(key))) continue;
    for (const key of Object.keys(curves)) same.delete(key);
    Object.assign(own, carryStand(control, curves, to, from));
  }
  return Object.fromEntries(
    Object.entries(own).flatMap(([key, curve]): [ChannelKey, Curve][] => {
      // A channel that only carrying on brought is none of the action's.
      if (same.has(key)) return clip.curves[key] ? [[key, clip.curves[key]]] : [];
      const back: Curve = {
        ...curve,
        times: curve.times.map((time) => (time - as.start) / stretch),
        slopeIn: curve.slopeIn.map((slope) => slope * stretch),
        slopeOut: curve.slopeOut.map((slope) => slope * stretch),
      };
      const isWithin = back.times[0] >= -1e-9 && back.times[back.times.length - 1] <= clip.length + 1e-9;
      return [[key, isWithin ? back : clipCurve(back, 0, clip.length)]];
    }),
  );
}
