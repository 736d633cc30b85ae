import { z } from "zod";
import { keyOn } from "../../curve/curve.ts";
import { insertKeysOn } from "../../curve/edit.ts";
import { controlById, splitChannelKey } from "../../model/rig.ts";
import { findPoses } from "../poses/poses.ts";
import { eachCurve } from "../shared/eachCurve.ts";
import type { Operation } from "../operation.ts";
import { outcome, scopeRange, wantedChannels } from "../shared/scope.ts";
import { countedWord } from "../../words.ts";

const settings = z.object({
  where: z
    .enum(["ends", "poses", "frame"])
    .default("ends")
    .meta({ title: "Where", labels: { ends: "At both ends of the range", poses: "At every key pose", frame: "At one frame" } }),
  frame: z.number().default(1).meta({ title: "Frame", unit: "frame", step: 1, help: "For one frame." }),
  share: z.number().min(1).max(100).default(50).meta({
    title: "A pose is keyed on",
    unit: "percent",
    max: 100,
    step: 5,
    help: "Share of the moving controls that must have a key for a frame to be a pose.",
  }),
});

/** Key what has no key where it should have one; no curve changes. */
export const keyMissing: Operation<z.infer<typeof settings>> = {
  id: "key-missing",
  title: "Key what is missing",
  group: "Clean",
  help: "Finds curves without a key at a pose or at the ends of the range and keys them there, every curve unchanged; lists controls never keyed.",
  guide: {
    use: "When two poses are joined, a control that has no key at one of them drifts. This finds it and keys it, without changing anything.",
    watch: "Controls that were never keyed are listed: key them on purpose, or leave them out on purpose.",
  },
  words: "missing forgotten complete pose start end hold pop drift insert audit check all controls",
  settings,
  situation: ({ frame }) => ({ frame }),
  async run(shot, scope, s, context) {
    const range = scopeRange(shot, scope);
    const frames =
      s.where === "ends"
        ? [range.start, range.end]
        : s.where === "frame"
          ? [s.frame]
          : findPoses(shot, { ...scope, keys: null }, s.share / 100)
              .map((pose) => pose.frame)
              .filter((frame) => frame >= range.start && frame <= range.end);
    const forgotten = new Map<string, number>();
    let added = 0;
    const { after, changed } = await eachCurve(
      shot,
      { ...scope, keys: null, range: null },
      "Key what is missing",
      context,
      (curve, _keys, channel) => {
        const missing = frames.filter((frame) => keyOn(curve, frame) < 0);
        if (missing.length === 0) return curve;
        added += missing.length;
        const { control } = splitChannelKey(channel);
        forgotten.set(control, (forgotten.get(control) ?? 0) + missing.length);
        return insertKeysOn(curve, missing);
      },
    );
    const keyed = new Set(Object.keys(after.base).map((key) => splitChannelKey(key).control));
    for (const pass of after.passes) for (const key in pass.curves) keyed.add(splitChannelKey(key).control);
    const never = [...new Set(wantedChannels(shot, scope).map((key) => splitChannelKey(key).control))].filter((id) => !keyed.has(id));
    const name = (id: string) => controlById(shot.rig, id)?.name ?? id;
    const list = (ids: readonly string[]) => ids.slice(0, 5).map(name).join(", ") + (ids.length > 5 ? ` and ${ids.length - 5} more` : "");
    const warnings: string[] = [];
    if (forgotten.size > 0) warnings.push(`Keys were missing on ${list([...forgotten.keys()])}.`);
    if (never.length > 0) warnings.push(`Never keyed: ${list(never)}.`);
    return outcome(
      shot,
      after,
      added > 0 ? `Added ${countedWord(added, "key")} on ${countedWord(changed.length, "curve")}` : "Nothing is missing",
      { warnings },
    );
  },
};
