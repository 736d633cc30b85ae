import { z } from "zod";
import type { Curve } from "../curve/curve.ts";
import { moveKeys } from "../curve/mapKeys.ts";
import { KneaderError } from "../errors.ts";
import { controlById, splitChannelKey } from "../model/rig.ts";
import { layerCurves } from "../model/shot.ts";
import type { Operation } from "./operation.ts";
import { byControl, changeCurves, needSomething, outcome, scopedChannels, scopedKeys } from "./scope.ts";

const settings = z.object({
  frames: z
    .number()
    .int()
    .min(-1000)
    .max(1000)
    .default(2)
    .meta({ title: "Later by", unit: "frames", max: 20, step: 1, help: "Each control by so much more than the one before it." }),
  order: z
    .enum(["picked", "rig"])
    .default("picked")
    .meta({ title: "Order", labels: { picked: "As picked", rig: "Down the rig" }, help: "The first one stays where it is." }),
});

/** Successive motion: each control of a chain a little later than the one before. */
export const stagger: Operation<z.infer<typeof settings>> = {
  id: "stagger",
  title: "Stagger",
  group: "Timing",
  help: "Makes each control of a chain later than the one before it, for successive motion.",
  words: "offset delay overlap chain successive follow lag",
  settings,
  async run(shot, scope, { frames, order }) {
    const channels = scopedChannels(shot, scope);
    needSomething(channels, "Stagger");
    const groups = byControl(channels);
    const wanted = order === "picked" && scope.controls !== null ? scope.controls : [...groups.keys()];
    const chain = wanted.filter((id) => groups.has(id));
    if (scope.controls === null || chain.length < 2)
      throw new KneaderError("nothing-in-scope", "Stagger: pick the controls of a chain, two at least, from the first to the last.");
    const curves = layerCurves(shot, scope.layer);
    const changed: Record<string, Curve> = {};
    chain.forEach((id, place) => {
      if (place > 0)
        for (const key of groups.get(id) ?? [])
          changed[key] = moveKeys(curves[key], scopedKeys(curves[key], key, scope), place * frames, 0);
    });
    const names = chain.map((id, place) => `${controlById(shot.rig, id)?.name} ${place * frames}`);
    const summary = `Staggered ${new Set(channels.map((key) => splitChannelKey(key).control)).size} controls by ${frames} frames`;
    return outcome(shot, changeCurves(shot, scope.layer, changed), summary, { notes: [`Later by: ${names.join(", ")}.`] });
  },
};
