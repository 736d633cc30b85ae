import { z } from "zod";
import type { Curve } from "../../curve/curve.ts";
import { removeKeys } from "../../curve/edit.ts";
import type { ChannelKey } from "../../model/rig.ts";
import { layerCurves, withLayerCurves } from "../../model/shot.ts";
import { curvesInScope } from "../shared/scope.ts";
import { byHand, keysWord } from "./handOperation.ts";

const settings = z.object({
  /** Frames of poses; empty: the whole range, or the curves as a whole. */
  poses: z.array(z.number()).default([]),
});

/** Take away what a scope means: poses at some frames, a range, or whole curves. */
export const cutMotion = byHand<z.infer<typeof settings>>({
  id: "cut-motion",
  title: "Cut",
  help: "Takes the keys in scope away.",
  settings,
  edit(shot, scope, { poses }) {
    const { layer, range } = scope;
    const frames = new Set(poses);
    const goes = (time: number) => (frames.size > 0 ? frames.has(Math.round(time)) : !range || (time >= range.start && time <= range.end));
    const curves: Record<ChannelKey, Curve> = { ...layerCurves(shot, layer) };
    let count = 0;
    for (const key of curvesInScope(shot, { ...scope, keys: null })) {
      if (shot.locked.includes(key)) continue;
      const { times } = curves[key];
      const gone = [...times.keys()].filter((i) => goes(times[i]));
      // Cut poses leave a curve its last key, or the control would fall back to rest.
      const left = removeKeys(curves[key], frames.size > 0 && gone.length === times.length ? gone.slice(1) : gone);
      count += gone.length;
      if (left) curves[key] = left;
      else delete curves[key];
    }
    return { shot: withLayerCurves(shot, layer, curves), summary: `Cut ${keysWord(count)}` };
  },
});
