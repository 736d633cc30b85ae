import { BASE, type Curves, layerCurves, type Outcome, type Shot, withLayerCurves } from "@kneader/core";

/**
 * What long work has so far, on its way to the page: the curves that differ, whole. They come again and again and are
 * soon forgotten, so they are given no numbers that both sides would have to keep.
 */
export interface Interim {
  readonly outcome: Omit<Outcome, "shot">;
  /** By layer. */
  readonly changed: Readonly<Record<string, Curves>>;
}

export function packInterim(before: Shot, { shot, ...outcome }: Outcome): Interim {
  const layers = [BASE, ...shot.passes.map(({ id }) => id), ...shot.constraints.map(({ id }) => id)];
  const changed: Record<string, Curves> = {};
  for (const layer of layers) {
    const [was, is] = [layerCurves(before, layer), layerCurves(shot, layer)];
    const other = Object.entries(is).filter(([key, curve]) => was[key] !== curve);
    if (other.length > 0) changed[layer] = Object.fromEntries(other);
  }
  return { outcome, changed };
}

export function unpackInterim(before: Shot, { outcome, changed }: Interim): Outcome {
  let shot = before;
  for (const [layer, curves] of Object.entries(changed)) shot = withLayerCurves(shot, layer, { ...layerCurves(shot, layer), ...curves });
  return { ...outcome, shot };
}
