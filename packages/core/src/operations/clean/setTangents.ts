import { z } from "zod";
import { setTangents as setCurveTangents } from "../../curve/edit.ts";
import { type Curve, Tangent, tangentNames, type TangentName } from "../../curve/curve.ts";
import { type HandleWork, workHandles } from "../../curve/handles.ts";
import { KneaderError } from "../../errors.ts";
import { layerCurves } from "../../model/shot.ts";
import type { Operation } from "../operation.ts";
import { changeCurves, needSomething, outcome, scopedChannels, scopedKeys } from "../shared/scope.ts";
import { countedWord } from "../../words.ts";

const settings = z.object({
  kind: z
    .enum([...(tangentNames as [TangentName, ...TangentName[]]), "keep"])
    .default("auto")
    .meta({
      title: "Tangent",
      labels: { keep: "as it is" },
      help: "Auto never overshoots; smooth rounds; flat is level; linear goes straight; stepped holds; free keeps the slope it has.",
    }),
  side: z
    .enum(["both", "in", "out"])
    .default("both")
    .meta({ title: "Side", labels: { both: "Both sides", in: "Before the key", out: "After the key" } }),
  handles: z
    .enum(["keep", "join", "break", "even", "thirds"])
    .default("keep")
    .meta({
      title: "Handles",
      labels: {
        keep: "As they are",
        join: "Join the two sides",
        break: "Break the two sides",
        even: "Even: both equally long",
        thirds: "A third: no weight",
      },
      help: "Joined handles turn together; broken ones each on their own.",
    }),
});

const said: Record<HandleWork, string> = { join: "joined", break: "broken", even: "evened", thirds: "made plain" };

/** Give keys a kind of tangent, and join, break, even or unweight their handles. */
export const setTangents: Operation<z.infer<typeof settings>> = {
  id: "set-tangents",
  title: "Set tangents",
  group: "Clean",
  help: "Gives the keys in scope one kind of tangent, on one side or both, and joins, breaks or evens their handles.",
  guide: {
    use: "Decides how the motion leaves and reaches its keys: eased, straight, held.",
    watch: "Auto never overshoots, smooth may. Weighted and broken handles stay as they are unless you say otherwise.",
  },
  words:
    "auto smooth flat linear stepped free handles slope spline break join weighted even unify interpolation curve type ease clamped snappy",
  suits: ["picked keys"],
  settings,
  async run(shot, scope, s, context) {
    const channels = scopedChannels(shot, scope);
    needSomething(channels, "Set tangents");
    const { kind, handles } = s;
    if (kind === "keep" && handles === "keep")
      throw new KneaderError("bad-setting", "Set tangents: neither a kind of tangent nor work on the handles is chosen.");
    const curves = layerCurves(shot, scope.layer);
    let count = 0;
    const changed: Record<string, Curve> = {};
    for (const [i, key] of channels.entries()) {
      await context.breathe(i / channels.length);
      const indices = scopedKeys(curves[key], key, scope);
      if (indices.length === 0) continue;
      count += indices.length;
      const kinded = kind === "keep" ? curves[key] : setCurveTangents(curves[key], indices, Tangent[kind], s.side);
      changed[key] = handles === "keep" ? kinded : workHandles(kinded, indices, handles);
    }
    const made = [...(kind === "keep" ? [] : [`made ${kind}`]), ...(handles === "keep" ? [] : [`handles ${said[handles]}`])];
    return outcome(shot, changeCurves(shot, scope.layer, changed), `${countedWord(count, "key")} ${made.join(", ")}`);
  },
};
