import type { Curve } from "../../curve/curve.ts";
import { removeKeys } from "../../curve/edit.ts";
import type { ChannelKey } from "../../model/rig.ts";
import { layerCurves, type Shot, withLayerCurves } from "../../model/shot.ts";
import type { Scope } from "../operation.ts";
import { curvesInScope } from "./scope.ts";

/** The shot without the keys a scope means (at some frames, in its range, or all), and how many they were. Locked ones stay. */
export function cutKeys(shot: Shot, scope: Scope, poses: readonly number[] = []): { shot: Shot; count: number } {
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
  return { shot: withLayerCurves(shot, layer, curves), count };
}
