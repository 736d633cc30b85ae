import {
  type BodySurface,
  type FigureBody,
  type Flesh,
  growSkin,
  invertAffine,
  layoutOf,
  linearColour,
  type Rig,
  worldMatrices,
} from "@kneader/core";
import { otterSolids, type Solid } from "./figure.ts";
import { solidMesh } from "./solidMesh.ts";

/** Where the skin is grown limbs stand apart, so that none grows to another: degrees by control and axis. */
const spread: Readonly<Record<string, number>> = {
  "upper-arm-left.rotateZ": 52,
  "upper-arm-right.rotateZ": -52,
  "thigh-left.rotateZ": 14,
  "thigh-right.rotateZ": -14,
  "thigh-left.rotateX": -28,
  "thigh-right.rotateX": -28,
  "tail-1.rotateX": 32,
};

/** How fine the skin is, and how softly its volumes run into each other (metres). */
const CELL = 0.027;
const SOFT = 0.03;

const bodies = new WeakMap<Rig, FigureBody>();

/** The otter as one skin over soft volumes, with what is hard on it (eyes, nose, cap, fingers) and what he carries. */
export function otterBody(rig: Rig): FigureBody {
  let body = bodies.get(rig);
  if (!body) {
    body = grow(rig);
    bodies.set(rig, body);
  }
  return body;
}

function grow(rig: Rig): FigureBody {
  const { controls } = rig;
  const { channelIndex, rest } = layoutOf(rig);
  const values = rest.slice();
  for (const [key, turn] of Object.entries(spread)) {
    const at = channelIndex.get(key);
    if (at !== undefined) values[at] = turn;
  }
  const worlds = worldMatrices(rig, values);
  const inverses = new Float32Array(controls.length * 16);
  const inverse = new Float64Array(16);
  controls.forEach((_, i) => {
    invertAffine(inverse, 0, worlds, i * 16);
    inverses.set(inverse, i * 16);
  });
  const joints = new Map(controls.map(({ id }, i) => [id, i]));
  const parents = controls.map(({ parent }) => (parent === null ? -1 : (joints.get(parent) ?? -1)));
  const isProp = (solid: Solid) => controls[joints.get(solid.control) as number]?.role === "prop";
  const known = otterSolids.filter(({ control }) => joints.has(control));
  const flesh = known.filter((solid) => solid.isFlesh).map(fleshOf);
  const hard = known.filter((solid) => !solid.isFlesh && !isProp(solid));
  const props = known.filter((solid) => isProp(solid) && !solid.glow);
  const lights = known.filter((solid) => solid.glow);
  return {
    controls: controls.map(({ id }) => id),
    inverses,
    surfaces: [
      growSkin("Fur", flesh, joints, worlds, { cell: CELL, soft: SOFT, parents }),
      rigid("Features", hard, joints, worlds, {}),
      rigid("Lantern", props, joints, worlds, { isProp: true }),
      rigid("Flame", lights, joints, worlds, { isProp: true, isLight: true }),
    ].filter(({ index }) => index.length > 0),
  };
}

const fleshOf = ({ control, a, b, size, colour }: Solid): Flesh => ({ control, a, b, size, colour: linearColour(colour) });

/** Solids that each move with one control. */
function rigid(
  name: string,
  solids: readonly Solid[],
  joints: ReadonlyMap<string, number>,
  worlds: Float64Array,
  { isProp = false, isLight = false },
): BodySurface {
  const [positions, normals, colours, joint, weights, index]: number[][] = [[], [], [], [], [], []];
  for (const solid of solids) {
    const mesh = solidMesh(solid);
    const j = joints.get(solid.control) as number;
    const first = positions.length / 3;
    const w = (r: number, c: number) => worlds[j * 16 + c * 4 + r];
    for (let n = 0; n < mesh.positions.length; n += 3) {
      const [x, y, z] = mesh.positions.slice(n, n + 3);
      const [u, v, t] = mesh.normals.slice(n, n + 3);
      for (let r = 0; r < 3; r++) {
        positions.push(w(r, 0) * x + w(r, 1) * y + w(r, 2) * z + w(r, 3));
        normals.push(w(r, 0) * u + w(r, 1) * v + w(r, 2) * t);
      }
      colours.push(...linearColour(solid.colour));
      joint.push(j, 0, 0, 0);
      weights.push(1, 0, 0, 0);
    }
    for (const i of mesh.index) index.push(first + i);
  }
  return {
    name,
    isLight,
    isProp,
    positions: Float32Array.from(positions),
    normals: Float32Array.from(normals),
    colours: Float32Array.from(colours),
    joints: Uint16Array.from(joint),
    weights: Float32Array.from(weights),
    index: Uint32Array.from(index),
  };
}
