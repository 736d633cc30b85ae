import { z } from "zod";
import { channelTitle, controlById } from "../../model/rig.ts";
import { keyResult } from "../shared/keyResult.ts";
import { sayKeyed } from "../shared/sayKeyed.ts";
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
  help: "Keys the chosen layer with the difference; within a marked range nothing changes outside.",
  settings,
  named: true,
  edit(shot, { layer, range }, { frame, values, pulled }) {
    const after = keyResult(shot, layer, frame, values, range);
    const notes = sayKeyed(shot, layer, frame, Object.keys(values));
    if (pulled === undefined)
      return { shot: after, summary: `Result of ${channelTitle(shot.rig, Object.keys(values)[0])} at ${frame}`, notes };
    const name = controlById(shot.rig, pulled)?.name ?? pulled;
    return { shot: after, summary: range ? `Nudge ${name}, frames ${range.start}–${range.end}` : `Pull ${name} at ${frame}`, notes };
  },
});
