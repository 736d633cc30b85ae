import { z } from "zod";
import { KneaderError } from "../../errors.ts";
import { makeMirrorer, type PoseValues } from "../../figure/mirror.ts";
import { type ChannelKey, channelKey, controlById, restValue, splitChannelKey } from "../../model/rig.ts";
import { BASE, layerCurves, type Shot } from "../../model/shot.ts";
import { countedWord } from "../../words.ts";
import type { Operation, Scope } from "../operation.ts";
import { keyChannels } from "../shared/keyChannels.ts";
import { layerPose } from "../shared/layerPose.ts";
import { mirrorReport } from "../shared/mirrorReport.ts";
import { mirrorOptions, poseMirror } from "../shared/mirrorSettings.ts";
import { overwrittenKeys, sayOverwritten } from "../shared/overwritten.ts";
import { sayKeyed } from "../shared/sayKeyed.ts";
import { needSomething, outcome, wantedChannels } from "../shared/scope.ts";

const settings = z.object({
  frames: z.array(z.number()).default([]).meta({ title: "Poses of frames", widget: "frames" }),
  ...poseMirror,
});

/** Mirror poses where they stand. */
export const mirrorPose: Operation<z.infer<typeof settings>> = {
  id: "mirror-pose",
  title: "Mirror pose",
  group: "Poses",
  help: "Left and right change sides in the poses of some frames, in place; of picked controls, each takes its partner's mirror image.",
  guide: {
    use: "Turns a pose to the other side where it stands: the whole figure, or only the parts that are picked.",
    watch: "Keys there are overwritten; who has no partner and who lands beside its reflection is listed.",
  },
  movesPoses: true,
  ofLayerAlone: true,
  words: "flip reflect symmetry left right swap sides opposite partner in place",
  suits: ["picked poses"],
  leaves: ["range"],
  settings,
  situation: ({ frame, pickedPoses = [] }) => ({ frames: pickedPoses.length > 0 ? [...pickedPoses] : [frame] }),
  async run(shot, scope, s) {
    if (s.frames.length === 0) throw new KneaderError("bad-setting", "Mirror pose: no frame is given.", "Add the frames of the poses.");
    const options = mirrorOptions(shot, s);
    const mirrorer = makeMirrorer(shot.rig, options);
    const frames = [...new Set(s.frames)].sort((a, b) => a - b);
    const overwritten: Record<ChannelKey, number[]> = {};
    const keyed = new Set<ChannelKey>();
    let after = shot;
    for (const frame of frames) {
      const pose = layerPose(shot, scope.layer, frame);
      const before = after;
      const values = imageFor(shot, scope, pose, mirrorer.pose(pose, pose), options.leftOut);
      after = keyChannels(after, scope.layer, frame, values);
      for (const key of Object.keys(values)) keyed.add(key);
      for (const [key, times] of Object.entries(overwrittenKeys(before, after, scope.layer, { start: frame, end: frame })))
        overwritten[key] = [...(overwritten[key] ?? []), ...times];
    }
    needSomething([...keyed], "Mirror pose");
    const found = mirrorReport(
      shot,
      after,
      scope,
      frames.map((frame) => [frame, frame]),
      options,
    );
    const what = frames.length === 1 ? `the pose of frame ${frames[0]}` : `${countedWord(frames.length, "pose")}`;
    return outcome(shot, after, `Mirrored ${what}`, {
      warnings: [...sayOverwritten(overwritten), ...found.warnings],
      notes: [...found.notes, ...sayKeyed(shot, scope.layer, frames[0], [...keyed])],
      off: found.off,
      overwritten,
    });
  },
};

/** What is keyed of an image: channels in scope that have a curve, or that the image gives another value; nothing that is not mirrored. */
export function imageFor(
  shot: Shot,
  scope: Scope,
  present: PoseValues,
  image: PoseValues,
  leftOut: readonly string[] = [],
): Record<ChannelKey, number> {
  const curves = layerCurves(shot, scope.layer);
  const out = new Set(leftOut);
  const isMirrored = (key: ChannelKey) => {
    const control = controlById(shot.rig, splitChannelKey(key).control);
    return control !== undefined && control.partner !== null && control.mirror !== "left out" && !out.has(control.id);
  };
  // A scale that a pass does not change has no image: nothing is added to it.
  const hasImage = (key: ChannelKey) => {
    const { control, channel } = splitChannelKey(key);
    const partner = controlById(shot.rig, control)?.partner ?? control;
    return key in image && (scope.layer === BASE || !channel.startsWith("scale") || channelKey(partner, channel) in curves);
  };
  const differs = (key: ChannelKey) => Math.abs((image[key] ?? 0) - (present[key] ?? restValue(splitChannelKey(key).channel))) > 1e-9;
  return Object.fromEntries(
    wantedChannels(shot, scope)
      .filter((key) => hasImage(key) && isMirrored(key) && (key in curves || differs(key)))
      .map((key) => [key, image[key]]),
  );
}
