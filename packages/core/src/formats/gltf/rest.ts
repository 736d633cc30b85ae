import { stretchOf, turnFromAffine } from "../../maths/decompose.ts";
import { invertAffine, multiplyAffine } from "../../maths/matrix.ts";
import { matrixFromQuat } from "../../maths/rotation.ts";
import type { ReadChoices } from "../format.ts";
import type { GltfFile, GltfJson } from "./gate.ts";
import type { Numbers, Wanted } from "./numbers.ts";

type Node = NonNullable<GltfJson["nodes"]>[number];

/** Where a node stands in its parent. */
export interface Standing {
  readonly translation: [number, number, number];
  readonly rotation: [number, number, number, number];
  readonly scale: [number, number, number];
  readonly isSheared: boolean;
}

/** From what the rest pose is taken: how the file's nodes stand, the pose the skin was bound in, or the first frame. */
export type RestChoice = NonNullable<ReadChoices["rest"]>;

/** How a node stands in the file. */
export function standingOf(node: Node): Standing {
  if (node.matrix) return fromMatrix(node.matrix);
  const [x, y, z, w] = node.rotation ?? [0, 0, 0, 1];
  const length = Math.hypot(x, y, z, w);
  return {
    translation: (node.translation as Standing["translation"] | undefined) ?? [0, 0, 0],
    rotation: length > 0 ? [x / length, y / length, z / length, w / length] : [0, 0, 0, 1],
    scale: (node.scale as Standing["scale"] | undefined) ?? [1, 1, 1],
    isSheared: false,
  };
}

/** A matrix taken apart. Of a mirroring one the first axis is taken to be the mirrored one, as is usual. */
function fromMatrix(matrix: ArrayLike<number>): Standing {
  const m = [...Array.from(matrix)];
  const q = [0, 0, 0, 1];
  turnFromAffine(q, 0, m, 0, determinantOf(m) < 0 ? [-1, 1, 1] : [1, 1, 1]);
  const stretch = new Float64Array(9);
  stretchOf(stretch, q, 0, m, 0);
  const size = Math.hypot(stretch[0], stretch[4], stretch[8]);
  return {
    translation: [m[12], m[13], m[14]],
    rotation: q as Standing["rotation"],
    scale: [stretch[0], stretch[4], stretch[8]].map(tidyScale) as Standing["scale"],
    isSheared: [1, 2, 3, 5, 6, 7].some((k) => Math.abs(stretch[k]) > 1e-5 * size),
  };
}

/** A scale that is 1 but for rounding is 1. */
function tidyScale(value: number): number {
  return Math.abs(value - 1) < 1e-6 ? 1 : value;
}

function determinantOf(m: readonly number[]): number {
  return m[0] * (m[5] * m[10] - m[6] * m[9]) - m[4] * (m[1] * m[10] - m[2] * m[9]) + m[8] * (m[1] * m[6] - m[2] * m[5]);
}

/** What must be read for the bind pose: the inverse bind matrices of every skin. */
export function bindWanted({ json }: GltfFile): Wanted[] {
  return (json.skins ?? []).flatMap(({ inverseBindMatrices }, i) =>
    inverseBindMatrices === undefined ? [] : [{ accessor: inverseBindMatrices, types: ["MAT4"], what: `Skin ${i}` }],
  );
}

/**
 * How the nodes stood when the skins were bound, for the joints of skins: a joint's place in the world then is the
 * inverse of its inverse bind matrix (glTF 2.0, section 3.7.3.1). Nodes that are no joints stand as they do in the file.
 */
export function bindStandings({ json }: GltfFile, numbers: Numbers, order: readonly { i: number; parent: number | null }[]): Standing[] {
  const nodes = json.nodes ?? [];
  const bound = new Map<number, Float64Array>();
  // Where places are quantised these matrices also undo that, and what of them is the pose cannot be told.
  if (json.extensionsUsed?.includes("KHR_mesh_quantization")) return nodes.map(standingOf);
  for (const { joints, inverseBindMatrices } of json.skins ?? []) {
    const matrices = inverseBindMatrices === undefined ? undefined : numbers.get(inverseBindMatrices);
    joints.forEach((joint, n) => {
      if (!matrices || bound.has(joint) || matrices.length < n * 16 + 16) return;
      const world = new Float64Array(16);
      invertAffine(world, 0, matrices, n * 16);
      if (world.every(Number.isFinite)) bound.set(joint, world);
    });
  }
  const worlds: Float64Array[] = [];
  const standings: Standing[] = nodes.map(standingOf);
  for (const { i, parent } of order) {
    const above = parent === null ? null : worlds[parent];
    const world = bound.get(i) ?? worldOf(matrixOf(standings[i]), above);
    worlds[i] = world;
    if (!bound.has(i)) continue;
    const local = world.slice();
    if (above) {
      invertAffine(local, 0, above, 0);
      multiplyAffine(local, 0, local.slice(), 0, world, 0);
    }
    standings[i] = fromMatrix(local);
  }
  return standings;
}

function worldOf(local: Float64Array, above: Float64Array | null): Float64Array {
  if (!above) return local;
  const world = new Float64Array(16);
  multiplyAffine(world, 0, above, 0, local, 0);
  return world;
}

function matrixOf({ translation, rotation, scale }: Standing): Float64Array {
  const m = new Float64Array(16);
  matrixFromQuat(m, 0, 4, rotation, 0);
  for (let axis = 0; axis < 3; axis++) {
    for (let row = 0; row < 3; row++) m[axis * 4 + row] *= scale[axis];
    m[12 + axis] = translation[axis];
  }
  m[15] = 1;
  return m;
}

/** How far two ways of standing are apart at the most, in units and as a part of a turn. */
export function apartBy(a: Standing, b: Standing): number {
  const dot = a.rotation.reduce((sum, value, k) => sum + value * b.rotation[k], 0);
  const sign = dot < 0 ? -1 : 1;
  return Math.max(
    ...a.translation.map((value, k) => Math.abs(value - b.translation[k])),
    ...a.rotation.map((value, k) => Math.abs(value - sign * b.rotation[k])),
    ...a.scale.map((value, k) => Math.abs(value - b.scale[k])),
  );
}
