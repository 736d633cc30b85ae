import { z } from "zod";
import type { Curve } from "../curve/curve.ts";
import { withValues } from "../curve/values.ts";
import { eachCurve } from "./eachCurve.ts";
import type { Operation } from "./operation.ts";
import { outcome } from "./scope.ts";

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
  words: "tween breakdown between neighbour pull previous next blend",
  settings,
  async run(shot, scope, s, context) {
    const share = s.toward / 100;
    const { after, changed, keys } = await eachCurve(shot, scope, "Favour", context, (curve, indices) => {
      const chosen = new Set(indices);
      const goal = (i: number) => neighbourValue(curve, i, share >= 0 ? 1 : -1, chosen);
      return withValues(curve, indices, (i) => curve.values[i] + (goal(i) - curve.values[i]) * Math.abs(share));
    });
    const whom = share >= 0 ? "next" : "previous";
    return outcome(shot, after, `${keys} keys on ${changed.length} curves ${Math.abs(s.toward)} % toward the ${whom}`);
  },
};

/** The nearest key on a side that is not itself pulled; the key's own value where there is none. */
function neighbourValue(curve: Curve, i: number, step: 1 | -1, chosen: ReadonlySet<number>): number {
  const beside = i + step;
  if (beside < 0 || beside >= curve.times.length) return curve.values[i];
  for (let k = beside; k >= 0 && k < curve.times.length; k += step) if (!chosen.has(k)) return curve.values[k];
  return curve.values[beside];
}
