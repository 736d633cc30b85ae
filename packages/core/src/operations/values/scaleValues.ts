import { z } from "zod";
import type { Curve } from "../../curve/curve.ts";
import { sampleCurve } from "../../curve/track.ts";
import { withValues } from "../../curve/values.ts";
import { eachCurve } from "../shared/eachCurve.ts";
import type { Operation } from "../operation.ts";
import { outcome } from "../shared/scope.ts";
import { countedWord } from "../../words.ts";

const settings = z.object({
  factor: z.number().min(-1000).max(1000).default(120).meta({
    title: "Scale",
    unit: "percent",
    widget: "dial",
    max: 200,
    step: 5,
    help: "100 % changes nothing; −100 % flips the curve about the pivot.",
  }),
  pivot: z
    .enum(["zero", "first", "mean", "frame", "value"])
    .default("zero")
    .meta({
      title: "About",
      labels: {
        zero: "Zero",
        first: "Each curve's first key in scope",
        mean: "The mean of its keys",
        frame: "Its value at a frame",
        value: "A typed value",
      },
    }),
  frame: z
    .number()
    .default(1)
    .meta({ title: "Frame", unit: "frame", step: 1, when: { pivot: "frame" }, help: "For a pivot at a frame." }),
  value: z
    .number()
    .default(0)
    .meta({ title: "Value", step: 0.1, when: { pivot: "value" }, help: "For a typed pivot, in the channel's own unit." }),
});
type Settings = z.infer<typeof settings>;

/** Scale values about a pivot: exaggerate, calm, flip. */
export const scaleValues: Operation<Settings> = {
  id: "scale-values",
  title: "Scale values",
  group: "Values",
  help: "Multiplies the distance of each key from a pivot: above 100 % exaggerates, below calms, −100 % flips.",
  guide: {
    use: "Makes a movement bigger or smaller about a line you choose: push it too far, then come back. Below zero it is flipped.",
    watch: "The pivot matters more than the amount: about zero a pose changes everywhere, about the first key only what follows.",
  },
  words: "multiply exaggerate flip negate invert amplitude bigger smaller keys exaggeration stronger weaker push less more mirror",
  suits: ["picked keys"],
  settings,
  situation: ({ frame }) => ({ frame }),
  async run(shot, scope, s, context) {
    const factor = s.factor / 100;
    const { after, changed, keys } = await eachCurve(shot, scope, "Scale values", context, (curve, indices) => {
      const pivot = pivotOf(curve, indices, s);
      return withValues(curve, indices, (i) => pivot + (curve.values[i] - pivot) * factor, factor);
    });
    return outcome(shot, after, `Scaled ${countedWord(keys, "key")} on ${countedWord(changed.length, "curve")} to ${s.factor} %`);
  },
};

function pivotOf(curve: Curve, indices: readonly number[], s: Settings): number {
  if (s.pivot === "zero") return 0;
  if (s.pivot === "first") return curve.values[indices[0]];
  if (s.pivot === "mean") return indices.reduce((sum, i) => sum + curve.values[i], 0) / indices.length;
  return s.pivot === "frame" ? sampleCurve(curve, s.frame) : s.value;
}
