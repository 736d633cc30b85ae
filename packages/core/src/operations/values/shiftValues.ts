import { z } from "zod";
import { withValues } from "../../curve/values.ts";
import { channelUnit, splitChannelKey } from "../../model/rig.ts";
import { eachCurve } from "../shared/eachCurve.ts";
import type { Operation } from "../operation.ts";
import { outcome } from "../shared/scope.ts";
import { countedWord } from "../../words.ts";

const settings = z.object({
  rotation: z.number().min(-3600).max(3600).default(0).meta({ title: "Rotations by", unit: "degrees", step: 1 }),
  move: z.number().default(0).meta({ title: "Moves by", unit: "length", step: 0.001 }),
  other: z.number().default(0).meta({ title: "Others by", step: 0.1, help: "Scale and a rig's own attributes." }),
});

/** Shift values up or down. */
export const shiftValues: Operation<z.infer<typeof settings>> = {
  id: "shift-values",
  title: "Shift values",
  group: "Values",
  help: "Adds an amount to every key in scope; rotations, moves and other channels each have their own.",
  guide: {
    use: "Raises a whole section, turns a head by so much all through a range.",
    watch: "At the ends of a range there is a step. A pass with locked ends does the same softly.",
  },
  words: "offset add raise lower up down move keys higher",
  suits: ["picked keys"],
  settings,
  async run(shot, scope, s, context) {
    const { after, changed, keys } = await eachCurve(shot, scope, "Shift values", context, (curve, indices, channel) => {
      const unit = channelUnit(splitChannelKey(channel).channel);
      const by = unit === "degrees" ? s.rotation : unit === "length" ? s.move : s.other;
      return by === 0 ? curve : withValues(curve, indices, (i) => curve.values[i] + by);
    });
    return outcome(
      shot,
      after,
      changed.length > 0 ? `Shifted ${countedWord(keys, "key")} on ${countedWord(changed.length, "curve")}` : "Shifted nothing yet",
    );
  },
};
