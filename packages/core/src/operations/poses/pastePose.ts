import { z } from "zod";
import { makeMirrorer } from "../../figure/mirror.ts";
import { type ChannelKey, restValue, splitChannelKey } from "../../model/rig.ts";
import { layerCurves } from "../../model/shot.ts";
import type { Operation } from "../operation.ts";
import { keyChannels } from "../shared/keyChannels.ts";
import { layerPose } from "../shared/layerPose.ts";
import { mirrorReport } from "../shared/mirrorReport.ts";
import { mirrorIfWished, mirrorOptions } from "../shared/mirrorSettings.ts";
import { overwrittenKeys, sayOverwritten } from "../shared/overwritten.ts";
import { sayKeyed } from "../shared/sayKeyed.ts";
import { needSomething, outcome, wantedChannels } from "../shared/scope.ts";
import { imageFor } from "./mirrorPose.ts";

const settings = z.object({
  from: z.number().default(1).meta({ title: "Pose of frame", unit: "frame", step: 1 }),
  to: z.number().default(1).meta({ title: "Paste at frame", unit: "frame", step: 1 }),
  mirrored: z
    .boolean()
    .default(true)
    .meta({ title: "Mirrored", help: "Left and right exchanged; the heading and the place of the figure stay." }),
  ...mirrorIfWished,
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
  movesPoses: true,
  words: "copy mirror flip opposite partner mirrored symmetry swap sides",
  suits: ["picked poses"],
  leaves: ["range"],
  settings,
  situation: ({ copiedPose, frame }) => ({ from: copiedPose ?? frame, to: frame }),
  async run(shot, scope, s) {
    const pose = layerPose(shot, scope.layer, s.from);
    const present = layerPose(shot, scope.layer, s.to);
    const curves = layerCurves(shot, scope.layer);
    const options = mirrorOptions(shot, s);
    // A channel without keys is given one where the pose differs from what it has.
    const differs = (key: ChannelKey) => Math.abs((pose[key] ?? 0) - (present[key] ?? restValue(splitChannelKey(key).channel))) > 1e-9;
    const values = s.mirrored
      ? imageFor(shot, scope, present, makeMirrorer(shot.rig, options).pose(pose, present), options.leftOut)
      : Object.fromEntries(
          wantedChannels(shot, scope)
            .filter((key) => key in pose && (key in curves || differs(key)))
            .map((key) => [key, pose[key]]),
        );
    const able = Object.keys(values);
    needSomething(able, "Paste pose");
    const after = keyChannels(shot, scope.layer, s.to, values);
    const overwritten = overwrittenKeys(shot, after, scope.layer, { start: s.to, end: s.to });
    const found = s.mirrored ? mirrorReport(shot, after, scope, [[s.from, s.to]], options) : { warnings: [], notes: [], off: [] };
    return outcome(shot, after, `Pasted the pose of frame ${s.from}${s.mirrored ? " mirrored" : ""} at ${s.to}`, {
      warnings: [...sayOverwritten(overwritten), ...found.warnings],
      notes: [...found.notes, ...sayKeyed(shot, scope.layer, s.to, able)],
      off: found.off,
      overwritten,
    });
  },
};
