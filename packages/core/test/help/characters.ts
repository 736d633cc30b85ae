import { Document, type Node as GltfNode, Logger, WebIO } from "@gltf-transform/core";
import { EXTMeshoptCompression, KHRDracoMeshCompression, KHRMeshQuantization } from "@gltf-transform/extensions";
import draco3d from "draco3dgltf";
import { MeshoptDecoder } from "meshoptimizer/decoder";
import { MeshoptEncoder } from "meshoptimizer/encoder";
import { toGlb } from "../../src/formats/gltf/container.ts";
import { featherPicture } from "./featherPicture.ts";
import { Chance } from "./chance.ts";

/** What a made character has about it. */
export interface CharacterKind {
  /** Joints that move a vertex at the most. */
  readonly influences?: 1 | 2 | 3 | 4;
  readonly skins?: 1 | 2;
  readonly morphs?: boolean;
  /** Shapes and ways kept as differences from zero. */
  readonly sparse?: boolean;
  readonly packed?: "draco" | "meshopt" | "quantised";
  readonly camera?: boolean;
  /** A node that stands by a matrix, another that is mirrored by a negative scale. */
  readonly oddNodes?: boolean;
  /** Data of an extension nobody knows, and extras, everywhere. */
  readonly strange?: boolean;
  readonly scenes?: 1 | 2;
  readonly animations?: number;
  readonly interpolation?: "LINEAR" | "CUBICSPLINE" | "STEP";
  readonly picture?: boolean;
  /** Links of the tail, to have more joints. */
  readonly tail?: number;
  /** Sides of each limb's tube, and rings a limb: triangles are limbs × rings × sides × 2. */
  readonly sides?: number;
  readonly rings?: number;
  readonly seconds?: number;
}

type Vec = readonly [number, number, number];

/** A heron of the landing: name, the joint above, where it stands in that. Two legs of two links, two wings, a long neck, a tail. */
const heron: readonly (readonly [name: string, above: string | null, at: Vec])[] = [
  ["Heron", null, [0, 0, 0]],
  ["Body", "Heron", [0, 0.7, 0]],
  ["Breast", "Body", [0, 0.12, 0.1]],
  ["Neck", "Breast", [0, 0.16, 0.06]],
  ["Upper neck", "Neck", [0, 0.2, -0.03]],
  ["Head", "Upper neck", [0, 0.16, 0.05]],
  ["Beak", "Head", [0, -0.01, 0.08]],
  ["Leg_L", "Body", [0.07, -0.06, 0]],
  ["Shank_L", "Leg_L", [0.01, -0.3, 0.03]],
  ["Foot_L", "Shank_L", [0, -0.3, -0.03]],
  ["Leg_R", "Body", [-0.07, -0.06, 0]],
  ["Shank_R", "Leg_R", [-0.01, -0.3, 0.03]],
  ["Foot_R", "Shank_R", [0, -0.3, -0.03]],
  ["Wing_L", "Breast", [0.1, 0.04, -0.02]],
  ["Wing tip_L", "Wing_L", [0.06, -0.05, -0.24]],
  ["Wing_R", "Breast", [-0.1, 0.04, -0.02]],
  ["Wing tip_R", "Wing_R", [-0.06, -0.05, -0.24]],
];

const quiet = new Logger(Logger.Verbosity.SILENT);

async function characterIO(): Promise<WebIO> {
  await Promise.all([MeshoptDecoder.ready, MeshoptEncoder.ready]);
  return new WebIO()
    .setLogger(quiet)
    .registerExtensions([EXTMeshoptCompression, KHRDracoMeshCompression, KHRMeshQuantization])
    .registerDependencies({
      "meshopt.decoder": MeshoptDecoder,
      "meshopt.encoder": MeshoptEncoder,
      "draco3d.encoder": await draco3d.createEncoderModule(),
      "draco3d.decoder": await draco3d.createDecoderModule(),
    });
}

/** A character as a .glb, made by arithmetic from what it is to have: the same bytes each time. */
export async function makeCharacter(kind: CharacterKind = {}): Promise<Uint8Array> {
  const document = new Document().setLogger(quiet);
  const buffer = document.createBuffer();
  const rows = [...heron, ...tailOf(kind.tail ?? 2)];
  const nodes = new Map<string, GltfNode>();
  const scene = document.createScene("Landing");
  const places: Vec[] = [];
  for (const [name, above, at] of rows) {
    const node = document.createNode(name).setTranslation([...at]);
    const parent = above === null ? undefined : nodes.get(above);
    if (parent) parent.addChild(node);
    else scene.addChild(node);
    nodes.set(name, node);
    const from = above === null ? [0, 0, 0] : places[rows.findIndex(([other]) => other === above)];
    places.push([from[0] + at[0], from[1] + at[1], from[2] + at[2]]);
  }
  document.getRoot().setDefaultScene(scene);
  const material = document
    .createMaterial("Plumage")
    .setBaseColorFactor(kind.picture ? [1, 1, 1, 1] : [0.6, 0.66, 0.72, 1])
    .setMetallicFactor(0);
  if (kind.picture) {
    const texture = document.createTexture("Feathers").setImage(featherPicture()).setMimeType("image/png");
    material.setBaseColorTexture(texture);
  }
  const accessor = (
    type: "SCALAR" | "VEC2" | "VEC3" | "VEC4" | "MAT4",
    array: Float32Array | Uint16Array | Uint32Array | Int16Array,
    normalized = false,
  ) =>
    document
      .createAccessor()
      .setType(type)
      .setArray(array as Float32Array<ArrayBuffer>)
      .setBuffer(buffer)
      .setNormalized(normalized);
  const limbs = rows.flatMap(([, above], i) => (above === null || above === "Heron" ? [] : [i]));
  const parts = kind.skins === 2 ? [limbs.filter((i) => i % 2 === 0), limbs.filter((i) => i % 2 === 1)] : [limbs];
  const quantised = kind.packed === "quantised";
  for (const [n, part] of parts.entries()) {
    const tube = tubes(rows, places, part, kind);
    const position = quantised ? Int16Array.from(tube.positions, (v) => Math.round((v / 2) * 32767)) : tube.positions;
    const primitive = document
      .createPrimitive()
      .setMaterial(material)
      .setIndices(accessor("SCALAR", tube.index))
      .setAttribute("POSITION", accessor("VEC3", position, quantised))
      .setAttribute("NORMAL", accessor("VEC3", tube.normals))
      .setAttribute("JOINTS_0", accessor("VEC4", tube.joints))
      .setAttribute("WEIGHTS_0", accessor("VEC4", tube.weights));
    if (kind.picture) primitive.setAttribute("TEXCOORD_0", accessor("VEC2", tube.spots));
    const mesh = document.createMesh(n === 0 ? "Plumage" : "Down").addPrimitive(primitive);
    if (kind.morphs && n === 0) {
      for (const [name, lift] of [
        ["puffed", 0.05],
        ["ruffled", -0.02],
      ] as const) {
        // Of sparse ones only some vertices move.
        const offsets = tube.normals.map((value, i) => (kind.sparse && i % 9 > 2 ? 0 : value * lift));
        primitive.addTarget(
          document.createPrimitiveTarget(name).setAttribute("POSITION", accessor("VEC3", offsets).setSparse(kind.sparse === true)),
        );
      }
      mesh.setExtras({ targetNames: ["puffed", "ruffled"] }).setWeights([0.2, 0]);
    }
    const skin = document.createSkin(`Skin ${n}`);
    const scale = quantised ? 2 : 1;
    const inverses = new Float32Array(rows.length * 16);
    rows.forEach(([name], i) => {
      skin.addJoint(nodes.get(name) as GltfNode);
      const [x, y, z] = places[i];
      inverses.set([scale, 0, 0, 0, 0, scale, 0, 0, 0, 0, scale, 0, -x, -y, -z, 1], i * 16);
    });
    skin.setInverseBindMatrices(accessor("MAT4", inverses));
    scene.addChild(
      document
        .createNode(n === 0 ? "Shape" : "Shape 2")
        .setMesh(mesh)
        .setSkin(skin),
    );
  }
  if (kind.camera) {
    const lens = document.createCamera("Lens").setType("perspective").setYFov(0.6).setZNear(0.1).setZFar(100).setAspectRatio(1.5);
    scene.addChild(document.createNode("Watcher").setCamera(lens).setTranslation([0, 0.8, 3]));
  }
  if (kind.oddNodes) nodes.get("Head")?.addChild(document.createNode("Mirrored").setScale([-1, 1, 1]).setTranslation([0.05, 0.02, 0]));
  for (let n = 0; n < (kind.animations ?? 1); n++) animate(document, nodes, kind, n);
  if (kind.packed === "draco") document.createExtension(KHRDracoMeshCompression).setRequired(true);
  if (quantised) document.createExtension(KHRMeshQuantization).setRequired(true);
  if (kind.packed === "meshopt")
    document
      .createExtension(EXTMeshoptCompression)
      .setRequired(true)
      .setEncoderOptions({ method: EXTMeshoptCompression.EncoderMethod.QUANTIZE });
  if (kind.scenes === 2) document.createScene("Store").addChild(document.createNode("Crate"));
  const bytes = await (await characterIO()).writeBinary(document);
  return kind.strange || kind.oddNodes ? changed(bytes, kind) : bytes;
}

/** A binary file with its JSON changed as a library would not write it. */
export function withJson(bytes: Uint8Array, change: (json: Record<string, never>, data: Uint8Array) => void): Uint8Array {
  const { json, data } = takeApart(bytes);
  change(json as Record<string, never>, data);
  return toGlb(json, data);
}

export function takeApart(bytes: Uint8Array): { json: Record<string, unknown>; data: Uint8Array } {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const length = view.getUint32(12, true);
  const json = JSON.parse(new TextDecoder().decode(bytes.subarray(20, 20 + length)));
  return { json, data: bytes.slice(28 + length, 28 + length + (bytes.length > 28 + length ? view.getUint32(20 + length, true) : 0)) };
}

function changed(bytes: Uint8Array, kind: CharacterKind): Uint8Array {
  return withJson(bytes, (given) => {
    const json = given as unknown as { nodes: Record<string, unknown>[]; [name: string]: unknown };
    if (kind.oddNodes) {
      const beak = json.nodes.find(({ name }) => name === "Beak") as Record<string, unknown>;
      const [x, y, z] = beak.translation as number[];
      delete beak.translation;
      // A quarter turn about Y, twice as long along X.
      beak.matrix = [0, 0, -2, 0, 0, 1, 0, 0, 1, 0, 0, 0, x, y, z, 1];
    }
    if (!kind.strange) return;
    json.extensionsUsed = [...((json.extensionsUsed as string[] | undefined) ?? []), "LANDING_tides"];
    json.extensions = { LANDING_tides: { heights: [0.25, 0.5, 1e-7], keeper: "heron" } };
    json.extras = { of: "the landing", order: [3, 1, 2], none: null };
    json.nodes[1].extensions = { LANDING_tides: { wet: true } };
    json.nodes[2].extras = { feathers: 12.5 };
  });
}

function tailOf(links: number): (readonly [string, string, Vec])[] {
  return Array.from({ length: links }, (_, n) => [
    `Tail ${n + 1}`,
    n === 0 ? "Body" : `Tail ${n}`,
    n === 0 ? [0, 0.02, -0.14] : [0, -0.01, -0.05],
  ]);
}

function girth(name: string): number {
  if (/Breast|Body/.test(name)) return 0.11;
  if (/Leg|Shank|Foot|Beak/.test(name)) return 0.022;
  return /Wing|Tail/.test(name) ? 0.05 : 0.04;
}

/** A direction at right angles to the way from one place to another, turned about it. */
function around(from: Vec, to: Vec, angle: number): number[] {
  const way = [to[0] - from[0], to[1] - from[1], to[2] - from[2]];
  const length = Math.hypot(...way) || 1;
  const [x, y, z] = way.map((value) => value / length);
  const side = Math.abs(y) < 0.9 ? [z, 0, -x] : [1, 0, 0];
  const size = Math.hypot(...side) || 1;
  const [u, v, w] = side.map((value) => value / size);
  const other = [y * w - z * v, z * u - x * w, x * v - y * u];
  return [u, v, w].map((value, k) => Math.cos(angle) * value + Math.sin(angle) * other[k]);
}

/** A tube from each joint to the one above it, its vertices moved by up to four joints near by. */
function tubes(
  rows: readonly (readonly [string, string | null, Vec])[],
  places: readonly Vec[],
  limbs: readonly number[],
  kind: CharacterKind,
) {
  const { influences = 2, sides = 6, rings = 4 } = kind;
  const [positions, normals, joints, weights, index, spots]: number[][] = [[], [], [], [], [], []];
  for (const limb of limbs) {
    const above = rows.findIndex(([name]) => name === rows[limb][1]);
    const chain = [
      above,
      limb,
      rows.findIndex(([, parent]) => parent === rows[limb][0]),
      rows.findIndex(([name]) => name === rows[above][1]),
    ];
    const movers = chain.filter((i) => i >= 0).slice(0, influences);
    const first = positions.length / 3;
    for (let r = 0; r <= rings; r++)
      for (let s = 0; s < sides; s++) {
        // A little over both ends, so that one limb runs into the next.
        const share = r / rings;
        const along = share * 1.2 - 0.1;
        const angle = (s / sides) * 2 * Math.PI;
        const normal = around(places[above], places[limb], angle);
        // Closed at both ends, thin legs, a full breast.
        const thick = girth(rows[limb][0]) * Math.sqrt(Math.max(0, 1 - (2 * share - 1) ** 6)) + 1e-4;
        for (let k = 0; k < 3; k++) {
          positions.push(places[above][k] + (places[limb][k] - places[above][k]) * along + normal[k] * thick);
          normals.push(normal[k]);
        }
        spots.push(s / sides, share);
        const shares = movers.map((_, n) => (n === 0 ? 1 - share * 0.8 : (share * 0.8) / n) + 0.02);
        const whole = shares.reduce((a, b) => a + b);
        for (let k = 0; k < 4; k++) {
          joints.push(movers[k] ?? 0);
          weights.push(movers[k] === undefined ? 0 : shares[k] / whole);
        }
        if (r < rings) {
          const [a, b] = [first + r * sides + s, first + r * sides + ((s + 1) % sides)];
          index.push(a, b, a + sides, b, b + sides, a + sides);
        }
      }
  }
  return {
    positions: Float32Array.from(positions),
    normals: Float32Array.from(normals),
    joints: Uint16Array.from(joints),
    weights: Float32Array.from(weights),
    spots: Float32Array.from(spots),
    index: positions.length / 3 > 65535 ? Uint32Array.from(index) : Uint16Array.from(index),
  };
}

/** Turns of most joints and a way for the whole figure, by chance, the same each time. */
function animate(document: Document, nodes: ReadonlyMap<string, GltfNode>, kind: CharacterKind, n: number): void {
  const chance = new Chance(n + 7);
  const buffer = document.getRoot().listBuffers()[0];
  const animation = document.createAnimation(["Wade", "Preen", "Start up", "Stand"][n % 4]);
  const mode = kind.interpolation ?? "LINEAR";
  const length = kind.seconds ?? 1;
  const seconds = Float32Array.from([0, 0.25, 0.5, 1].map((at) => Math.round(at * length * 24) / 24));
  const input = document.createAccessor().setType("SCALAR").setArray(seconds).setBuffer(buffer);
  const put = (node: GltfNode, path: "rotation" | "translation" | "weights", width: number, value: (key: number) => number[]) => {
    const values: number[] = [];
    const still = new Array(width).fill(0);
    seconds.forEach((_, key) => {
      if (mode === "CUBICSPLINE") values.push(...still, ...value(key), ...still);
      else values.push(...value(key));
    });
    const output = document
      .createAccessor()
      .setType(path === "weights" ? "SCALAR" : width === 4 ? "VEC4" : "VEC3")
      .setArray(Float32Array.from(values))
      .setSparse(kind.sparse === true && path === "translation")
      .setBuffer(buffer);
    const sampler = document.createAnimationSampler().setInput(input).setOutput(output).setInterpolation(mode);
    animation.addSampler(sampler).addChannel(document.createAnimationChannel().setSampler(sampler).setTargetNode(node).setTargetPath(path));
  };
  for (const [name, node] of nodes) {
    // An animated node may not have a matrix.
    if (name === "Beak" && kind.oddNodes) continue;
    if (name === "Heron") {
      put(node, "translation", 3, (key) => [0, 0.05 * (key % 2), key * 0.2]);
      continue;
    }
    const axis = [chance.next() - 0.5, chance.next() - 0.5, chance.next() - 0.5];
    const size = Math.hypot(...axis);
    put(node, "rotation", 4, (key) => {
      const half = Math.sin(key * 1.7 + axis[0] * 9) * 0.3;
      return [...axis.map((value) => (value / size) * Math.sin(half)), Math.cos(half)];
    });
  }
  const shape = document
    .getRoot()
    .listNodes()
    .find((node) => node.getName() === "Shape");
  if (kind.morphs && shape) put(shape, "weights", 2, (key) => [key / 3, 0.5 - key / 8]);
}
