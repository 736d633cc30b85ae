import { z } from "zod";
import { sayTimingBriefly } from "./timingList.ts";
import { warpTimes } from "../../curve/warpTimes.ts";
import { KneaderError } from "../../errors.ts";
import type { Operation } from "../operation.ts";
import { poseTime } from "../poses/poseTimes.ts";
import { findPoses, poseShare } from "../poses/poses.ts";
import { retime } from "./retime.ts";
import { needSomething, outcome, scopedChannels, scopeRange } from "../shared/scope.ts";
import { countedWord } from "../../words.ts";

const settings = z.object({
  share: poseShare,
  ease: z.number().min(-100).max(100).default(0).meta({
    title: "Favour",
    unit: "percent",
    step: 5,
    max: 100,
    help: "0 is even; above 0 the gaps grow toward the end, below toward the start.",
  }),
});

/** Give the gaps between key poses one length, or let them grow from one end to the other. */
export const evenGaps: Operation<z.infer<typeof settings>> = {
  id: "even-gaps",
  title: "Even out gaps",
  group: "Timing",
  help: "Gives the gaps between the key poses of a range one length, or lets them grow toward an end. First and last pose stay.",
  guide: {
    use: "Spreads the key poses of a range evenly, or lets them come closer toward one end.",
    watch: "First and last pose stay where they are.",
  },
  words: "timing poses spacing ease equal distribute in out slow",
  suits: ["a marked range"],
  nothing:
    "The gaps are even already. Favour lets them grow toward an end; with fewer controls to a pose, or a wider range, other poses count.",
  settings,
  async run(shot, scope, { share, ease }) {
    const channels = scopedChannels(shot, scope);
    needSomething(channels, "Even out gaps");
    const range = scopeRange(shot, scope);
    const poses = findPoses(shot, scope, share / 100)
      .map(({ frame }) => frame)
      .filter((frame) => frame >= range.start && frame <= range.end);
    if (poses.length < 3)
      throw new KneaderError(
        "nothing-in-scope",
        `Even out gaps: there are ${countedWord(poses.length, "pose")} in frames ${range.start} to ${range.end}, and three are needed.`,
        "Widen the range, or let fewer controls make a pose.",
      );
    const target = spread(poses, ease / 100);
    const to = (time: number) => poseTime(time, poses, target);
    const after = retime(
      shot,
      scope,
      channels,
      (curve) => warpTimes(curve, to),
      (frame) => Math.round(to(frame)),
    );
    const gaps = (frames: readonly number[]) =>
      sayTimingBriefly(frames.slice(1).map((frame, i) => ({ frames: frame - frames[i], hold: false })));
    return outcome(shot, after, `Gaps ${gaps(poses)} → ${gaps(target)}`);
  },
};

/** Poses between the same ends with even gaps (ease 0), or gaps that grow evenly toward the end (1) or the start (−1); whole frames. */
function spread(poses: readonly number[], ease: number): number[] {
  const count = poses.length - 1;
  const [first, last] = [poses[0], poses[count]];
  const sizes = Array.from({ length: count }, (_, i) => 1 + ease * 0.9 * (count > 1 ? (2 * i) / (count - 1) - 1 : 0));
  const total = sizes.reduce((a, b) => a + b, 0);
  const target = [first];
  let sum = 0;
  for (let i = 0; i < count; i++) {
    sum += sizes[i];
    const wanted = Math.round(first + ((last - first) * sum) / total);
    // A gap has a frame at least, and room is left for those to come.
    target.push(Math.min(last - (count - 1 - i), Math.max(target[i] + 1, wanted)));
  }
  return target;
}
