import { z } from "zod";
import { warpTimes } from "../../curve/warpTimes.ts";
import { eachCurve } from "../shared/eachCurve.ts";
import type { Operation } from "../operation.ts";
import { outcome } from "../shared/scope.ts";
import { countedWord } from "../../words.ts";

const settings = z.object({
  every: z.number().int().min(1).max(1000).default(1).meta({ title: "To each", unit: "frames", max: 12, step: 1 }),
});

/** Put every key of the curves in scope on a whole frame. */
export const snapFrames: Operation<z.infer<typeof settings>> = {
  id: "snap-frames",
  title: "Snap to frames",
  group: "Timing",
  help: "Moves keys that stand between frames to the nearest whole frame, or to the nearest of each few.",
  guide: {
    use: "Brings keys that stand between frames, after scaling time or from a file, onto frames.",
    watch: "Two keys may meet on one frame, and one gives way.",
  },
  words: "round whole quantise between subframe clean integer",
  suits: ["picked keys"],
  nothing: "Every key in scope stands on such a frame already, or could get there only over another key.",
  settings,
  async run(shot, scope, { every }, context) {
    let moved = 0;
    let lost = 0;
    const { after } = await eachCurve(shot, scope, "Snap to frames", context, (curve, keys) => {
      const chosen = new Set(keys.map((i) => curve.times[i]));
      const to = (time: number) => (chosen.has(time) ? Math.round(time / every) * every : time);
      const off = keys.filter((i) => to(curve.times[i]) !== curve.times[i]).length;
      // Keys that stay must not be overtaken by one that moves.
      if (off === 0 || !isInOrder(curve.times.map(to))) return curve;
      const next = warpTimes(curve, to);
      moved += off;
      lost += curve.times.length - next.times.length;
      return next;
    });
    const warnings = lost > 0 ? [`${countedWord(lost, "key")} fell on the frame of another one and gave way.`] : [];
    return outcome(
      shot,
      after,
      `${countedWord(moved, "key")} snapped to ${every === 1 ? "whole frames" : `each ${countedWord(every, "frame")}`}`,
      { warnings },
    );
  },
};

function isInOrder(times: Float64Array): boolean {
  return times.every((time, i) => i === 0 || time >= times[i - 1]);
}
