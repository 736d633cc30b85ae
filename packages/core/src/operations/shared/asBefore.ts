import { isSameCurve } from "../../curve/same.ts";
import type { Curves, Shot } from "../../model/shot.ts";

/** A pass or a constraint: what is told besides its curves is small. */
interface Layer {
  readonly id: string;
  readonly curves: Curves;
}

/**
 * A result in which every curve that came out as it went in is the very one that went in, and so is whatever holds it; the shot
 * itself where nothing differs. So work that made everything anew, but no different, counts as having changed nothing.
 */
export function asBefore(before: Shot, after: Shot): Shot {
  if (before === after) return before;
  return asOne(before, {
    ...after,
    range: asTold(before.range, after.range),
    poseMarks: asTold(before.poseMarks, after.poseMarks),
    base: curvesAsBefore(before.base, after.base),
    passes: layersAsBefore(before.passes, after.passes),
    constraints: layersAsBefore(before.constraints, after.constraints),
    versions: asTold(before.versions, after.versions),
    actions: asOne(before.actions, after.actions),
  });
}

function layersAsBefore<Some extends Layer>(before: readonly Some[], after: readonly Some[]): readonly Some[] {
  if (before === after) return before;
  const layers = after.map((layer) => {
    const old = before.find(({ id }) => id === layer.id);
    return old ? layerAsBefore(old, layer) : layer;
  });
  return asOne(before, layers);
}

function layerAsBefore<Some extends Layer>(before: Some, after: Some): Some {
  if (before === after) return before;
  const fields = Object.entries(after).map(([name, is]) => {
    const was = before[name as keyof Some];
    return [name, name === "curves" ? curvesAsBefore(before.curves, after.curves) : asTold(was, is)];
  });
  return asOne(before, Object.fromEntries(fields) as Some);
}

function curvesAsBefore(before: Curves, after: Curves): Curves {
  if (before === after) return before;
  const curves = Object.fromEntries(
    Object.entries(after).map(([key, curve]) => [key, before[key] && isSameCurve(before[key], curve) ? before[key] : curve]),
  );
  return asOne(before, curves);
}

/** The former where both say the same. */
function asTold<Told>(before: Told, after: Told): Told {
  return before === after || JSON.stringify(before) !== JSON.stringify(after) ? after : before;
}

/** The former one where all that is in the latter is in it too. */
function asOne<Held extends object>(before: Held, after: Held): Held {
  const names = Object.keys(after) as (keyof Held)[];
  const isSame = names.length === Object.keys(before).length && names.every((name) => Object.is(before[name], after[name]));
  return isSame ? before : after;
}
