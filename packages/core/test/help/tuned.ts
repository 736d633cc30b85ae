import { type Curve, type Key, keysOf, Tangent } from "../../src/curve/curve.ts";
import { curveFromKeys } from "../../src/curve/make.ts";
import { type ChannelKey, channelUnit, splitChannelKey } from "../../src/model/rig.ts";
import { layerCurves, type Shot } from "../../src/model/shot.ts";
import { sizeOf } from "../../src/figure/sides.ts";
import { asDegree } from "../../src/tune/closeness.ts";
import { costs } from "../../src/tune/costs/costs.ts";
import { judgedBy } from "../../src/tune/judged.ts";
import type { KeyParts, Movable } from "../../src/tune/keyVariables.ts";
import { makeObjective, type Objective } from "../../src/tune/objective.ts";
import type { Chance } from "./chance.ts";

/** The shot with its keys moved by chance, their tangents of any kind and their handles of any length. */
export function shaken(shot: Shot, chance: Chance, size = 5): Shot {
  const shake = (key: ChannelKey, curve: Curve) => {
    const degree = asDegree(key, sizeOf(shot.rig));
    const keys = keysOf(curve).map((one): Key => {
      const kind = chance.of([Tangent.free, Tangent.free, Tangent.auto, Tangent.smooth]);
      const slope = one.slopeOut + (chance.between(-1, 1) * size * degree) / 10;
      const weighted = chance.next() < 0.4;
      return {
        ...one,
        value: one.value + chance.between(-size, size) * degree,
        slopeIn: slope,
        slopeOut: chance.next() < 0.3 ? slope + (chance.between(-1, 1) * degree) / 5 : slope,
        weightIn: weighted ? chance.between(0.15, 0.8) : one.weightIn,
        weightOut: weighted ? chance.between(0.15, 0.8) : one.weightOut,
        kindIn: kind,
        kindOut: kind,
      };
    });
    return curveFromKeys(keys, curve);
  };
  const base: Record<string, Curve> = {};
  for (const [key, curve] of Object.entries(shot.base))
    base[key] = channelUnit(splitChannelKey(key).channel) === "number" ? curve : shake(key, curve);
  return { ...shot, base };
}

/** Some curves of a layer, all of their keys movable. */
function movablesOf(shot: Shot, layer: string, keep: (key: ChannelKey) => boolean = () => true): Movable[] {
  const size = sizeOf(shot.rig);
  return Object.entries(layerCurves(shot, layer)).flatMap(([key, curve]) =>
    keep(key) && curve.times.length > 0 ? [{ key, curve, keys: [...curve.times.keys()], degree: asDegree(key, size) }] : [],
  );
}

/** The strain of a shot over its keys, by all costs that can judge it. */
export function objectiveOf(
  shot: Shot,
  layer: string,
  parts: KeyParts,
  { only, keep }: { only?: readonly string[]; keep?: (key: ChannelKey) => boolean } = {},
): { objective: Objective; movables: Movable[]; costs: readonly string[] } {
  const { start, end } = shot.range;
  const judged = judgedBy(
    shot,
    costs.filter(({ id }) => !only || only.includes(id)),
    start,
    end - start + 1,
  );
  const movables = movablesOf(shot, layer, keep);
  return { objective: makeObjective(shot, layer, movables, judged, parts), movables, costs: judged.costs.map(({ id }) => id) };
}
