import { z } from "zod";
import { withValues } from "../../curve/values.ts";
import { KneaderError } from "../../errors.ts";
import { eachCurve } from "../shared/eachCurve.ts";
import type { Operation } from "../operation.ts";
import { outcome } from "../shared/scope.ts";
import { countedWord } from "../../words.ts";

const settings = z.object({
  low: z.number().default(-10).meta({ title: "Lowest", step: 1, help: "In the channel's own unit." }),
  high: z.number().default(10).meta({ title: "Highest", step: 1 }),
});

/** Fit each curve's keys between two values. */
export const fitValues: Operation<z.infer<typeof settings>> = {
  id: "fit-values",
  title: "Fit to a range",
  group: "Values",
  help: "Scales and shifts each curve so that its lowest and highest key in scope come to the values given.",
  guide: {
    use: "Brings curves between two limits, as for a blink or a dial that must stay within its range.",
    watch: "Level curves have nothing to fit and stay.",
  },
  words: "normalise range minimum maximum between limit",
  settings,
  async run(shot, scope, s, context) {
    if (s.high <= s.low)
      throw new KneaderError("bad-setting", `Fit to a range: the highest (${s.high}) must be above the lowest (${s.low}).`);
    let level = 0;
    const { after, changed } = await eachCurve(shot, scope, "Fit to a range", context, (curve, indices) => {
      const values = indices.map((i) => curve.values[i]);
      const [low, high] = [Math.min(...values), Math.max(...values)];
      if (high - low < 1e-12) {
        level++;
        return curve;
      }
      const factor = (s.high - s.low) / (high - low);
      return withValues(curve, indices, (i) => s.low + (curve.values[i] - low) * factor, factor);
    });
    const warnings = level > 0 ? [`${level} level curves have no range to fit and stay as they are.`] : [];
    return outcome(shot, after, `Fitted ${countedWord(changed.length, "curve")} between ${s.low} and ${s.high}`, { warnings });
  },
};
