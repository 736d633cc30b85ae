import { type Curve, keyBefore, makeKey, Tangent, type TangentKind } from "../../curve/curve.ts";
import { setKey } from "../../curve/edit.ts";
import { curveFromKeys } from "../../curve/make.ts";
import type { ChannelKey } from "../../model/rig.ts";
import { layerCurves, type Shot, withLayerCurves } from "../../model/shot.ts";

/**
 * Key channels of a layer at a frame with the layer's own values. A channel that had no curve gets one
 * key, which holds for the whole shot. Locked channels are left alone.
 */
export function keyChannels(shot: Shot, layer: string, frame: number, values: Readonly<Record<ChannelKey, number>>): Shot {
  const curves = { ...layerCurves(shot, layer) };
  for (const [key, value] of Object.entries(values)) {
    if (shot.locked.includes(key)) continue;
    const curve = curves[key];
    curves[key] = curve ? setKey(curve, frame, value, kindAt(curve, frame)) : curveFromKeys([makeKey(frame, value, Tangent.auto)]);
  }
  return withLayerCurves(shot, layer, curves);
}

/** A key put among stepped ones is stepped too. */
function kindAt({ times, kindOut }: Curve, frame: number): TangentKind {
  const stepped = kindOut[Math.max(0, keyBefore(times, frame))] === Tangent.stepped;
  return stepped ? Tangent.stepped : Tangent.auto;
}
