import { z } from "zod";
import { sampleCurve } from "../../curve/track.ts";
import { withValues } from "../../curve/values.ts";
import { eachCurve } from "../shared/eachCurve.ts";
import type { Operation } from "../operation.ts";
import { outcome, scopeRange } from "../shared/scope.ts";
import { countedWord } from "../../words.ts";

const settings = z.object({
  side: z
    .enum(["start", "end", "both"])
    .default("start")
    .meta({
      title: "Which end gives",
      labels: {
        start: "This range starts where the one before ended",
        end: "This range ends where the next one starts",
        both: "Its end comes to its own start",
      },
    }),
  falloff: z.boolean().default(false).meta({
    title: "Fade the change out",
    help: "The change is whole at that end and none at the other; otherwise the range moves as one.",
  }),
});

/** Make a range start where the motion before it ended. */
export const matchEnds: Operation<z.infer<typeof settings>> = {
  id: "match-ends",
  title: "Match ends",
  group: "Values",
  help: "Moves a range of keys in value so that it starts where the key before it ended, ends where the next one starts, or closes on itself.",
  guide: {
    use: "A pasted or cut section that does not meet what is beside it is moved, in value, until it does.",
    watch: "Fade the change out, or the whole section moves with its end.",
  },
  words: "join connect continue offset seam cycle start end align",
  suits: ["a marked range"],
  settings,
  async run(shot, scope, s, context) {
    const { start, end } = scopeRange(shot, scope);
    const { after, changed } = await eachCurve(shot, { ...scope, range: { start, end } }, "Match ends", context, (curve, indices) => {
      const [first, last] = [indices[0], indices[indices.length - 1]];
      const [from, to] = [curve.times[first], curve.times[last]];
      const before = first > 0 ? curve.values[first - 1] : sampleCurve(curve, from);
      const behind = last + 1 < curve.times.length ? curve.values[last + 1] : sampleCurve(curve, to);
      const gap =
        s.side === "start"
          ? before - curve.values[first]
          : s.side === "end"
            ? behind - curve.values[last]
            : curve.values[first] - curve.values[last];
      // Closing on itself only makes sense when the start stays.
      const fades = s.falloff || s.side === "both";
      const share = (i: number) => {
        if (!fades || to <= from) return 1;
        const x = (curve.times[i] - from) / (to - from);
        const along = s.side === "start" ? 1 - x : x;
        return along * along * (3 - 2 * along);
      };
      return withValues(curve, indices, (i) => curve.values[i] + gap * share(i));
    });
    return outcome(shot, after, `Matched the ends of ${countedWord(changed.length, "curve")}, frames ${start} to ${end}`);
  },
};
