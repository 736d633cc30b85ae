import { type Control, makeControl, moveChannels, rotateChannels } from "../../src/model/rig.ts";

/** A joint of a drawn figure: its number, name, the number of what it hangs on, and its place in the world at rest. */
export interface Bone {
  readonly at: number;
  readonly name: string;
  readonly parent: number | null;
  readonly place: readonly [number, number, number];
}

const middle: readonly (readonly [name: string, parent: string | null, place: readonly [number, number, number]])[] = [
  ["pelvis", null, [0, 0.95, 0]],
  ["spine", "pelvis", [0, 1.1, 0]],
  ["chest", "spine", [0, 1.3, 0]],
  ["neck", "chest", [0, 1.5, 0]],
  ["head", "neck", [0, 1.6, 0.02]],
];

const left: readonly (readonly [name: string, parent: string, place: readonly [number, number, number]])[] = [
  ["collar", "chest", [0.05, 1.42, 0]],
  ["upper", "collar", [0.18, 1.43, 0]],
  ["fore", "upper", [0.22, 1.15, -0.01]],
  ["hand", "fore", [0.24, 0.9, 0.02]],
  ["thumb", "hand", [0.22, 0.85, 0.06]],
  ["finger", "hand", [0.25, 0.8, 0.02]],
  ["thigh", "pelvis", [0.1, 0.9, 0]],
  ["shin", "thigh", [0.11, 0.5, 0.02]],
  ["foot", "shin", [0.11, 0.1, -0.01]],
  ["toes", "foot", [0.11, 0.02, 0.12]],
];

const named = [
  ...middle,
  ...["left", "right"].flatMap((side) =>
    left.map(([name, parent, [x, y, z]]) => {
      const sided = left.some(([other]) => other === parent) ? `${parent} ${side}` : parent;
      return [`${name} ${side}`, sided, [side === "left" ? x : -x, y, z] as const] as const;
    }),
  ),
];

const bones: readonly Bone[] = named.map(([name, parent, place], at) => ({
  at,
  name,
  parent: parent === null ? null : named.findIndex(([other]) => other === parent),
  place,
}));

const dashed = (name: string) => name.replaceAll(" ", "-");

/**
 * A figure that stands on two legs, as `change` makes it of the first one. `part` of each control is the id of the control
 * it is in the first; ids are those names with dashes there, and numbers elsewhere.
 */
export function standingFigure(change?: (bones: readonly Bone[]) => readonly Bone[], size = 1): Control[] {
  const made = inOrderOfHanging(change ? change(bones) : bones);
  const idOf = (bone: Bone) => (change ? `c${bone.at}` : dashed(bone.name));
  return made.map((bone) => {
    const above = made.find(({ at }) => at === bone.parent);
    const from = above?.place ?? [0, 0, 0];
    return makeControl(idOf(bone), {
      name: bone.name,
      parent: above ? idOf(above) : null,
      rest: [0, 1, 2].map((k) => size * (bone.place[k] - from[k])) as [number, number, number],
      channels: [...(above ? [] : moveChannels), ...rotateChannels],
      part: dashed(bones.find(({ at }) => at === bone.at)?.name ?? ""),
    });
  });
}

function inOrderOfHanging(made: readonly Bone[]): Bone[] {
  const ordered: Bone[] = [];
  const add = (bone: Bone) => {
    if (ordered.includes(bone)) return;
    const above = made.find(({ at }) => at === bone.parent);
    if (above) add(above);
    ordered.push(bone);
  };
  made.forEach(add);
  return ordered;
}
