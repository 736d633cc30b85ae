import { type Curve, keysOn } from "../../curve/curve.ts";
import type { ChannelKey } from "../../model/rig.ts";
import { layerCurves, type Shot, withLayerCurves } from "../../model/shot.ts";

/** Times of picked keys by channel. */
export type Picked = Readonly<Record<ChannelKey, readonly number[]>>;

export function pickedCount(keys: Picked): number {
  return Object.values(keys).reduce((sum, times) => sum + times.length, 0);
}

/** Edit the picked keys of several curves; a curve that loses its last key goes. Curves that share times and picks are given one list of indices. */
export function editKeys(shot: Shot, layer: string, keys: Picked, edit: (curve: Curve, indices: number[]) => Curve | null): Shot {
  const curves: Record<ChannelKey, Curve> = { ...layerCurves(shot, layer) };
  const found = new Map<Float64Array, { picked: readonly number[]; indices: number[] }>();
  for (const [key, times] of Object.entries(keys)) {
    const curve = curves[key];
    if (!curve || shot.locked.includes(key)) continue;
    const like = found.get(curve.times);
    const indices = like?.picked === times ? like.indices : keysOn(curve, times);
    found.set(curve.times, { picked: times, indices });
    const next = edit(curve, indices);
    if (next) curves[key] = next;
    else delete curves[key];
  }
  return withLayerCurves(shot, layer, curves);
}
