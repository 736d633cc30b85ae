import { z } from "zod";
import type { Curve } from "../curve/curve.ts";
import { constantCurve } from "../curve/make.ts";
import { KneaderError } from "../errors.ts";
import { stretchOf, turnFromAffine } from "../maths/decompose.ts";
import { rotationOrders } from "../maths/rotation.ts";
import { channelKey, type Control, controlRoles, moveChannels, rotateChannels, scaleChannels } from "../model/rig.ts";
import type { GltfJson } from "./gltfFile.ts";
import { MOST_CONTROLS } from "./limits.ts";
import { roleFrom1 } from "./migrate.ts";
import { uniqueIds } from "./uniqueIds.ts";

type Node = NonNullable<GltfJson["nodes"]>[number];
const controlExtras = z.object({
  kneader: z.object({
    id: z.string(),
    order: z.enum(rotationOrders),
    role: z.enum(controlRoles).optional(),
    part: z.string(),
    partner: z.string().nullable(),
    channels: z.array(z.string()),
    tip: z.tuple([z.number(), z.number(), z.number()]).optional(),
  }),
});

/** The controls that nodes become, and where each node's stands among them. */
interface NodeControls {
  readonly controls: Control[];
  readonly places: ReadonlyMap<number, number>;
  /** Scales that nodes have at rest, as curves of one key. */
  readonly scales: Record<string, Curve>;
}

/** Turn nodes into controls; `firstFrame` is where keys for what always is the same stand. */
export function readNodes(json: GltfJson, firstFrame: number, notes: string[]): NodeControls {
  const order = nodeOrder(json);
  if (order.length === 0) throw new KneaderError("gltf-data", "The glTF file has no nodes, so there is no figure to pose.");
  const animated = new Set(json.animations?.[0]?.channels.map((channel) => channel.target.node));
  const plain = order.filter(({ node, i }) => isPlainMesh(node) && !animated.has(i)).map(({ i }) => i);
  // Where there is nothing else, what carries a mesh is what can be posed.
  const skipped = new Set(plain.length < order.length ? plain : []);
  if (order.length - skipped.size > MOST_CONTROLS)
    throw new KneaderError(
      "file-too-large",
      `The glTF file has ${order.length - skipped.size} nodes; up to ${MOST_CONTROLS} can be controls.`,
    );
  if (skipped.size > 0) notes.push(`${skipped.size} nodes that only carry a mesh, a camera or a light were left out.`);
  const controls: Control[] = [];
  const ids = new Map<number, string>();
  const places = new Map<number, number>();
  const unique = uniqueIds();
  const scales: Record<string, Curve> = {};
  let sheared = 0;
  for (const { i, node, parent } of order) {
    if (skipped.has(i)) continue;
    const own = controlExtras.safeParse(node.extras);
    const id = unique(own.success ? own.data.kneader.id : (node.name ?? `node ${i}`));
    ids.set(i, id);
    places.set(i, controls.length);
    const resting = restOf(node);
    if (resting.isSheared) sheared++;
    if (hasScale(resting))
      scaleChannels.forEach((channel, k) => {
        scales[channelKey(id, channel)] = constantCurve(resting.scale[k], firstFrame);
      });
    const above = parent === null ? null : (ids.get(parent) ?? null);
    controls.push(controlOf(id, node, above, parent === null, resting, own.success ? own.data.kneader : null));
  }
  if (sheared > 0)
    notes.push(`${sheared} ${sheared === 1 ? "node is" : "nodes are"} sheared by a matrix; the nearest turn and scale were taken.`);
  return { controls, places, scales };
}

const hasScale = ({ scale }: Resting) => scale.some((value) => value !== 1);

function controlOf(
  id: string,
  node: Node,
  parent: string | null,
  isTop: boolean,
  resting: Resting,
  own: z.infer<typeof controlExtras>["kneader"] | null,
): Control {
  const channels = own?.channels ?? [...rotateChannels, ...(isTop ? moveChannels : [])];
  return {
    id,
    name: node.name ?? id,
    parent,
    rest: resting.translation,
    restTurn: resting.rotation,
    order: own?.order ?? "XYZ",
    channels: [...new Set([...channels, ...(hasScale(resting) ? scaleChannels : [])])],
    partner: own?.partner ?? null,
    ...roleOf(own ?? { part: "" }, `${id} ${node.name}`),
    tip: own?.tip,
  };
}

/** What our own extras say a node is; an early version told no role. */
function roleOf({ role, part }: { role?: Control["role"]; part: string }, name: string): Pick<Control, "role" | "part"> {
  return role === undefined ? roleFrom1(name, part) : { role, part };
}

/** Nodes from the top down; circles, a second parent and wrong indices are refused. */
function nodeOrder(json: GltfJson): { i: number; node: Node; parent: number | null }[] {
  const nodes = json.nodes ?? [];
  const parents = new Map<number, number>();
  nodes.forEach((node, i) => {
    for (const child of node.children ?? []) {
      if (!nodes[child])
        throw new KneaderError("gltf-data", `Node ${i} has the child ${child}, which does not exist; the file has ${nodes.length} nodes.`);
      if (parents.has(child)) throw new KneaderError("gltf-data", `Node ${child} hangs under two nodes, ${parents.get(child)} and ${i}.`);
      parents.set(child, i);
    }
  });
  const order: { i: number; node: Node; parent: number | null }[] = [];
  // Not by recursion: a chain may be as long as the file has nodes.
  const open: { i: number; parent: number | null }[] = [];
  for (let i = nodes.length - 1; i >= 0; i--) if (!parents.has(i)) open.push({ i, parent: null });
  for (let next = open.pop(); next; next = open.pop()) {
    order.push({ ...next, node: nodes[next.i] });
    const children = nodes[next.i].children ?? [];
    for (let k = children.length - 1; k >= 0; k--) open.push({ i: children[k], parent: next.i });
  }
  if (order.length < nodes.length) {
    const reached = new Set(order.map(({ i }) => i));
    const stuck = nodes.findIndex((_, i) => !reached.has(i));
    throw new KneaderError(
      "gltf-data",
      `The node tree runs in a circle through node ${stuck}${nodes[stuck].name ? ` ("${nodes[stuck].name}")` : ""}.`,
    );
  }
  // A file whose parents already stand before their children keeps its own order.
  return order.every(({ i, parent }) => parent === null || parent < i) ? order.sort((a, b) => a.i - b.i) : order;
}

function isPlainMesh(node: Node): boolean {
  return (node.mesh !== undefined || node.camera !== undefined) && !node.children?.length;
}

interface Resting {
  readonly translation: [number, number, number];
  readonly rotation: [number, number, number, number];
  readonly scale: [number, number, number];
  readonly isSheared: boolean;
}

/** Where a node rests. Of a mirroring matrix the first axis is taken to be the mirrored one, as is usual. */
function restOf(node: Node): Resting {
  const { matrix } = node;
  if (matrix) {
    const q = [0, 0, 0, 1];
    const mirrors = determinantOf(matrix) < 0;
    turnFromAffine(q, 0, matrix, 0, mirrors ? [-1, 1, 1] : [1, 1, 1]);
    const stretch = new Float64Array(9);
    stretchOf(stretch, q, 0, matrix, 0);
    const size = Math.hypot(stretch[0], stretch[4], stretch[8]);
    return {
      translation: [matrix[12], matrix[13], matrix[14]],
      rotation: q as [number, number, number, number],
      scale: [stretch[0], stretch[4], stretch[8]].map(tidyScale) as [number, number, number],
      isSheared: [1, 2, 3, 5, 6, 7].some((k) => Math.abs(stretch[k]) > 1e-5 * size),
    };
  }
  const [x, y, z, w] = node.rotation ?? [0, 0, 0, 1];
  const length = Math.hypot(x, y, z, w);
  return {
    translation: (node.translation as [number, number, number] | undefined) ?? [0, 0, 0],
    rotation: length > 0 ? [x / length, y / length, z / length, w / length] : [0, 0, 0, 1],
    scale: (node.scale as [number, number, number] | undefined) ?? [1, 1, 1],
    isSheared: false,
  };
}

/** A scale that is 1 but for rounding is 1. */
function tidyScale(value: number): number {
  return Math.abs(value - 1) < 1e-7 ? 1 : value;
}

function determinantOf(m: readonly number[]): number {
  return m[0] * (m[5] * m[10] - m[6] * m[9]) - m[4] * (m[1] * m[10] - m[2] * m[9]) + m[8] * (m[1] * m[6] - m[2] * m[5]);
}
