import { z } from "zod";
import { captureClip } from "../../actions/captureClip.ts";
import { freshId } from "../../model/freshId.ts";
import type { Operation } from "../operation.ts";
import { report, channelsMeant, scopeRange } from "../shared/scope.ts";
import { countedWord } from "../../words.ts";

const settings = z.object({
  name: z.string().trim().min(1).max(120).default("New action").meta({ title: "Name" }),
  notes: z.string().max(4000).default("").meta({ title: "Notes", widget: "lines" }),
  tags: z.array(z.string().trim().min(1).max(40)).max(20).default([]).meta({ title: "Tags" }),
  folder: z.string().trim().min(1).max(60).default("My actions").meta({ title: "Folder" }),
});

/** Save a range of motion for reuse. */
export const saveAction: Operation<z.infer<typeof settings>> = {
  id: "save-action",
  title: "Save as action",
  group: "Actions",
  help: "Saves the scope's motion over its range as an action in the pantry. The shot stays as it is.",
  guide: {
    use: "Motion that exists is never animated twice: a nod, a wave, a pose, kept for any shot.",
    watch: "It saves what is in scope over the marked range. Pick only the parts that belong to it.",
  },
  keepsShot: true,
  words: "pantry library reuse store pose clip record preset",
  suits: ["a marked range", "picked poses"],
  settings,
  makes: "action",
  async run(shot, scope, s) {
    const range = scopeRange(shot, scope);
    const clip = captureClip(shot, channelsMeant(shot, scope), range);
    const action = { card: { id: freshId("action"), ...s, savedAt: Date.now() }, clip };
    const count = Object.keys(clip.curves).length;
    return {
      shot,
      action,
      report: report(shot, shot, `Saved "${s.name}": ${countedWord(count, "curve")}, frames ${range.start} to ${range.end}`),
    };
  },
};
