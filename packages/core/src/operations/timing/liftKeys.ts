import { type Curve, keyAt, keyOn, makeKey, Tangent } from "../../curve/curve.ts";
import { clipCurve, shiftFrom } from "../../curve/edit.ts";
import { curveFromKeys } from "../../curve/make.ts";
import { sampleCurve } from "../../curve/track.ts";
import { KneaderError } from "../../errors.ts";
import { type Clip, controlsFor } from "../../model/clip.ts";
import type { ChannelKey } from "../../model/rig.ts";
import { layerCurves, type Shot } from "../../model/shot.ts";
import type { Scope } from "../operation.ts";
import { curvesInScope, scopedKeys } from "../shared/scope.ts";

/**
 * What a scope means, lifted for pasting: the picked keys; or, within a range, the curves with a key put at
 * both of its ends; or the curves as a whole. Errors: `nothing-in-scope`.
 */
export function liftKeys(shot: Shot, scope: Scope): Clip {
  const curves = layerCurves(shot, scope.layer);
  const lifted: Record<ChannelKey, Curve> = {};
  for (const key of curvesInScope(shot, scope)) {
    if (scope.keys !== null) {
      const keys = scopedKeys(curves[key], key, scope).map((i) => keyAt(curves[key], i));
      if (keys.length > 0) lifted[key] = curveFromKeys(keys);
    } else lifted[key] = scope.range ? clipCurve(curves[key], scope.range.start, scope.range.end) : curves[key];
  }
  return clipOf(shot, lifted, scope.keys === null && scope.range === null);
}

/** The poses of some frames: one key on each curve in scope, of the kind of the key that stands there. */
export function liftPoses(shot: Shot, scope: Scope, frames: readonly number[]): Clip {
  const curves = layerCurves(shot, scope.layer);
  const lifted: Record<ChannelKey, Curve> = {};
  for (const key of curvesInScope(shot, scope))
    lifted[key] = curveFromKeys(
      frames.map((frame) => {
        const at = keyOn(curves[key], frame);
        return at >= 0 ? keyAt(curves[key], at) : makeKey(frame, sampleCurve(curves[key], frame), Tangent.auto);
      }),
    );
  return clipOf(shot, lifted, false);
}

function clipOf(shot: Shot, curves: Readonly<Record<ChannelKey, Curve>>, whole: boolean): Clip {
  const keys = Object.keys(curves);
  if (keys.length === 0)
    throw new KneaderError("nothing-in-scope", "There is no key to copy here.", "Pick keys, or controls that have some.");
  const from = Math.min(...keys.map((key) => curves[key].times[0]));
  const to = Math.max(...keys.map((key) => curves[key].times[curves[key].times.length - 1]));
  return {
    rate: shot.rate,
    from,
    length: to - from,
    whole,
    curves: Object.fromEntries(keys.map((key) => [key, shiftFrom(curves[key], Number.NEGATIVE_INFINITY, -from)])),
    controls: controlsFor(shot.rig, keys),
    figure: shot.rig.figure,
  };
}
