import { z } from "zod";
import { KneaderError } from "../../errors.ts";
import { channelTitle } from "../../model/rig.ts";
import { spanned } from "../shared/keyResult.ts";
import { keyChannels } from "../shared/keyChannels.ts";
import { sayKeyed } from "../shared/sayKeyed.ts";
import { byHand } from "./handOperation.ts";

const settings = z.object({
  frame: z.number(),
  /** The layer's own values, by channel. */
  values: z.record(z.string(), z.number()),
});

/** Key channels of a layer with given values: a typed number, or the pose as it is. */
export const keyValues = byHand<z.infer<typeof settings>>({
  id: "key-values",
  title: "Key",
  help: "Keys channels at a frame.",
  settings,
  named: true,
  edit(shot, { layer, range }, { frame, values }) {
    const keys = Object.keys(values);
    if (keys.length > 0 && keys.every((key) => shot.locked.includes(key)))
      throw new KneaderError("locked", `${channelTitle(shot.rig, keys[0])} is locked.`, "Unlock what should change.");
    const typed = keys.length === 1 ? `${channelTitle(shot.rig, keys[0])} ${Math.round(values[keys[0]] * 1000) / 1000}` : "Key";
    const after = keyChannels(spanned(shot, layer, frame, keys, range), layer, frame, values);
    const within = range ? `, within frames ${range.start}–${range.end}` : "";
    return { shot: after, summary: `${typed} at ${frame}${within}`, notes: sayKeyed(shot, layer, frame, keys) };
  },
});
