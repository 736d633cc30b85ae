import { z } from "zod";
import { withoutRedundant } from "../../curve/redundant.ts";
import { driftFor } from "../shared/driftFor.ts";
import { eachCurve } from "../shared/eachCurve.ts";
import type { Operation } from "../operation.ts";
import { outcome } from "../shared/scope.ts";
import { countedWord } from "../../words.ts";

const settings = z.object({
  tolerance: z.number().min(0).max(1).default(1e-4).meta({
    title: "Change at most",
    max: 0.01,
    step: 1e-4,
    help: "In the channel's own unit; a key may go when the curve stays within this.",
  }),
});

/** Take out keys that change nothing. */
export const reduce: Operation<z.infer<typeof settings>> = {
  id: "reduce",
  title: "Remove idle keys",
  group: "Clean",
  help: "Takes out keys without which the curve stays the same; a curve that never changes keeps one key.",
  guide: {
    use: "Clears keys that do nothing, so that the keys that are left mean something.",
    watch: "The curve stays as it is. To leave out keys that do matter a little, use Simplify.",
  },
  words: "redundant reduce unnecessary static constant clean fewer unused flat up prune",
  suits: ["picked keys"],
  byControl: true,
  settings,
  async run(shot, scope, s, context) {
    const { after, changed } = await eachCurve(shot, scope, "Remove idle keys", context, (curve, keys) =>
      withoutRedundant(curve, keys, s.tolerance),
    );
    const drift = await driftFor(shot, after, scope, context);
    return outcome(shot, after, `Removed idle keys from ${countedWord(changed.length, "curve")}`, { drift });
  },
};
