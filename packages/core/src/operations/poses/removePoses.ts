import { z } from "zod";
import { type Curve, keysOn } from "../../curve/curve.ts";
import { removeKeys } from "../../curve/edit.ts";
import { KneaderError } from "../../errors.ts";
import { layerCurves } from "../../model/shot.ts";
import type { Operation } from "../operation.ts";
import { changeCurves, isWholeFigure, needSomething, outcome, scopedChannels } from "../shared/scope.ts";

const settings = z.object({
  frames: z.array(z.number()).default([]).meta({ title: "Poses of frames", widget: "frames" }),
});

/** Take the keys of poses away; the others stay where they are. */
export const removePoses: Operation<z.infer<typeof settings>> = {
  id: "remove-poses",
  title: "Remove poses",
  group: "Poses",
  help: "Takes away the keys at the frames of poses; the motion goes from the pose before to the pose after. A curve keeps its last key.",
  guide: {
    use: "Takes a pose out, to see whether it is needed.",
    watch: "The motion then goes straight from the pose before to the pose after.",
  },
  words: "delete key pose drop",
  suits: ["picked poses"],
  leaves: ["range"],
  settings,
  async run(shot, scope, { frames }) {
    const channels = scopedChannels(shot, scope);
    needSomething(channels, "Remove poses");
    if (frames.length === 0) throw new KneaderError("bad-setting", "Remove poses: no frame is given.", "Add the frames of the poses.");
    const curves = layerCurves(shot, scope.layer);
    const times = [...frames].sort((a, b) => a - b);
    const changed: Record<string, Curve> = {};
    for (const key of channels) {
      const gone = keysOn(curves[key], times);
      if (gone.length === 0) continue;
      const left = removeKeys(curves[key], gone.length === curves[key].times.length ? gone.slice(1) : gone);
      if (left) changed[key] = left;
    }
    if (Object.keys(changed).length === 0)
      throw new KneaderError("nothing-in-scope", `Remove poses: there is no key at frame ${times.join(", ")}.`, "Choose frames with keys.");
    const poseMarks = isWholeFigure(scope) ? shot.poseMarks.filter((mark) => !times.includes(mark.frame)) : shot.poseMarks;
    const after = { ...changeCurves(shot, scope.layer, changed), poseMarks };
    return outcome(shot, after, `Removed the ${times.length === 1 ? "pose" : "poses"} of frame ${times.join(", ")}`);
  },
};
