import { z } from "zod";
import type { Curve } from "../../curve/curve.ts";
import { removeKeys } from "../../curve/edit.ts";
import { moveKeys } from "../../curve/mapKeys.ts";
import { keyedAtEnds, sealRange } from "../../curve/sealRange.ts";
import { KneaderError } from "../../errors.ts";
import { controlById, splitChannelKey } from "../../model/rig.ts";
import { type FrameRange, layerCurves } from "../../model/shot.ts";
import type { Operation } from "../operation.ts";
import { byControl, changeCurves, needSomething, outcome, scopedChannels, scopedKeys } from "../shared/scope.ts";
import { countedWord } from "../../words.ts";

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
  help: "Makes each control of a chain later than the one before it, for successive motion. Outside a marked range nothing moves.",
  guide: {
    use: "A chain that moves all at once looks stiff. Each control later than the one before gives it flow.",
    watch: "Holds and contacts are staggered too; mark a range to leave them out.",
  },
  words: "offset delay overlap chain successive follow lag breaking joints keys",
  suits: ["picked controls"],
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
    let lost = 0;
    chain.forEach((id, place) => {
      if (place === 0) return;
      for (const key of groups.get(id) ?? []) {
        if (scope.range !== null && scope.keys === null) {
          const moved = movedWithin(curves[key], scope.range, place * frames);
          changed[key] = moved.curve;
          lost += moved.lost;
        } else changed[key] = moveKeys(curves[key], scopedKeys(curves[key], key, scope), place * frames, 0);
      }
    });
    const warnings =
      lost > 0
        ? [`${lost} ${lost === 1 ? "key" : "keys"} would have gone past the end of the range and ${lost === 1 ? "is" : "are"} left out.`]
        : [];
    const names = chain.map((id, place) => `${controlById(shot.rig, id)?.name} ${place * frames}`);
    const summary = `Staggered ${countedWord(new Set(channels.map((key) => splitChannelKey(key).control)).size, "control")} by ${countedWord(frames, "frame")}`;
    return outcome(shot, changeCurves(shot, scope.layer, changed), summary, {
      warnings,
      notes: [`Later by: ${names.join(", ")}.`],
    });
  },
};

/** The keys within a range moved, its ends and all outside as they were; keys that would leave it are left out. */
function movedWithin(given: Curve, range: FrameRange, frames: number): { curve: Curve; lost: number } {
  const curve = keyedAtEnds(given, range);
  const isInside = (time: number) => time > range.start + 1e-6 && time < range.end - 1e-6;
  const inside = [...curve.times.keys()].filter((i) => isInside(curve.times[i]));
  const leaving = inside.filter((i) => !isInside(curve.times[i] + frames));
  const staying = curve.times.length > leaving.length ? removeKeys(curve, leaving) : null;
  if (inside.length === 0 || staying === null) return { curve: given, lost: 0 };
  const left = new Set(inside.filter((i) => !leaving.includes(i)).map((i) => curve.times[i]));
  const indices = [...staying.times.keys()].filter((i) => left.has(staying.times[i]));
  return { curve: sealRange(curve, moveKeys(staying, indices, frames, 0), range), lost: leaving.length };
}
