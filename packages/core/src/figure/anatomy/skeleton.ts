import { restWorlds } from "../restPlace.ts";
import { placeAt } from "../rigLayout.ts";
import { type Control, isScenery, type Rig } from "../../model/rig.ts";

/** What a skeleton is made from: a rig, or the controls a clip was lifted with. */
export type Figure = Pick<Rig, "controls"> & Partial<Pick<Rig, "sides">>;

/** Controls as matching looks at them: who hangs on whom, and where each rests in the world. */
export interface Skeleton {
  readonly controls: readonly Control[];
  /** By control, the index of the one above; −1 at the top. */
  readonly parents: Int32Array;
  /** By control, those that hang on it. */
  readonly children: readonly (readonly number[])[];
  /** World matrices at rest, sixteen numbers a control. */
  readonly worlds: Float64Array;
  /** Where a control rests in the world. */
  place(i: number): Float64Array;
  /** Index of a control by its id. */
  readonly index: ReadonlyMap<string, number>;
}

const known = new WeakMap<readonly Control[], Skeleton>();

/** The skeleton of controls, worked out once for each list. Parents that are not among them count as none. */
export function skeletonOf({ controls, sides }: Figure): Skeleton {
  let skeleton = known.get(controls);
  if (!skeleton) {
    skeleton = build({ id: "", name: "", figure: null, controls, ...(sides ? { sides } : {}) });
    known.set(controls, skeleton);
  }
  return skeleton;
}

function build(rig: Rig): Skeleton {
  const { controls } = rig;
  const index = new Map(controls.map(({ id }, i) => [id, i]));
  const parents = Int32Array.from(controls, ({ parent }) => (parent === null ? -1 : (index.get(parent) ?? -1)));
  const children: number[][] = controls.map(() => []);
  parents.forEach((parent, i) => {
    if (parent >= 0) children[parent].push(i);
  });
  const worlds = restWorlds(rig);
  return { controls, parents, children, worlds, index, place: (i) => worlds.subarray(placeAt(i), placeAt(i) + 3) };
}

/** Is a control of the figure or a thing it handles, rather than of the place around it? */
export const isOwn = (control: Control): boolean => !isScenery(control);

/** The nearest control above one that `wanted` holds for; −1: none. */
export function aboveWhere({ parents }: Skeleton, i: number, wanted: (i: number) => boolean): number {
  let at = parents[i];
  while (at >= 0 && !wanted(at)) at = parents[at];
  return at;
}

/** A control with all above it, the topmost first. */
export function pathTo({ parents }: Skeleton, i: number): number[] {
  const path: number[] = [];
  for (let at = i; at >= 0; at = parents[at]) path.unshift(at);
  return path;
}
