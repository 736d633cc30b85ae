import { z } from "zod";
import { insertKeyOn } from "../../curve/edit.ts";
import { curveFromKeys } from "../../curve/make.ts";
import { makeKey, Tangent } from "../../curve/curve.ts";
import { KneaderError } from "../../errors.ts";
import { channelTitle, restValue, splitChannelKey } from "../../model/rig.ts";
import { BASE, layerCurves, withLayerCurves } from "../../model/shot.ts";
import { withFirstCurves } from "../shared/firstCurves.ts";
import { realPlace } from "../shared/keyChannels.ts";
import { sayKeyed } from "../shared/sayKeyed.ts";
import { byHand, keysWord } from "./handOperation.ts";

const settings = z.object({
  frame: z.number(),
  channels: z.array(z.string()),
  /** Values of channels that have no curve in the layer, where that is not what changes nothing. */
  unkeyed: z.record(z.string(), z.number()).default({}),
});

/** Key channels of a layer as they are: curves are split, so that nothing moves; in a round the frame that it repeats is keyed. */
export const keyAsItIs = byHand<z.infer<typeof settings>>({
  id: "key-as-it-is",
  title: "Key as it is",
  help: "Keys channels at a frame as they stand there; no motion changes.",
  settings,
  named: true,
  edit(given, { layer }, { frame, channels, unkeyed }) {
    const open = channels.filter((key) => !given.locked.includes(key));
    if (channels.length > 0 && open.length === 0)
      throw new KneaderError("locked", `${channelTitle(given.rig, channels[0])} is locked.`, "Unlock what should be keyed.");
    const shot = withFirstCurves(given, layer, open);
    const curves = { ...layerCurves(shot, layer) };
    let made = 0;
    for (const key of open) {
      const curve = curves[key];
      if (curve) {
        curves[key] = insertKeyOn(curve, realPlace(curve, frame).time);
        if (curves[key] === curve && curve === layerCurves(given, layer)[key]) continue;
      } else {
        const otherwise = layer === BASE ? restValue(splitChannelKey(key).channel) : 0;
        curves[key] = curveFromKeys([makeKey(frame, unkeyed[key] ?? otherwise, Tangent.auto)]);
      }
      made++;
    }
    const summary = made === 0 ? `Everything was keyed at ${frame}` : `${keysWord(made)} at ${frame}, as it is`;
    return { shot: made === 0 ? given : withLayerCurves(shot, layer, curves), summary, notes: sayKeyed(given, layer, frame, open) };
  },
});
