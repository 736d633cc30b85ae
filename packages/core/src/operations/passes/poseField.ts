import type { z } from "zod";
import { fitClip } from "../../actions/fitClip.ts";
import { sampleCurve } from "../../curve/track.ts";
import { makePlayer } from "../../evaluate/makePlayer.ts";
import type { Clip } from "../../model/clip.ts";
import { type ChannelKey, channelKey, figureControls, splitChannelKey } from "../../model/rig.ts";
import { type Pass, type Shot, withPass } from "../../model/shot.ts";
import { KneaderError } from "../../errors.ts";
import { fieldPass, type FieldPose, fieldSettings } from "../../passes/field.ts";
import { countedWord } from "../../words.ts";
import type { Operation, Scope, Situation } from "../operation.ts";
import { findPoses } from "../poses/poses.ts";
import { travellers } from "../../figure/carryOn.ts";
import { channelsMeant, isWhole, outcome } from "../shared/scope.ts";
import { freshPass } from "./computedPass.ts";

type Settings = z.infer<typeof fieldSettings>;

/** Lay poses on a plane and blend them; with a field chosen it is shaped anew. */
export const poseField: Operation<Settings> = {
  id: "pose-field",
  title: "Pose field",
  group: "Passes",
  help: "Adds a pass that blends poses lying on a small plane, by where a spot is among them. The spot is keyed or recorded; its path is a curve like any other.",
  guide: {
    use: "A performance is found by moving a spot among a few poses: a brow, a wary head, a whole attitude. The poses can be changed afterwards.",
    watch:
      "It takes the place of what is below on what its poses move. Mark a range with ease, or pick the upper body first, to leave the rest alone.",
  },
  words: "blend poses mix performance record spot plane attitude expression pass computed",
  suits: ["picked poses"],
  leaves: ["layer", "range"],
  settings: fieldSettings,
  situation: (at) => chosenField(at.shot, at.scope)?.settings ?? proposed(at),
  async run(shot, scope, settings) {
    const chosen = chosenField(shot, scope);
    refuseStrangers(shot, settings);
    if (chosen) {
      const after = withPass(shot, chosen.id, (pass) => ({ ...pass, settings: { ...settings } }));
      return outcome(shot, after, `${chosen.name} shaped anew`);
    }
    const members = fieldMembers(shot, scope);
    const pass: Pass = {
      ...freshPass(shot, fieldPass, fieldPass.title),
      members,
      settings: { ...settings },
      range: scope.range && { ...scope.range, easeIn: 0, easeOut: 0 },
    };
    const controls = new Set(members.map((key) => splitChannelKey(key).control)).size;
    return outcome(
      shot,
      { ...shot, passes: [...shot.passes, pass] },
      `${pass.name} of ${countedWord(settings.field.poses.length, "pose")} on ${countedWord(controls, "control")}`,
    );
  },
};

const chosenField = (shot: Shot, scope: Scope) => shot.passes.find(({ id, kind }) => id === scope.layer && kind === fieldPass.id);

/** What a field works on: what is picked; of the whole figure all but where it stands, so that it is not carried back. */
function fieldMembers(shot: Shot, scope: Scope): ChannelKey[] {
  const meant = channelsMeant(shot, { ...scope, layer: "base", keys: null });
  if (!isWhole({ ...scope, keys: null })) return meant;
  const going = new Set(travellers(shot.rig).map(({ id }) => id));
  const left = meant.filter((key) => !going.has(splitChannelKey(key).control));
  return left.length > 0 ? left : meant;
}

/** Poses that have nothing to do with this rig are refused. */
function refuseStrangers({ rig }: Shot, { field }: Settings): void {
  const known = new Set(rig.controls.flatMap(({ id, channels }) => channels.map((channel) => channelKey(id, channel))));
  for (const { name, values } of field.poses)
    if (!Object.keys(values).some((key) => known.has(key)))
      throw new KneaderError(
        "no-match",
        `Pose field: "${name}" is a pose of another rig: none of its controls is here.`,
        "Take a pose of this figure.",
      );
}

/** A frame's pose as it is seen, for laying on a field: every channel of the figure. */
export function poseOfFrame(shot: Shot, frame: number): Record<ChannelKey, number> {
  const player = makePlayer(shot);
  player.readValues(frame);
  const values: Record<ChannelKey, number> = {};
  for (const { id, channels } of figureControls(shot.rig))
    for (const channel of channels) {
      const key = channelKey(id, channel);
      // Files know no negative zero.
      values[key] = player.values[player.channelIndex.get(key) as number] + 0;
    }
  return values;
}

/** The pose of a clip at a time of it (frames from its start), fitted to a rig. Errors: `no-match`. */
export function poseOfClip(clip: Clip, { rig }: Pick<Shot, "rig">, time: number): Record<ChannelKey, number> {
  const fitted = fitClip(clip, rig).clip.curves;
  const values = Object.fromEntries(Object.entries(fitted).map(([key, curve]) => [key, sampleCurve(curve, time) + 0]));
  if (Object.keys(values).length === 0)
    throw new KneaderError("no-match", "None of its controls is in this rig.", "Choose an action of this figure.");
  return values;
}

/** So many key poses are proposed where none are picked. */
const FEW = 4;

/** Places on the plane for so many poses: round its middle, the first one at the top left. */
export function placeOnField(n: number, count: number): { x: number; y: number } {
  const angle = (-3 / 4 + (2 * n) / count) * Math.PI;
  const round = (value: number) => Math.round(value * 1000) / 1000;
  return { x: round(0.5 + 0.4 * Math.cos(angle)), y: round(0.5 + 0.4 * Math.sin(angle)) };
}

/** The picked poses on a plane, or a few of the key poses; frames spread over the shot where there are hardly any. */
function proposed({ shot, scope, poseShare, pickedPoses = [] }: Situation): Partial<Settings> {
  const keyed = findPoses(shot, { ...scope, layer: "base", controls: null, channels: null, keys: null }, poseShare).map(
    ({ frame }) => frame,
  );
  const step = Math.max(1, (keyed.length - 1) / (FEW - 1));
  const few = [...new Set(Array.from({ length: Math.min(FEW, keyed.length) }, (_, n) => keyed[Math.round(n * step)]))];
  const { start, end } = shot.range;
  const spread = [...new Set(Array.from({ length: FEW }, (_, n) => Math.round(start + (n * (end - start)) / FEW)))];
  const some = few.length > 2 ? few : spread.length > 1 ? spread : [start, end];
  const frames = pickedPoses.length > 1 ? [...pickedPoses].sort((a, b) => a - b) : some;
  const names = new Map(shot.poseMarks.map(({ frame, name }) => [frame, name]));
  const poses = frames.map(
    (frame, n): FieldPose => ({
      id: `pose-${n + 1}`,
      name: names.get(frame) || `Frame ${frame}`,
      ...placeOnField(n, frames.length),
      values: poseOfFrame(shot, frame),
    }),
  );
  return { field: { poses, spot: { x: 0.5, y: 0.5 } } };
}
