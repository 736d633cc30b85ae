import { z } from "zod";
import { reverseSpan } from "../../curve/edit.ts";
import { layerCurves } from "../../model/shot.ts";
import type { Operation } from "../operation.ts";
import { changeCurves, needSomething, outcome, scopedChannels, scopeRange } from "../shared/scope.ts";
import { countedWord } from "../../words.ts";

const settings = z.object({});

/** Turn a range round in time. */
export const reverse: Operation<z.infer<typeof settings>> = {
  id: "reverse",
  title: "Reverse",
  group: "Timing",
  help: "Plays the range backward in place: the exact mirror image in time, tangents included.",
  guide: {
    use: "Plays a range backward: the way up from the way down.",
    watch: "Weight reads differently backward: what fell slowly now rises slowly.",
  },
  movesPoses: true,
  words: "backward time mirror range backwards rewind",
  suits: ["a marked range"],
  settings,
  async run(shot, scope, _settings, context) {
    const channels = scopedChannels(shot, scope);
    needSomething(channels, "Reverse");
    const { start, end } = scopeRange(shot, scope);
    const curves = layerCurves(shot, scope.layer);
    const changed: Record<string, (typeof curves)[string]> = {};
    for (const [i, key] of channels.entries()) {
      if (i % 16 === 0) await context.breathe(i / channels.length);
      if (curves[key].times.length > 1) changed[key] = reverseSpan(curves[key], start, end);
    }
    return outcome(
      shot,
      changeCurves(shot, scope.layer, changed),
      `Reversed frames ${start} to ${end} of ${countedWord(channels.length, "curve")}`,
    );
  },
};
