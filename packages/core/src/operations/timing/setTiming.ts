import { z } from "zod";
import { warpTimes } from "../../curve/warpTimes.ts";
import { KneaderError } from "../../errors.ts";
import { holdAt } from "./insertHold.ts";
import { type Operation, WHOLE_FIGURE } from "../operation.ts";
import { poseShare } from "../poses/poses.ts";
import { poseTime } from "../poses/poseTimes.ts";
import { retime } from "./retime.ts";
import { needSomething, outcome, scopedChannels } from "../shared/scope.ts";
import { readTiming, sayTiming, sayTimingBriefly, type TimingStep, timingOf } from "./timingList.ts";
import { countedWord } from "../../words.ts";

const settings = z.object({
  list: z.string().max(20000).default("").meta({
    title: "Gaps",
    widget: "list",
    help: 'The frames from pose to pose, as in "6 4 3 · hold 8 · 4". A hold that is not there yet is made, one left out is removed; gaps not listed stay.',
  }),
  share: poseShare,
});

/** Set all gaps of a shot at once, written as an animator writes a chart. */
export const setTiming: Operation<z.infer<typeof settings>> = {
  id: "set-timing",
  title: "Timing list",
  group: "Timing",
  help: "Sets the gaps between all key poses at once, holds among them; later poses shift along.",
  guide: {
    use: "All gaps at once, written as a chart is written. The quickest way through a shot.",
    watch: "What the list leaves out stays. hold 8 makes a hold after a pose, and leaving one out removes it.",
  },
  words: "chart gaps poses retime list hold all x-sheet exposure frames count dope",
  suits: ["stepped poses"],
  leaves: ["range"],
  settings,
  situation: ({ shot, poseShare }) => ({ list: sayTiming(timingOf(shot, WHOLE_FIGURE, poseShare).steps), share: poseShare * 100 }),
  async run(shot, scope, { list, share }) {
    const channels = scopedChannels(shot, scope);
    needSomething(channels, "Timing list");
    const { poses, steps } = timingOf(shot, scope, share / 100);
    if (poses.length < 2)
      throw new KneaderError(
        "nothing-in-scope",
        `Timing list: there are ${countedWord(poses.length, "pose")}, and two are needed.`,
        "Let fewer controls make a pose.",
      );
    const { gaps, holds } = plan(steps, readTiming(list));
    const to = [poses[0]];
    for (const gap of gaps) to.push(to[to.length - 1] + gap);
    // Holds are made from the last to the first, so that none moves the place of another.
    const made = holds.map(({ pose, frames }) => ({ at: to[pose], frames })).reverse();
    const later = (frame: number) => {
      const now = poseTime(frame, poses, to);
      return made.reduce((sum, { at, frames }) => sum + (now >= at ? frames : 0), now);
    };
    const after = retime(
      shot,
      scope,
      channels,
      (curve) =>
        made.reduce(
          (c, { at, frames }) => holdAt(c, at, frames),
          warpTimes(curve, (time) => poseTime(time, poses, to)),
        ),
      (frame) => Math.round(later(frame)),
    );
    const notes = after.range.end > shot.range.end ? [`The shot now ends at frame ${after.range.end}.`] : [];
    return outcome(shot, after, `${sayTimingBriefly(steps)} → ${sayTimingBriefly(timingOf(after, scope, share / 100).steps)}`, { notes });
  },
};

/** The wanted gaps for the poses there are, and the holds to be made after poses (by their place). */
function plan(steps: readonly TimingStep[], wanted: readonly TimingStep[]): { gaps: number[]; holds: { pose: number; frames: number }[] } {
  const gaps = steps.map(({ frames }) => frames);
  const holds: { pose: number; frames: number }[] = [];
  let at = 0;
  for (const { frames, hold } of wanted) {
    if (hold && !steps[at]?.hold) {
      holds.push({ pose: at, frames });
      continue;
    }
    // A hold that the list leaves out: its two equal poses become one.
    while (!hold && steps[at]?.hold) gaps[at++] = 0;
    if (at >= steps.length)
      throw new KneaderError(
        "bad-setting",
        `Timing list: it has more gaps than the ${steps.filter((step) => !step.hold).length} between the poses there are.`,
      );
    gaps[at++] = frames;
  }
  return { gaps, holds };
}
