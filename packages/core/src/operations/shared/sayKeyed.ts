import type { ChannelKey } from "../../model/rig.ts";
import type { Shot } from "../../model/shot.ts";
import { countedWord } from "../../words.ts";
import { firstChannels, replacingPass } from "./firstCurves.ts";
import { sayRealKeys } from "./keyChannels.ts";

/** What is good to know of keys put at a frame: that they went to the frame it repeats, and what a replacing pass hides from now on. */
export function sayKeyed(shot: Shot, layer: string, frame: number, keys: readonly ChannelKey[]): string[] {
  const first = firstChannels(shot, layer, keys);
  const pass = replacingPass(shot, layer);
  const hides =
    pass && first.length > 0
      ? [
          `"${pass.name}" has taken ${countedWord(first.length, "channel")} as ${first.length === 1 ? "it plays" : "they play"} now, and hides what is below ${first.length === 1 ? "it" : "them"}.`,
        ]
      : [];
  return [...sayRealKeys(shot, layer, frame, keys), ...hides];
}
