import type { Curve } from "../curve/curve.ts";
import { addSample, clearCurveSlope, makeCurveSlope, settleSlope } from "../curve/curveSlope.ts";
import type { Shot } from "../model/shot.ts";
import { makeMotion } from "./figureMotion.ts";
import type { Judged } from "./judged.ts";
import { gatherSlopes, type KeyParts, type Movable, movedCurves, variablesOf } from "./keyVariables.ts";
import { makeProbe } from "./probe.ts";
import type { Variables } from "./variables.ts";

/** The strain of a shot as a function of its keys. */
export interface Objective {
  readonly variables: Variables;
  /** The strain, each cost by its weight; how it changes with each variable goes into `slope`, where that is asked for. In pieces. */
  strain(x: Float64Array, weights: readonly number[], slope: Float64Array | null): Generator<number, number>;
  curvesFor(x: Float64Array): readonly Curve[];
}

/** `movables` are curves of the layer. The figure is judged over the frames of what is judged. */
export function makeObjective(shot: Shot, layer: string, movables: readonly Movable[], judged: Judged, parts: KeyParts): Objective {
  const variables = variablesOf(movables, parts);
  const { subject, judges } = judged;
  const { looks, start, count, size } = subject;
  const keys = movables.map(({ key }) => key);
  const probe = makeProbe(shot, layer, keys, looks, size);
  const motion = makeMotion(looks, start, count);
  const pulls = makeMotion(looks, start, count);
  const frames = new Float64Array(count);
  const slopes = movables.map(({ curve }) => makeCurveSlope(curve.times.length));
  return {
    variables,
    *strain(x, weights, slope) {
      const moved = movedCurves(movables, variables, x);
      yield* probe.read(moved, motion);
      pulls.places.fill(0);
      pulls.values.fill(0);
      let value = 0;
      for (const [n, judge] of judges.entries()) {
        if (!(weights[n] > 0)) continue;
        yield n / judges.length;
        value += weights[n] * judge.judge(motion, frames, slope && pulls, weights[n]);
      }
      if (!slope) return value;
      for (const one of slopes) clearCurveSlope(one);
      yield* probe.trace(pulls, (n, time, by) => addSample(slopes[n], moved[n], time, by));
      for (let n = 0; n < moved.length; n++) settleSlope(slopes[n], moved[n]);
      gatherSlopes(variables, slopes, slope);
      return value;
    },
    curvesFor: (x) => movedCurves(movables, variables, x),
  };
}
