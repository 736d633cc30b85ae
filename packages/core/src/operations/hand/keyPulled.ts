import { z } from "zod";
import { channelTitle, controlById } from "../../model/rig.ts";
import { isNudge, keyResult } from "../passes/keyResult.ts";
import { byHand } from "./handOperation.ts";

const settings = z.object({
  frame: z.number(),
  /** What all passes together shall come out as, by channel. */
  values: z.record(z.string(), z.number()),
  /** The control that was pulled; without one a result was dragged. */
  pulled: z.string().optional(),
});

/** Key a layer so that what is seen comes out as wanted: a pulled part of the figure, a dragged result. */
export const keyPulled = byHand<z.infer<typeof settings>>({
  id: "key-result",
  title: "Key the result",
  help: "Keys the chosen layer with the difference; within a range a pass is nudged.",
  settings,
  named: true,
  edit(shot, { layer, range }, { frame, values, pulled }) {
    const after = keyResult(shot, layer, frame, values, range);
    if (pulled === undefined) return { shot: after, summary: `Result of ${channelTitle(shot.rig, Object.keys(values)[0])} at ${frame}` };
    const name = controlById(shot.rig, pulled)?.name ?? pulled;
    const nudge = isNudge(layer, frame, range) ? range : null;
    return { shot: after, summary: nudge ? `Nudge ${name}, frames ${nudge.start}–${nudge.end}` : `Pull ${name} at ${frame}` };
  },
});
