import { z } from "zod";
import { sampleCurve } from "../../curve/track.ts";
import { checkMirror } from "../../evaluate/checkMirror.ts";
import { readPose } from "../../evaluate/readPose.ts";
import { makeMirrorer, type PoseValues } from "../../figure/mirror.ts";
import { withoutPartner } from "../../figure/partners.ts";
import { type ChannelKey, controlById, restValue, splitChannelKey } from "../../model/rig.ts";
import { layerCurves, type Shot } from "../../model/shot.ts";
import { keyChannels } from "../shared/keyChannels.ts";
import { sayKeyed } from "../shared/sayKeyed.ts";
import type { Operation, Scope } from "../operation.ts";
import { isWholeFigure, needSomething, outcome, wantedChannels } from "../shared/scope.ts";
import { countedWord } from "../../words.ts";

const settings = z.object({
  from: z.number().default(1).meta({ title: "Pose of frame", unit: "frame", step: 1 }),
  to: z.number().default(1).meta({ title: "Paste at frame", unit: "frame", step: 1 }),
  mirrored: z
    .boolean()
    .default(true)
    .meta({ title: "Mirrored", help: "Left and right exchanged; the heading and the place of the figure stay." }),
});

/** Paste a pose, as it is or mirrored, at another frame. */
export const pastePose: Operation<z.infer<typeof settings>> = {
  id: "paste-pose",
  title: "Paste pose",
  group: "Poses",
  help: "Keys the pose of one frame at another, as it is or mirrored left to right.",
  guide: {
    use: "The same pose again later, or mirrored for the other side.",
    watch: "Keys at that frame are overwritten; who has no partner is named.",
  },
  words: "copy mirror flip opposite partner mirrored symmetry swap sides",
  suits: ["picked poses"],
  leaves: ["range"],
  settings,
  situation: ({ copiedPose, frame }) => ({ from: copiedPose ?? frame, to: frame }),
  async run(shot, scope, s) {
    const pose = layerPose(shot, scope, s.from);
    const present = layerPose(shot, scope, s.to);
    const image = s.mirrored ? makeMirrorer(shot.rig).pose(pose, present) : pose;
    const curves = layerCurves(shot, scope.layer);
    // A channel without keys is given one where the pose differs from what it has.
    const differs = (key: ChannelKey) => Math.abs((image[key] ?? 0) - (present[key] ?? restValue(splitChannelKey(key).channel))) > 1e-9;
    const targets = wantedChannels(shot, scope).filter((key) => key in image && (key in curves || differs(key)));
    // Controls that are never mirrored keep their own motion.
    const able = targets.filter((key) => !s.mirrored || controlById(shot.rig, splitChannelKey(key).control)?.partner !== null);
    needSomething(able, "Paste pose");
    const values = Object.fromEntries(able.map((key) => [key, image[key]]));
    const after = keyChannels(shot, scope.layer, s.to, values);
    const overwritten = able.filter((key) => curves[key]?.times.some((t) => Math.abs(t - s.to) < 1e-6)).length;
    const warnings: string[] = [];
    if (overwritten > 0) warnings.push(`${countedWord(overwritten, "key")} at frame ${s.to} were overwritten.`);
    if (s.mirrored) {
      const lonely = withoutPartner(shot.rig).map((control) => control.name);
      if (lonely.length > 0) warnings.push(`No partner for ${lonely.join(", ")}: left as it is.`);
      if (isWholeFigure(scope)) {
        const errors = checkMirror(shot, pose, layerPose(after, scope, s.to), 1e-3 * figureSize(shot));
        if (errors.length > 0) {
          const first = errors[0];
          warnings.push(
            `${countedWord(errors.length, "control")} land beside the reflection of their partner, ${controlById(shot.rig, first.control)?.name} by ${first.distance.toFixed(3)} units: their limbs differ in length, or what they hang on is locked or not mirrored.`,
          );
        }
      }
    }
    return outcome(shot, after, `Pasted the pose of frame ${s.from}${s.mirrored ? " mirrored" : ""} at ${s.to}`, {
      warnings,
      notes: sayKeyed(shot, scope.layer, s.to, able),
    });
  },
};

/** The layer's own values of a frame; channels without a curve have their rest value. */
function layerPose(shot: Shot, scope: Scope, frame: number): PoseValues {
  if (scope.layer === "base") return readPose(shot, frame, "base");
  const curves = layerCurves(shot, scope.layer);
  const values: PoseValues = {};
  for (const key in curves) values[key] = sampleCurve(curves[key], frame);
  return values;
}

/** A rough size: the longest way down the rig from a top control. */
function figureSize(shot: Shot): number {
  const reach = new Map<string, number>();
  let size = 0;
  for (const control of shot.rig.controls) {
    const above = control.parent === null ? 0 : (reach.get(control.parent) ?? 0);
    const length = control.parent === null ? 0 : Math.hypot(...control.rest);
    reach.set(control.id, above + length);
    size = Math.max(size, above + length);
  }
  return size || 1;
}
