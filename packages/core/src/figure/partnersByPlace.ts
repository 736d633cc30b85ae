import { type Control, figureControls, type Rig, type Sides } from "../model/rig.ts";
import { restWorlds } from "./restPlace.ts";
import { layoutOf, placeAt } from "./rigLayout.ts";
import { axisNumber, medianOf, sidesOf, sizeOf } from "./sides.ts";

/** Partners rest within this share of the figure's size of each other's reflection. */
const NEAR = 0.03;
/** How much what hangs on controls counts beside where they rest. */
const TELLS_APART = 0.1;

/**
 * Every control's partner from where it rests: the one that stands nearest to its reflection, when that is mutual and both
 * hang on partners (or on the same control). A control on the middle is its own partner; of others that have nobody
 * near their reflection the partner is null. Props, set and camera keep what they have.
 */
export function partnersByPlace(rig: Rig): Control[] {
  const isPaired = rig.sides !== undefined || rig.controls.some(({ id, partner }) => partner !== null && partner !== id);
  if (isPaired) return pairedAbout(rig, sidesOf(rig));
  // Without any pair it is not known where left meets right: the axis about which most find someone is taken.
  const tried = (["x", "z", "y"] as const).flatMap((axis) => middlesAlong(rig, axis).map((at) => pairedAbout(rig, { axis, at })));
  const count = (controls: readonly Control[]) => controls.filter(({ id, partner }) => partner !== null && partner !== id).length;
  return tried.reduce((best, one) => (count(one) > count(best) ? one : best));
}

/** Where along an axis the middle may be: at the scene's, in the middle of all that a figure has, or where its first control rests. */
function middlesAlong(rig: Rig, axis: Sides["axis"]): number[] {
  const k = axisNumber({ axis, at: 0 });
  const worlds = restWorlds(rig);
  const { controlIndex } = layoutOf(rig);
  const along = figureControls(rig).map(({ id }) => worlds[placeAt(controlIndex.get(id) as number) + k]);
  return [...new Set([0, medianOf(along), along[0]])];
}

/** The middle of each control with all that hangs on it: tells apart what rests at one place. */
function centres({ controls }: Rig, worlds: Float64Array, parents: Int32Array): number[][] {
  const sums = controls.map((_, i) => [0, 1, 2].map((k) => worlds[placeAt(i) + k]).concat(1));
  for (let i = controls.length - 1; i >= 0; i--) if (parents[i] >= 0) for (let k = 0; k < 4; k++) sums[parents[i]][k] += sums[i][k];
  return sums.map(([x, y, z, count]) => [x / count, y / count, z / count]);
}

function pairedAbout(rig: Rig, sides: Sides): Control[] {
  const worlds = restWorlds(rig);
  const { controlIndex, parents } = layoutOf(rig);
  const middles = centres(rig, worlds, parents);
  const axis = axisNumber(sides);
  const near = NEAR * sizeOf(rig);
  const index = (id: string) => controlIndex.get(id) as number;
  const place = (id: string) => worlds.subarray(placeAt(index(id))).subarray(0, 3);
  const figure = figureControls(rig).filter(({ role }) => role === "figure");
  const partners = new Map<string, string | null>();
  const across = (id: string | null): string | null => (id === null ? null : (partners.get(id) ?? id));
  const off = (a: ArrayLike<number>, b: ArrayLike<number>) =>
    Math.hypot(...[0, 1, 2].map((k) => b[k] - (k === axis ? 2 * sides.at - a[k] : a[k])));
  /** Who stands nearest to a control's reflection, of those that hang on `parent`. */
  const nearest = (control: Control, parent: string | null): string | null => {
    let best: string | null = null;
    let least = Number.POSITIVE_INFINITY;
    for (const other of figure) {
      const far = other.parent === parent ? off(place(control.id), place(other.id)) : Number.POSITIVE_INFINITY;
      if (far >= near) continue;
      // Of those that stand at one place the one is meant whose limb lies across, with the same order of turns.
      const unlike =
        TELLS_APART * off(middles[index(control.id)], middles[index(other.id)]) + (other.order === control.order ? 0 : near * 0.01);
      if (far + unlike < least - 1e-12) [best, least] = [other.id, far + unlike];
    }
    return best;
  };
  const byId = new Map(figure.map((control) => [control.id, control]));
  // Those above come first, so that who hangs on whom is known.
  for (const control of figure) {
    const other = byId.get(nearest(control, across(control.parent)) ?? "");
    partners.set(control.id, other && nearest(other, control.parent) === control.id ? other.id : null);
  }
  return rig.controls.map((control) => (partners.has(control.id) ? { ...control, partner: partners.get(control.id) ?? null } : control));
}
