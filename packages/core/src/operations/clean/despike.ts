import { z } from "zod";
import { despike as mend } from "../../curve/filter/despike.ts";
import { withValues } from "../../curve/values.ts";
import { driftFor } from "../shared/driftFor.ts";
import { isFine, splitChannelKey } from "../../model/rig.ts";
import { eachCurve } from "../shared/eachCurve.ts";
import type { Operation } from "../operation.ts";
import { outcome } from "../shared/scope.ts";
import { countedWord } from "../../words.ts";

const settings = z.object({
  threshold: z
    .number()
    .min(1)
    .max(20)
    .default(4)
    .meta({ title: "Stands out by", max: 10, step: 0.5, help: "How many times the usual spread of its neighbours a key must be off." }),
  rotation: z.number().min(0).max(180).default(1).meta({ title: "Rotation at least", unit: "degrees", max: 20, step: 0.5 }),
  move: z.number().min(0).default(0.005).meta({ title: "Position at least", unit: "length", max: 0.1, step: 0.001 }),
});

/** Put keys that jump out of line back among their neighbours. */
export const despike: Operation<z.infer<typeof settings>> = {
  id: "despike",
  title: "Despike",
  group: "Clean",
  help: "Finds single keys that jump out of line and puts them among their neighbours; all others stay.",
  guide: {
    use: "A marker that jumped, a frame gone wrong: one key stands out, and everything else is fine.",
    watch: "A real accent of a single frame looks like a spike. The report says what was found; go there before you apply.",
  },
  words: "spike glitch jump outlier noise clean pop spikes jitter capture mocap dropouts",
  suits: ["a key on every frame"],
  byControl: true,
  nothing: "No key stands out that far from its neighbours. Smaller numbers find more; what trembles on every frame is for Smooth.",
  settings,
  async run(shot, scope, s, context) {
    let mended = 0;
    const { after, changed } = await eachCurve(shot, scope, "Despike", context, (curve, keys, channel) => {
      const least = isFine(splitChannelKey(channel).channel) ? s.rotation : s.move;
      const result = mend(curve.values, 3, s.threshold, least);
      const hit = keys.filter((i) => result.samples[i] !== curve.values[i]);
      mended += hit.length;
      return withValues(curve, hit, (i) => result.samples[i]);
    });
    const drift = await driftFor(shot, after, scope, context);
    return outcome(shot, after, `Mended ${mended} ${mended === 1 ? "spike" : "spikes"} on ${countedWord(changed.length, "curve")}`, {
      drift,
    });
  },
};
