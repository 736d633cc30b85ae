import { z } from "zod";
import { reverseSpan } from "../../curve/edit.ts";
import { splitChannelKey } from "../../model/rig.ts";
import { BASE, layerCurves } from "../../model/shot.ts";
import { reverseTies } from "./reverseTies.ts";
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
      await context.breathe(i / channels.length);
      if (curves[key].times.length > 1) changed[key] = reverseSpan(curves[key], start, end);
    }
    const turned = changeCurves(shot, scope.layer, changed);
    const inScope = new Set(channels);
    // Of a control of which a part stays as it was, what leads it stays too.
    const stays = new Set(Object.keys(curves).flatMap((key) => (inScope.has(key) ? [] : [splitChannelKey(key).control])));
    return outcome(
      shot,
      scope.layer === BASE ? reverseTies(turned, { start, end }, (id) => !stays.has(id)) : turned,
      `Reversed frames ${start} to ${end} of ${countedWord(channels.length, "curve")}`,
    );
  },
};
