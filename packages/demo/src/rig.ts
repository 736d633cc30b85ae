import { type Control, controlRoles, findPartners, makeControl, moveChannels, type Rig, rotateChannels } from "@kneader/core";

/** name, parent, place in the world at rest (metres, facing +Z, left is +X), body part (of what is no part of the figure: its role), moves too? */
type Row = readonly [name: string, parent: string | null, place: readonly [number, number, number], part: string, moves?: boolean];

const middle: readonly Row[] = [
  ["Ferryman", null, [0, 0, 0], "root", true],
  ["Hips", "Ferryman", [0, 0.36, 0], "body", true],
  ["Belly", "Hips", [0, 0.45, 0.005], "body"],
  ["Chest", "Belly", [0, 0.6, 0], "body"],
  ["Neck", "Chest", [0, 0.75, 0], "head"],
  ["Head", "Neck", [0, 0.82, 0.015], "head"],
  ["Jaw", "Head", [0, 0.83, 0.07], "head"],
  ["Cap", "Head", [0, 0.95, -0.005], "head"],
  ["Tassel 1", "Cap", [0, 1.03, -0.03], "head"],
  ["Tassel 2", "Tassel 1", [0, 1.0, -0.085], "head"],
  ["Tail 1", "Hips", [0, 0.31, -0.08], "tail"],
  ["Tail 2", "Tail 1", [0, 0.22, -0.21], "tail"],
  ["Tail 3", "Tail 2", [0, 0.14, -0.34], "tail"],
  ["Tail 4", "Tail 3", [0, 0.09, -0.47], "tail"],
];

/** The left half; the right one is its reflection. */
const left: readonly Row[] = [
  ["Ear", "Head", [0.088, 0.925, -0.01], "head"],
  ["Shoulder", "Chest", [0.05, 0.7, 0], "arms"],
  ["Upper arm", "Shoulder", [0.115, 0.69, 0], "arms"],
  ["Forearm", "Upper arm", [0.145, 0.57, 0], "arms"],
  ["Hand", "Forearm", [0.15, 0.455, 0.012], "arms"],
  ["Thumb", "Hand", [0.135, 0.435, 0.03], "hands"],
  ["Finger 1", "Hand", [0.15, 0.415, 0.03], "hands"],
  ["Finger 1 tip", "Finger 1", [0.15, 0.395, 0.035], "hands"],
  ["Finger 2", "Hand", [0.155, 0.412, 0.012], "hands"],
  ["Finger 2 tip", "Finger 2", [0.155, 0.392, 0.015], "hands"],
  ["Finger 3", "Hand", [0.152, 0.415, -0.006], "hands"],
  ["Finger 3 tip", "Finger 3", [0.152, 0.395, -0.004], "hands"],
  ["Thigh", "Hips", [0.075, 0.33, 0], "legs"],
  ["Shin", "Thigh", [0.085, 0.2, 0.025], "legs"],
  ["Foot", "Shin", [0.085, 0.055, -0.005], "legs"],
  ["Toes", "Foot", [0.085, 0.025, 0.075], "legs"],
];

const props: readonly Row[] = [
  ["Lantern", null, [0, 0.45, 0.1], "prop", true],
  ["Lantern body", "Lantern", [0, 0.43, 0.1], "prop"],
  ["Hook", null, [0.62, 0.9, -0.18], "set"],
  ["Ferry", null, [2.55, -0.06, 0], "set", true],
  ["Shot camera", null, [0.4, 0.72, 3.5], "camera", true],
];

const idOf = (name: string) => name.replaceAll(" ", "-").toLowerCase();

function mirrorRow([name, parent, [x, y, z], part, moves]: Row): Row {
  const paired = left.some(([other]) => other === parent);
  return [`${name} right`, paired ? `${parent} right` : parent, [-x, y, z], part, moves];
}

function leftRow([name, parent, place, part, moves]: Row): Row {
  const paired = left.some(([other]) => other === parent);
  return [`${name} left`, paired ? `${parent} left` : parent, place, part, moves];
}

function buildRig(): Rig {
  const rows = [...middle, ...left.map(leftRow), ...left.map(mirrorRow), ...props];
  const places = new Map(rows.map(([name, , place]) => [name, place]));
  const controls = rows.map(([name, parent, place, part, moves]): Control => {
    const from = parent === null ? [0, 0, 0] : (places.get(parent) as readonly number[]);
    const role = controlRoles.find((one) => one === part) ?? "figure";
    return makeControl(idOf(name), {
      name,
      parent: parent === null ? null : idOf(parent),
      rest: [place[0] - from[0], place[1] - from[1], place[2] - from[2]],
      // In hands that are raised a lantern turns over sideways axes: in this order its middle angle stays far from a right one.
      order: part === "prop" ? "XZY" : part === "legs" || part === "arms" ? "XYZ" : "YXZ",
      channels: [...(moves ? moveChannels : []), ...rotateChannels],
      role,
      part: role === "figure" ? part : role === "prop" ? "lantern" : "",
    });
  });
  // Props and set do not belong to the figure, so they are never mirrored with it.
  const paired = findPartners(controls).map((control) => (control.role === "figure" ? control : { ...control, partner: null }));
  return { id: "rig-ferryman", name: "Otter ferry-keeper", controls: paired, figure: "otter" };
}

/** The otter ferry-keeper with lantern, ferry, hook and shot camera. */
export const ferrymanRig: Rig = buildRig();
