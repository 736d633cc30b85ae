import { z } from "zod";
import { KneaderError } from "../../errors.ts";
import { liveAsCurves, makeLiveLayer } from "../../evaluate/liveLayer.ts";
import { byHand } from "./handOperation.ts";

const settings = z.object({
  /** What was recorded: frames, rising, and by channel of the layer a value each. */
  frames: z.array(z.number()).min(1),
  values: z.record(z.string(), z.array(z.number())),
  name: z.string(),
});

/** Put a recorded performance into a layer: a key on each of its frames, in place of what the layer had over that span. */
export const keyTake = byHand<z.infer<typeof settings>>({
  id: "key-take",
  title: "Keep a take",
  help: "Puts a recorded performance into a layer, a key on each of its frames.",
  settings,
  named: true,
  edit(shot, { layer }, { frames, values, name }) {
    const keys = Object.keys(values);
    if (keys.length === 0 || keys.some((key) => values[key].length !== frames.length))
      throw new KneaderError("bad-setting", "The take has not as many values as frames.");
    const live = makeLiveLayer(layer, keys);
    frames.forEach((frame, n) => {
      live.put(
        frame,
        keys.map((key) => values[key][n]),
      );
    });
    const after = liveAsCurves(shot, live);
    return { shot: after, summary: `Recorded ${name}, frames ${frames[0]} to ${frames[frames.length - 1]}` };
  },
});
