import { z } from "zod";
import { warpTimes } from "../../curve/warpTimes.ts";
import { KneaderError } from "../../errors.ts";
import type { Operation } from "../operation.ts";
import { poseNear, posesThere } from "../poses/gapAt.ts";
import { poseTime } from "../poses/poseTimes.ts";
import { findPoses, poseShare } from "../poses/poses.ts";
import { retime } from "./retime.ts";
import { needSomething, outcome, scopedChannels } from "../shared/scope.ts";

const settings = z.object({
  at: z.number().int().default(1).meta({ title: "Pose of frame", unit: "frame", step: 1 }),
  to: z.number().int().default(1).meta({ title: "To frame", unit: "frame", step: 1 }),
  ripple: z.boolean().default(false).meta({ title: "Later poses shift along", help: "Otherwise it moves between its neighbours." }),
  share: poseShare,
});

/** Move a pose in time; what lies between it and its neighbours keeps its share of the way. */
export const movePose: Operation<z.infer<typeof settings>> = {
  id: "move-pose",
  title: "Move pose",
  group: "Timing",
  help: "Moves the pose of a frame to another one, between its neighbours, or with all later poses.",
  guide: {
    use: "Takes one pose earlier or later, between its neighbours or with all that follow.",
    watch: "Keys between poses are squeezed or stretched with them.",
  },
  words: "retime shift drag later earlier ripple",
  suits: ["picked poses"],
  leaves: ["range"],
  settings,
  situation(at) {
    const frame = Math.round(at.frame);
    const picked = at.pickedPoses?.[0];
    const pose = picked ?? poseNear(posesThere(at), frame);
    return { at: pose, to: frame, share: at.poseShare * 100 };
  },
  async run(shot, scope, { at, to, ripple, share }) {
    const channels = scopedChannels(shot, scope);
    needSomething(channels, "Move pose");
    const from = findPoses(shot, scope, share / 100).map(({ frame }) => frame);
    const place = from.indexOf(at);
    if (place < 0)
      throw new KneaderError("not-found", `Move pose: there is no key pose at frame ${at}.`, "Choose one of those in the pose tray.");
    const [before, after] = [from[place - 1] ?? Number.NEGATIVE_INFINITY, from[place + 1] ?? Number.POSITIVE_INFINITY];
    if (to <= before || (!ripple && to >= after))
      throw new KneaderError(
        "bad-setting",
        `Move pose: frame ${to} is on or past the pose at frame ${to <= before ? before : after}.`,
        "Poses keep their order; leave a frame at least between them.",
      );
    const target = from.map((frame, i) => (i === place || (ripple && i > place) ? frame + to - at : frame));
    const time = (frame: number) => poseTime(frame, from, target);
    // Keys before the first pose or after the last one stay where they are, unless all later ones go along.
    const moved = (frame: number) =>
      (frame < from[0] && place === 0) || (frame > from[from.length - 1] && place === from.length - 1 && !ripple) ? frame : time(frame);
    const changed = retime(
      shot,
      scope,
      channels,
      (curve) => warpTimes(curve, moved),
      (frame) => Math.round(moved(frame)),
    );
    const end = Math.max(changed.range.end, ...target);
    const grown = changed.range.end < end ? { ...changed, range: { ...changed.range, end } } : changed;
    const notes = grown.range.end !== shot.range.end ? [`The shot now ends at frame ${grown.range.end}.`] : [];
    return outcome(shot, grown, `Moved the pose of frame ${at} to ${to}${ripple ? " and all later ones" : ""}`, { notes });
  },
};
