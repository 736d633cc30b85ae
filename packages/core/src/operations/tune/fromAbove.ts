import { sampleInto } from "../../curve/track.ts";
import { KneaderError } from "../../errors.ts";
import { restWorlds } from "../../figure/restPlace.ts";
import { layoutOf, placeAt } from "../../figure/rigLayout.ts";
import { channelKey, type Control, controlById, rotateChannels, transformChannels } from "../../model/rig.ts";
import { layerCurves, type Shot } from "../../model/shot.ts";
import { listed } from "../../words.ts";
import type { Scope } from "../operation.ts";
import { scopeRange } from "../shared/scope.ts";

/** So large a part of all that shakes must come from a control to be told. */
const TOLD = 0.15;
/** So many are named. */
const NAMED = 3;
/** Frames that are looked at, at the most. */
const MOST = 2000;

/**
 * From which controls above the picked ones these are shaken more than by themselves: third differences of their turns, each by how
 * far the picked one is from it. None where nothing is picked, or most comes from the picked ones.
 */
export function shakenFromAbove(shot: Shot, scope: Scope): Control[] {
  const picked = scope.controls;
  if (!picked || picked.length === 0) return [];
  const found = new Map<string, number>();
  let own = 0;
  for (const id of picked) {
    const control = controlById(shot.rig, id);
    if (!control) continue;
    own += shakeOf(shot, scope, control) * 0.25 * reachOf(shot, control, control);
    for (let at = control.parent; at !== null; ) {
      const above = controlById(shot.rig, at);
      if (!above) break;
      if (!picked.includes(above.id))
        found.set(above.id, (found.get(above.id) ?? 0) + shakeOf(shot, scope, above) * reachOf(shot, above, control));
      at = above.parent;
    }
  }
  const all = own + [...found.values()].reduce((sum, one) => sum + one, 0);
  const above = all - own;
  if (!(above > own) || !(above > 0)) return [];
  return [...found].filter(([, amount]) => amount > TOLD * all).map(([id]) => controlById(shot.rig, id) as Control);
}

/** The controls above the picked ones whose turns or places are keyed in the layer, nearest first, three at the most. */
function keyedAbove(shot: Shot, { controls, layer }: Scope): Control[] {
  const curves = layerCurves(shot, layer);
  const found = new Set<Control>();
  for (const id of controls ?? [])
    for (let at = controlById(shot.rig, id)?.parent ?? null; at !== null && found.size < NAMED; ) {
      const above = controlById(shot.rig, at);
      if (!above) break;
      if (transformChannels.some((channel) => (curves[channelKey(above.id, channel)]?.times.length ?? 0) > 1)) found.add(above);
      at = above.parent;
    }
  return [...found];
}

/** Where what is picked has no keys though what it hangs on moves it, that is said by name. Errors: `nothing-in-scope`. */
export function refuseUnkeyed(shot: Shot, scope: Scope): void {
  const keyed = keyedAbove(shot, scope);
  if (keyed.length === 0) return;
  const names = listed((scope.controls ?? []).map((id) => controlById(shot.rig, id)?.name ?? id));
  throw new KneaderError(
    "nothing-in-scope",
    `Tune: ${names} is not keyed; it is moved from above, by ${listed(keyed.map(({ name }) => name))}.`,
    `Pick ${keyed.length === 1 ? "that" : "those"} as well.`,
  );
}

/** How far a control rests from another one; of itself a hand's breadth of the figure. */
function reachOf(shot: Shot, from: Control, to: Control): number {
  const worlds = restWorlds(shot.rig);
  const { controlIndex } = layoutOf(shot.rig);
  const [a, b] = [from, to].map(({ id }) => placeAt(controlIndex.get(id) as number));
  const away = Math.hypot(...[0, 1, 2].map((k) => worlds[a + k] - worlds[b + k]));
  return away > 0 ? away : Math.max(Math.hypot(...from.rest), 1e-6);
}

/** How much the turns of a control shake: the root mean square of their third differences, degrees. */
function shakeOf(shot: Shot, scope: Scope, control: Control): number {
  const { start, end } = scopeRange(shot, scope);
  const count = Math.min(MOST, Math.floor(end) - Math.ceil(start) + 1);
  if (count < 4) return 0;
  let sum = 0;
  const values = new Float64Array(count);
  for (const channel of rotateChannels) {
    const curve = layerCurves(shot, scope.layer)[channelKey(control.id, channel)];
    if (!curve || curve.times.length < 2) continue;
    sampleInto(curve, Math.ceil(start), 1, values);
    for (let n = 3; n < count; n++) sum += (values[n] - 3 * values[n - 1] + 3 * values[n - 2] - values[n - 3]) ** 2;
  }
  return Math.sqrt(sum / (count - 3));
}
