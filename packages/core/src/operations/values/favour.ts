import { z } from "zod";
import type { Curve } from "../../curve/curve.ts";
import { withValues } from "../../curve/values.ts";
import { eachCurve } from "../shared/eachCurve.ts";
import type { Operation } from "../operation.ts";
import { outcome } from "../shared/scope.ts";
import { countedWord } from "../../words.ts";

const settings = z.object({
  toward: z.number().min(-200).max(200).default(30).meta({
    title: "Toward the next",
    unit: "percent",
    max: 200,
    step: 5,
    help: "100 % is the next key's value, −100 % the previous one's; beyond that it goes past them.",
  }),
});

/** Pull keys toward their neighbours. */
export const favour: Operation<z.infer<typeof settings>> = {
  id: "favour",
  title: "Favour",
  group: "Values",
  help: "Pulls each key in scope toward its next neighbour, or with less than 0 % toward its previous one; in time it stays.",
  guide: {
    use: "The breakdown between two poses decides which of them it belongs to. This pulls it toward the next or the previous one.",
    watch: "Only keys in scope move, and only in value; past 100 % they overshoot.",
  },
  words: "tween breakdown between neighbour pull previous next blend in-between inbetween breakdowns toward",
  suits: ["picked keys"],
  settings,
  async run(shot, scope, s, context) {
    const share = s.toward / 100;
    const { after, changed, keys } = await eachCurve(shot, scope, "Favour", context, (curve, indices) => {
      const goals = neighbourValues(curve, share >= 0 ? 1 : -1, new Set(indices));
      const goal = (i: number) => goals[i];
      return withValues(curve, indices, (i) => curve.values[i] + (goal(i) - curve.values[i]) * Math.abs(share));
    });
    const whom = share >= 0 ? "next" : "previous";
    return outcome(
      shot,
      after,
      `${countedWord(keys, "key")} on ${countedWord(changed.length, "curve")} ${Math.abs(s.toward)} % toward the ${whom}`,
    );
  },
};

/**
 * For each key the value of the nearest key on a side that is not itself pulled; where all are, of the key beside it;
 * its own at the end of the curve.
 */
function neighbourValues({ values }: Curve, step: 1 | -1, chosen: ReadonlySet<number>): Float64Array {
  const goals = values.slice();
  const last = values.length - 1;
  // Walked from the far end, so that the nearest still key is always known.
  let still = -1;
  for (let n = 0; n <= last; n++) {
    const i = step > 0 ? last - n : n;
    if (n > 0) goals[i] = values[still >= 0 ? still : i + step];
    if (!chosen.has(i)) still = i;
  }
  return goals;
}
