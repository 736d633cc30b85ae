import { z } from "zod";
import { withValues } from "../../curve/values.ts";
import { restValue, splitChannelKey } from "../../model/rig.ts";
import { BASE } from "../../model/shot.ts";
import { eachCurve } from "../shared/eachCurve.ts";
import type { Operation } from "../operation.ts";
import { outcome } from "../shared/scope.ts";
import { countedWord } from "../../words.ts";

const settings = z.object({
  share: z.number().min(-200).max(200).default(25).meta({
    title: "Toward rest",
    unit: "percent",
    widget: "dial",
    max: 200,
    step: 5,
    help: "100 % is the rest pose; below 0 % goes away from it.",
  }),
});

/** Pull keys toward the rest pose, or push them away from it. */
export const towardRest: Operation<z.infer<typeof settings>> = {
  id: "toward-rest",
  title: "Toward rest",
  group: "Values",
  help: "Pulls the keys in scope toward the rest pose (in an adding pass: toward no change), or pushes them away.",
  guide: {
    use: "Turns a pose down toward where the rig rests, or pushes it away from there.",
    watch: "In an adding pass rest means no change, so it turns the pass down at those keys.",
  },
  words: "default bind zero neutral reset pose away t-pose rest",
  suits: ["picked keys"],
  settings,
  async run(shot, scope, s, context) {
    const share = s.share / 100;
    const adds = shot.passes.find((pass) => pass.id === scope.layer)?.kind === "adds";
    const { after, changed, keys } = await eachCurve(shot, scope, "Toward rest", context, (curve, indices, channel) => {
      const rest = scope.layer !== BASE && adds ? 0 : restValue(splitChannelKey(channel).channel);
      return withValues(curve, indices, (i) => curve.values[i] + (rest - curve.values[i]) * share, 1 - share);
    });
    return outcome(shot, after, `${countedWord(keys, "key")} on ${countedWord(changed.length, "curve")} ${s.share} % toward rest`);
  },
};
