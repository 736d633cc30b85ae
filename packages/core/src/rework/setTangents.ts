import { z } from "zod";
import { setTangents as setCurveTangents } from "../curve/edit.ts";
import { Tangent, tangentNames, type TangentName } from "../curve/curve.ts";
import { layerCurves } from "../model/shot.ts";
import type { Operation } from "./operation.ts";
import { changeCurves, needSomething, outcome, scopedChannels, scopedKeys } from "./scope.ts";

const settings = z.object({
  kind: z
    .enum(tangentNames as [TangentName, ...TangentName[]])
    .default("auto")
    .meta({
      title: "Tangent",
      help: "Auto never overshoots; smooth rounds; flat is level; linear goes straight; stepped holds; free keeps the slope it has.",
    }),
  side: z
    .enum(["both", "in", "out"])
    .default("both")
    .meta({ title: "Side", labels: { both: "Both sides", in: "Before the key", out: "After the key" } }),
});

/** Give keys a kind of tangent. */
export const setTangents: Operation<z.infer<typeof settings>> = {
  id: "set-tangents",
  title: "Set tangents",
  group: "Clean",
  help: "Gives the keys in scope one kind of tangent, on one side or both.",
  words: "auto smooth flat linear stepped free handles slope spline",
  settings,
  async run(shot, scope, s) {
    const channels = scopedChannels(shot, scope);
    needSomething(channels, "Set tangents");
    const curves = layerCurves(shot, scope.layer);
    let count = 0;
    const changed = Object.fromEntries(
      channels.flatMap((key) => {
        const indices = scopedKeys(curves[key], key, scope);
        count += indices.length;
        return indices.length === 0 ? [] : [[key, setCurveTangents(curves[key], indices, Tangent[s.kind], s.side)]];
      }),
    );
    return outcome(shot, changeCurves(shot, scope.layer, changed), `${count} keys made ${s.kind}`);
  },
};
