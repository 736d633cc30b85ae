import type { Curve } from "../../curve/curve.ts";
import type { ChannelKey } from "../../model/rig.ts";
import { layerCurves, type Shot } from "../../model/shot.ts";
import type { Context, Scope } from "../operation.ts";
import { changeCurves, needSomething, scopedChannels, scopedKeys } from "./scope.ts";

export interface EachCurve {
  readonly after: Shot;
  /** Channels whose curve is another one now. */
  readonly changed: readonly ChannelKey[];
  /** Keys that were in scope. */
  readonly keys: number;
}

/**
 * Change each curve in scope that has a key in scope, one after the other. `change` gets the indices of
 * those keys; a curve it returns as it was counts as unchanged.
 */
export async function eachCurve(
  shot: Shot,
  scope: Scope,
  title: string,
  context: Context,
  change: (curve: Curve, keys: readonly number[], channel: ChannelKey) => Curve,
): Promise<EachCurve> {
  const channels = scopedChannels(shot, scope);
  needSomething(channels, title);
  const curves = layerCurves(shot, scope.layer);
  const changed: Record<ChannelKey, Curve> = {};
  let count = 0;
  for (const [i, channel] of channels.entries()) {
    if (i % 8 === 7) await context.breathe((0.9 * i) / channels.length);
    const keys = scopedKeys(curves[channel], channel, scope);
    if (keys.length === 0) continue;
    count += keys.length;
    const next = change(curves[channel], keys, channel);
    if (next !== curves[channel]) changed[channel] = next;
  }
  return { after: changeCurves(shot, scope.layer, changed), changed: Object.keys(changed), keys: count };
}
