import { z } from "zod";
import { warpTimes } from "../../curve/warpTimes.ts";
import { countKeys, type FrameRange } from "../../model/shot.ts";
import { countedWord } from "../../words.ts";
import type { Operation } from "../operation.ts";
import { retime } from "./retime.ts";
import { needSomething, outcome, scopedChannels } from "../shared/scope.ts";

const settings = z.object({
  factor: z
    .number()
    .min(1)
    .max(10000)
    .default(150)
    .meta({ title: "Length", unit: "percent", max: 400, step: 5, help: "Of the time it took: 200 % is half as fast." }),
  pivot: z.number().default(1).meta({
    title: "About frame",
    unit: "frame",
    step: 1,
    help: "This frame stays where it is. Of a marked range the start stays, and what is later shifts along.",
  }),
  wholeFrames: z.boolean().default(true).meta({ title: "Whole frames only" }),
});

/** Make everything slower or quicker about a frame. */
export const scaleTime: Operation<z.infer<typeof settings>> = {
  id: "scale-time",
  title: "Scale time",
  group: "Timing",
  help: "Makes everything, or a marked range, slower or quicker about a frame that stays.",
  guide: {
    use: "Makes a shot, or a marked range, slower or quicker as a whole.",
    watch: "With whole frames only, poses may meet on one frame and one gives way: the report says how many.",
  },
  words: "speed slow fast stretch retime duration up down faster slower half double time keys length quick",
  suits: ["a marked range"],
  settings,
  situation: ({ shot, scope }) => ({ pivot: scope.range?.start ?? shot.range.start }),
  async run(shot, scope, { factor, pivot, wholeFrames }) {
    const channels = scopedChannels(shot, scope);
    needSomething(channels, "Scale time");
    const { range } = scope;
    const to = (time: number) => {
      const scaled = range ? within(time, range, factor / 100) : pivot + ((time - pivot) * factor) / 100;
      return wholeFrames ? Math.round(scaled) : scaled;
    };
    const after = retime(
      shot,
      scope,
      channels,
      (curve) => warpTimes(curve, to),
      (frame) => Math.round(to(frame)),
    );
    const lost = countKeys(shot.base) - countKeys(after.base);
    const warnings = lost > 0 ? [`${countedWord(lost, "key")} fell on the frame of another one and gave way.`] : [];
    const where = range ? `frames ${range.start}–${range.end}, what is later shifts along` : `about frame ${pivot}`;
    return outcome(shot, after, `Takes ${factor} % of the time, ${where}`, { warnings });
  },
};

/** Only what lies in a range takes another time; what is later keeps its own and shifts along. */
function within(time: number, { start, end }: FrameRange, factor: number): number {
  if (time <= start) return time;
  return time < end ? start + (time - start) * factor : time + (end - start) * (factor - 1);
}
