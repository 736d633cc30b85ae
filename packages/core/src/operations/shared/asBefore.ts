import { isSameCurve } from "../../curve/same.ts";
import type { Curves, Shot } from "../../model/shot.ts";

/**
 * A result in which every curve that came out as it went in is the very one that went in, and so is whatever holds it; the shot
 * itself where nothing differs. So work that made everything anew, but no different, counts as having changed nothing.
 */
export function asBefore(before: Shot, after: Shot): Shot {
  if (before === after) return before;
  return asOne(before, {
    ...after,
    base: curvesAsBefore(before.base, after.base),
    passes: layersAsBefore(before.passes, after.passes),
    actions: asOne(before.actions, after.actions),
    constraints: layersAsBefore(before.constraints, after.constraints),
  });
}

function layersAsBefore<Layer extends { readonly id: string; readonly curves: Curves }>(
  before: readonly Layer[],
  after: readonly Layer[],
): readonly Layer[] {
  if (before === after) return before;
  const layers = after.map((layer) => {
    const old = before.find(({ id }) => id === layer.id);
    return old ? asOne(old, { ...layer, curves: curvesAsBefore(old.curves, layer.curves) }) : layer;
  });
  return asOne(before, layers);
}

function curvesAsBefore(before: Curves, after: Curves): Curves {
  if (before === after) return before;
  const curves = Object.fromEntries(
    Object.entries(after).map(([key, curve]) => [key, before[key] && isSameCurve(before[key], curve) ? before[key] : curve]),
  );
  return asOne(before, curves);
}

/** The former one where all that is in the latter is in it too. */
function asOne<Held extends object>(before: Held, after: Held): Held {
  const names = Object.keys(after) as (keyof Held)[];
  const isSame = names.length === Object.keys(before).length && names.every((name) => Object.is(before[name], after[name]));
  return isSame ? before : after;
}
