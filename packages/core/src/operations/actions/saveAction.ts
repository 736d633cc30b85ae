import { z } from "zod";
import { captureClip } from "../../actions/captureClip.ts";
import { freshId } from "../../model/freshId.ts";
import type { Operation } from "../operation.ts";
import { report, channelsMeant, scopeRange } from "../shared/scope.ts";
import { countedWord } from "../../words.ts";

const settings = z.object({
  name: z.string().trim().min(1).max(120).default("New action").meta({ title: "Name" }),
  what: z
    .enum(["range", "pose"])
    .default("range")
    .meta({ title: "Save", labels: { range: "The motion of the range", pose: "One pose" } }),
  frame: z
    .number()
    .min(-1e6)
    .max(1e6)
    .default(1)
    .meta({ title: "Pose of frame", unit: "frame", step: 1, when: { what: "pose" } }),
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
  situation: ({ frame }) => ({ frame }),
  async run(shot, scope, s) {
    const range = s.what === "pose" ? { start: s.frame, end: s.frame } : scopeRange(shot, scope);
    const clip = captureClip(shot, channelsMeant(shot, scope), range);
    const { name, notes, tags, folder } = s;
    const action = { card: { id: freshId("action"), name, notes, tags, folder, savedAt: Date.now() }, clip };
    const count = Object.keys(clip.curves).length;
    return {
      shot,
      action,
      report: report(
        shot,
        shot,
        `Saved "${name}": ${countedWord(count, "curve")}, ${s.what === "pose" ? `the pose of frame ${s.frame}` : `frames ${range.start} to ${range.end}`}`,
      ),
    };
  },
};
