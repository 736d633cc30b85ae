import { z } from "zod";
import { KneaderError } from "../../errors.ts";
import { DEG, eulerFromQuat, quatMultiply, rotationOrders } from "../../maths/rotation.ts";
import { type Control, controlRoles, FIELD_OF_VIEW, moveChannels, PERCENT, rotateChannels, scaleChannels } from "../../model/rig.ts";
import { countedWord, listed } from "../../words.ts";
import { MOST_CONTROLS } from "../limits.ts";
import { roleFrom1 } from "../migrate.ts";
import { uniqueIds } from "../uniqueIds.ts";
import type { GltfFile, GltfJson } from "./gate.ts";
import { mirrorSchema, rangesSchema } from "../schema.ts";
import { apartBy, type Standing, standingOf } from "./rest.ts";

type Node = NonNullable<GltfJson["nodes"]>[number];
const controlExtras = z.object({
  kneader: z.object({
    id: z.string(),
    order: z.enum(rotationOrders),
    role: z.enum(controlRoles).optional(),
    part: z.string(),
    partner: z.string().nullable(),
    mirror: mirrorSchema.optional(),
    ranges: rangesSchema.optional(),
    channels: z.array(z.string()),
    tip: z.tuple([z.number(), z.number(), z.number()]).optional(),
  }),
});

/** The controls that nodes become, and where each node's stands among them. */
export interface NodeControls {
  readonly controls: Control[];
  /** By node: the place of its control. */
  readonly places: ReadonlyMap<number, number>;
  /** By control: the channels of its morph targets, in their order. */
  readonly shapes: Readonly<Record<string, readonly string[]>>;
  /** By control: the values of channels that put it where its node stands in the file. */
  readonly still: ReadonlyMap<string, Record<string, number>>;
}

/** A node with the one it hangs on; parents come first. */
export interface PlacedNode {
  readonly i: number;
  readonly node: Node;
  readonly parent: number | null;
}

/** Turn nodes into controls that rest as `rests` says, by node. `animated` are the nodes that some animation moves. */
export function readNodes(
  file: GltfFile,
  order: readonly PlacedNode[],
  rests: readonly Standing[] | null,
  animated: ReadonlySet<number>,
  notes: string[],
): NodeControls {
  const { json } = file;
  const aside = order.filter(({ node, i }) => !animated.has(i) && (isPlainMesh(json, node) || isLight(node)));
  const plain = aside.map(({ i }) => i);
  // Where there is nothing else, what carries a mesh is what can be posed.
  const skipped = new Set(plain.length < order.length ? plain : []);
  if (skipped.size > 0) notes.push(sayAside(aside.map(({ node }) => node)));
  if (order.length - skipped.size > MOST_CONTROLS)
    throw new KneaderError(
      "file-too-large",
      `The glTF file has ${order.length - skipped.size} nodes; up to ${MOST_CONTROLS} can be controls.`,
    );
  const controls: Control[] = [];
  const ids = new Map<number, string>();
  const places = new Map<number, number>();
  const unique = uniqueIds();
  /** What an id that was written in the file became here. */
  const given = new Map<string, string>();
  const shapes: Record<string, readonly string[]> = {};
  const still = new Map<string, Record<string, number>>();
  let sheared = 0;
  for (const { i, node, parent } of order) {
    if (skipped.has(i)) continue;
    const own = controlExtras.safeParse(node.extras);
    const extras = own.success ? own.data.kneader : null;
    const id = unique(extras?.id ?? node.name ?? `node ${i}`);
    ids.set(i, id);
    if (extras && !given.has(extras.id)) given.set(extras.id, id);
    places.set(i, controls.length);
    const standing = standingOf(node);
    const resting = rests?.[i] ?? standing;
    if (standing.isSheared) sheared++;
    const morphs = shapesOf(json, node);
    const attributes = attributesOf(json, node, morphs);
    if (morphs.length > 0) shapes[id] = morphs;
    const above = parent === null ? null : (ids.get(parent) ?? null);
    const control = controlOf(id, node, above, parent === null, resting, Object.keys(attributes), extras);
    still.set(id, { ...standingValues(control, standing, resting), ...attributes });
    controls.push(control);
  }
  if (sheared > 0)
    notes.push(
      `${countedWord(sheared, "node")} ${sheared === 1 ? "is" : "are"} sheared by a matrix; the nearest turn and scale were taken.`,
    );
  const known = controls.map((one) => (one.partner === null ? one : { ...one, partner: given.get(one.partner) ?? one.partner }));
  return { controls: known, places, shapes, still };
}

/** The channels of a node's morph targets, named as the mesh names them, if it does. */
function shapesOf(json: GltfJson, node: Node): string[] {
  const mesh = node.mesh === undefined ? undefined : json.meshes?.[node.mesh];
  const count = Math.max(0, ...(mesh?.primitives ?? []).map(({ targets }) => targets?.length ?? 0));
  const names = (mesh?.extras as { targetNames?: unknown } | undefined)?.targetNames;
  const unique = uniqueIds();
  return Array.from({ length: count }, (_, n) => {
    const name = Array.isArray(names) && typeof names[n] === "string" ? names[n] : "";
    return `${unique(name.trim().slice(0, 80) || `shape ${n + 1}`)}${PERCENT}`;
  });
}

/** Own attributes of a node's control with what they stand at: morph weights in percent, a camera's field of view. */
function attributesOf(json: GltfJson, node: Node, shapes: readonly string[]): Record<string, number> {
  const mesh = node.mesh === undefined ? undefined : json.meshes?.[node.mesh];
  const camera = node.camera === undefined ? undefined : json.cameras?.[node.camera];
  const weights = node.weights ?? mesh?.weights ?? [];
  const lens: Record<string, number> = camera?.perspective ? { [FIELD_OF_VIEW]: camera.perspective.yfov / DEG } : {};
  return { ...Object.fromEntries(shapes.map((channel, n) => [channel, 100 * (weights[n] ?? 0)])), ...lens };
}

/** The channel values, where they are not those of rest, that put a control at rest where its node stands. */
function standingValues(control: Control, standing: Standing, resting: Standing): Record<string, number> {
  const values: Record<string, number> = {};
  if (standing.scale.some((value) => value !== 1)) for (const [k, channel] of scaleChannels.entries()) values[channel] = standing.scale[k];
  if (standing === resting || apartBy(standing, resting) < 1e-6) return values;
  for (const [k, channel] of moveChannels.entries()) values[channel] = standing.translation[k] - resting.translation[k];
  const [x, y, z, w] = resting.rotation;
  const turn = [0, 0, 0, 1];
  quatMultiply(turn, 0, [-x, -y, -z, w], 0, [...standing.rotation], 0);
  const euler = [0, 0, 0];
  eulerFromQuat(euler, 0, turn, 0, control.order);
  for (const [k, channel] of rotateChannels.entries()) values[channel] = euler[k] / DEG;
  return values;
}

function controlOf(
  id: string,
  node: Node,
  parent: string | null,
  isTop: boolean,
  resting: Standing,
  attributes: readonly string[],
  own: z.infer<typeof controlExtras>["kneader"] | null,
): Control {
  const channels = own?.channels ?? [...rotateChannels, ...(isTop || node.camera !== undefined ? moveChannels : [])];
  const camera = node.camera === undefined ? {} : { role: "camera" as const };
  return {
    id,
    name: node.name ?? id,
    parent,
    rest: resting.translation,
    restTurn: resting.rotation,
    order: own?.order ?? "XYZ",
    channels: [...new Set([...channels, ...(standingOf(node).scale.some((value) => value !== 1) ? scaleChannels : []), ...attributes])],
    partner: own?.partner ?? null,
    ...(own?.mirror && { mirror: own.mirror }),
    ...(own?.ranges && { ranges: own.ranges }),
    ...(own ? roleOf(own, `${id} ${node.name}`) : { ...roleOf({ part: "" }, `${id} ${node.name}`), ...camera }),
    tip: own?.tip,
  };
}

/** What our own extras say a node is; an early version told no role. */
function roleOf({ role, part }: { role?: Control["role"]; part: string }, name: string): Pick<Control, "role" | "part"> {
  return role === undefined ? roleFrom1(name, part) : { role, part };
}

/** Nodes from the top down; circles, a second parent and wrong indices are refused. */
export function nodeOrder(json: GltfJson): PlacedNode[] {
  const nodes = json.nodes ?? [];
  if (nodes.length === 0) throw new KneaderError("gltf-data", "The glTF file has no nodes, so there is no figure to pose.");
  const parents = new Map<number, number>();
  nodes.forEach((node, i) => {
    for (const child of node.children ?? []) {
      if (!nodes[child])
        throw new KneaderError("gltf-data", `Node ${i} has the child ${child}, which does not exist; the file has ${nodes.length} nodes.`);
      if (parents.has(child)) throw new KneaderError("gltf-data", `Node ${child} hangs under two nodes, ${parents.get(child)} and ${i}.`);
      parents.set(child, i);
    }
  });
  const order: PlacedNode[] = [];
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

/** It gives light, and nothing hangs on it or is seen of it. */
const isLight = ({ extensions, mesh, children }: Node): boolean =>
  extensions !== undefined && "KHR_lights_punctual" in extensions && mesh === undefined && !children?.length;

/** "Set aside, as nothing moves them: 2 lights, 3 nodes that only hold a mesh. They stay in the file." */
function sayAside(nodes: readonly Node[]): string {
  const lights = nodes.filter(isLight).length;
  const holders = nodes.length - lights;
  const what = [
    ...(lights > 0 ? [countedWord(lights, "light")] : []),
    ...(holders > 0 ? [holders === 1 ? "1 node that only holds a mesh" : `${holders} nodes that only hold a mesh`] : []),
  ];
  return `Set aside, as nothing moves ${nodes.length === 1 ? "it" : "them"}: ${listed(what)}. ${nodes.length === 1 ? "It stays" : "They stay"} in the file.`;
}

/** It carries a mesh and nothing that could be posed: no children, no shapes to morph between. */
function isPlainMesh(json: GltfJson, node: Node): boolean {
  return node.mesh !== undefined && !node.children?.length && shapesOf(json, node).length === 0;
}
