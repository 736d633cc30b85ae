import { z } from "zod";
import { type Curve, Tangent, type TangentKind, THIRD } from "../curve/curve.ts";
import { constantCurve, curveFromKeys, linearCurve, linearFrame } from "../curve/make.ts";
import { settle } from "../curve/tangents.ts";
import { KneaderError } from "../errors.ts";
import { stretchOf, turnFromAffine } from "../maths/decompose.ts";
import { DEG, eulerFromQuat, nearestEuler, quatMultiply, quatPower, type RotationOrder, rotationOrders } from "../maths/rotation.ts";
import { freshId } from "../model/freshId.ts";
import { findPartners } from "../figure/partners.ts";
import { channelKey, type Control, controlRoles, moveChannels, rotateChannels, scaleChannels } from "../model/rig.ts";
import { rateFromFps } from "../model/shot.ts";
import { emptyShot } from "../model/shotFields.ts";
import type { FilesBeside, Imported } from "./format.ts";
import { roleFrom1 } from "./migrate.ts";
import { type GltfFile, type GltfJson, openGltf } from "./gltfFile.ts";
import { MOST_CONTROLS, MOST_FRAMES, MOST_SAMPLES } from "./limits.ts";
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
const shotExtras = z.object({
  kneader: z.object({
    rate: z.object({ num: z.number().positive(), den: z.number().positive() }),
    range: z.object({ start: z.number(), end: z.number() }),
    firstFrame: z.number(),
    unitMetres: z.number().nullable(),
    figure: z.string().nullable(),
    set: z.string().nullable(),
  }),
});

/** Read the nodes and the first animation of a glTF 2.0 file. Times become frames of `fps`. */
export function readGltf(bytes: Uint8Array, name: string, beside?: FilesBeside): Imported {
  const file = openGltf(bytes, beside);
  const { json } = file;
  const notes: string[] = [];
  const order = nodeOrder(json);
  if (order.length === 0) throw new KneaderError("gltf-data", "The glTF file has no nodes, so there is no figure to pose.");
  const animation = json.animations?.[0];
  const animated = new Set(animation?.channels.map((channel) => channel.target.node));
  const plain = order.filter(({ node, i }) => isPlainMesh(node) && !animated.has(i)).map(({ i }) => i);
  // Where there is nothing else, what carries a mesh is what can be posed.
  const made = shotExtras.safeParse(json.extras);
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
  const base: Record<string, Curve> = {};
  let sheared = 0;
  for (const { i, node, parent } of order) {
    if (skipped.has(i)) continue;
    const own = controlExtras.safeParse(node.extras);
    const id = unique(own.success ? own.data.kneader.id : (node.name ?? `node ${i}`));
    ids.set(i, id);
    places.set(i, controls.length);
    const { translation, rotation, scale, isSheared } = restOf(node);
    if (isSheared) sheared++;
    const scaled = scale.some((value) => value !== 1);
    if (scaled)
      scaleChannels.forEach((channel, k) => {
        base[channelKey(id, channel)] = constantCurve(scale[k], made.success ? made.data.kneader.firstFrame : 1);
      });
    controls.push({
      id,
      name: node.name ?? id,
      parent: parent === null ? null : (ids.get(parent) ?? null),
      rest: translation,
      restTurn: rotation,
      order: own.success ? own.data.kneader.order : "XYZ",
      channels: [
        ...new Set([
          ...(own.success ? own.data.kneader.channels : [...rotateChannels, ...(parent === null ? moveChannels : [])]),
          ...(scaled ? scaleChannels : []),
        ]),
      ],
      partner: own.success ? own.data.kneader.partner : null,
      ...roleOf(own.success ? own.data.kneader : { part: "" }, `${id} ${node.name}`),
      tip: own.success ? own.data.kneader.tip : undefined,
    });
  }
  if (sheared > 0)
    notes.push(`${sheared} ${sheared === 1 ? "node is" : "nodes are"} sheared by a matrix; the nearest turn and scale were taken.`);
  const rate = made.success ? made.data.kneader.rate : rateFromFps(guessFps(file, notes));
  const fps = rate.num / rate.den;
  const first = made.success ? made.data.kneader.firstFrame : 1;
  let sampledTracks = 0;
  let sampledFrames = 0;
  let end = first;
  if (!animation) notes.push("The file has no animation; the figure stands at rest.");
  if ((json.animations?.length ?? 0) > 1) notes.push(`The file has ${json.animations?.length} animations; the first one was read.`);
  for (const [c, channel] of (animation?.channels ?? []).entries()) {
    const what = `Animation channel ${c}`;
    const sampler = animation?.samplers[channel.sampler];
    if (!sampler) throw new KneaderError("gltf-data", `${what}: sampler ${channel.sampler} does not exist.`);
    if (channel.target.node === undefined) continue;
    if (!json.nodes?.[channel.target.node])
      throw new KneaderError("gltf-data", `${what}: node ${channel.target.node} does not exist; the file has ${json.nodes?.length ?? 0}.`);
    const at = places.get(channel.target.node);
    if (at === undefined) continue;
    const control = controls[at];
    const { path } = channel.target;
    if (path === "weights") {
      notes.push("Morph weights are not read.");
      continue;
    }
    const kind = sampler.interpolation ?? "LINEAR";
    const seconds = file.accessor(sampler.input, ["SCALAR"], what);
    const values = file.accessor(sampler.output, [path === "rotation" ? "VEC4" : "VEC3"], what);
    const width = path === "rotation" ? 4 : 3;
    const times = Float64Array.from(seconds, (s) => onFrame(first + s * fps));
    if (values.length !== times.length * width * (kind === "CUBICSPLINE" ? 3 : 1))
      throw new KneaderError("gltf-data", `${what}: ${times.length} times but ${values.length / width} values.`);
    for (let i = 1; i < times.length; i++)
      if (!(times[i] > times[i - 1])) throw new KneaderError("gltf-data", `${what}: its times do not rise at key ${i + 1}.`);
    if (times.length === 0) continue;
    checkFrames(times[times.length - 1] - Math.min(first, times[0]), what);
    end = Math.max(end, times[times.length - 1]);
    const track: Track = { kind, times, values, fps };
    if (path === "rotation") {
      if (kind !== "STEP" && needsSampling(track)) {
        sampledTracks++;
        sampledFrames += times[times.length - 1] - times[0];
        if (sampledFrames > MOST_SAMPLES)
          throw new KneaderError(
            "file-too-large",
            `Its rotations would have to be sampled at more than ${MOST_SAMPLES} frames, all tracks together.`,
            "Export a shorter range.",
          );
      }
      Object.assign(base, turnCurves(control, track));
    } else if (path === "translation") Object.assign(base, vectorCurves(control, track, moveChannels, control.rest));
    else if (path === "scale") Object.assign(base, vectorCurves(control, track, scaleChannels, [0, 0, 0]));
    else continue;
    const names = path === "rotation" ? rotateChannels : path === "translation" ? moveChannels : scaleChannels;
    controls[at] = { ...control, channels: [...new Set([...control.channels, ...names])] };
  }
  if (sampledTracks > 0)
    notes.push(`${sampledTracks} rotation tracks were sampled at every frame: quaternions between keys have no exact Euler curve.`);
  const withPartners = made.success ? controls : findPartners(controls);
  const shot = emptyShot({
    id: freshId("shot"),
    name,
    rig: { id: freshId("rig"), name, controls: withPartners, figure: made.success ? made.data.kneader.figure : null },
    rate,
    range: made.success ? made.data.kneader.range : { start: first, end: Math.max(first, Math.ceil(end)) },
    unitMetres: made.success ? made.data.kneader.unitMetres : 1,
    set: made.success ? made.data.kneader.set : null,
    base,
  });
  return { shot, notes };
}

interface Track {
  kind: "STEP" | "LINEAR" | "CUBICSPLINE";
  times: Float64Array;
  values: Float64Array;
  fps: number;
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

/** Frames over which a file may reach: at 24 a second, half a day. */
function checkFrames(frames: number, what: string): void {
  if (!(frames <= MOST_FRAMES))
    throw new KneaderError(
      "file-too-large",
      `${what} reaches over ${Math.round(frames)} frames; up to ${MOST_FRAMES} can be opened.`,
      "Look at its last key, or export a shorter range.",
    );
}

/** Frames a second that put the most key times on whole frames; 24 when none does. */
function guessFps(file: GltfFile, notes: string[]): number {
  const inputs = new Set(file.json.animations?.[0]?.samplers.map((sampler) => sampler.input) ?? []);
  const times = [...inputs].slice(0, 8).flatMap((i) => [...file.accessor(i, ["SCALAR"], "Animation sampler")].slice(0, 200));
  for (const fps of [24, 25, 30, 48, 50, 60, 120])
    if (times.every((s) => Math.abs(s * fps - Math.round(s * fps)) < 0.01)) {
      notes.push(`glTF does not say the frame rate; its key times fit ${fps} frames a second.`);
      return fps;
    }
  notes.push("The key times fit no usual frame rate; 24 frames a second are taken and keys stand between frames.");
  return 24;
}

function onFrame(frame: number): number {
  const whole = Math.round(frame);
  return Math.abs(frame - whole) < 1e-3 ? whole : frame;
}

function vectorCurves(control: Control, track: Track, names: readonly string[], offset: readonly number[]): Record<string, Curve> {
  const { kind, times, values, fps } = track;
  const tangent: TangentKind = kind === "STEP" ? Tangent.stepped : kind === "LINEAR" ? Tangent.linear : Tangent.free;
  const cubic = kind === "CUBICSPLINE";
  return Object.fromEntries(
    names.map((channel, k) => {
      const keys = Array.from(times, (time, i) => ({
        time,
        value: (cubic ? values[i * 9 + 3 + k] : values[i * 3 + k]) - offset[k],
        slopeIn: cubic ? values[i * 9 + k] / fps : 0,
        slopeOut: cubic ? values[i * 9 + 6 + k] / fps : 0,
        weightIn: THIRD,
        weightOut: THIRD,
        kindIn: tangent === Tangent.stepped ? Tangent.flat : tangent,
        kindOut: tangent,
      }));
      return [channelKey(control.id, channel), curveFromKeys(keys)];
    }),
  );
}

/** Between keys further apart than a frame a quaternion's path is not an Euler line. */
function needsSampling(track: Track): boolean {
  if (track.kind === "CUBICSPLINE") return track.times.length > 1;
  for (let i = 1; i < track.times.length; i++) if (track.times[i] - track.times[i - 1] > 1 + 1e-6) return true;
  return false;
}

function turnCurves(control: Control, track: Track): Record<string, Curve> {
  const sampling = track.kind !== "STEP" && needsSampling(track);
  const times = sampling ? everyFrame(track.times) : track.times;
  const rest = Float64Array.of(-control.restTurn[0], -control.restTurn[1], -control.restTurn[2], control.restTurn[3]);
  const q = new Float64Array(4);
  const columns = rotateChannels.map(() => new Float64Array(times.length));
  let near: [number, number, number] = [0, 0, 0];
  const segment = { i: 0 };
  for (let n = 0; n < times.length; n++) {
    if (sampling) turnAt(q, track, times[n], segment);
    else for (let k = 0; k < 4; k++) q[k] = track.values[n * 4 + k];
    const length = Math.hypot(q[0], q[1], q[2], q[3]) || 1;
    for (let k = 0; k < 4; k++) q[k] /= length;
    quatMultiply(q, 0, rest, 0, q, 0);
    near = eulerDegrees(q, control.order, near);
    for (let axis = 0; axis < 3; axis++) columns[axis][n] = near[axis];
  }
  const frame = linearFrame(Float64Array.from(times));
  const stepped = {
    kindIn: new Uint8Array(times.length).fill(Tangent.flat),
    kindOut: new Uint8Array(times.length).fill(Tangent.stepped),
  };
  return Object.fromEntries(
    rotateChannels.map((channel, axis) => {
      const curve = linearCurve(frame, columns[axis]);
      return [channelKey(control.id, channel), track.kind === "STEP" ? settle({ ...curve, ...stepped }) : curve];
    }),
  );
}

function eulerDegrees(q: Float64Array, order: RotationOrder, near: readonly number[]): [number, number, number] {
  const euler = [0, 0, 0];
  eulerFromQuat(euler, 0, q, 0, order);
  return nearestEuler(
    euler.map((angle) => angle / DEG),
    [...near],
    order,
  );
}

function everyFrame(times: Float64Array): number[] {
  const all = new Set(times);
  for (let frame = Math.ceil(times[0]); frame <= times[times.length - 1]; frame++) all.add(frame);
  return [...all].sort((a, b) => a - b);
}

/** The track's quaternion at a time: spherical between LINEAR keys, cubic per component otherwise. Times come in order. */
function turnAt(out: Float64Array, track: Track, time: number, segment: { i: number }): void {
  const { times, values, kind, fps } = track;
  while (segment.i < times.length - 2 && times[segment.i + 1] <= time) segment.i++;
  const { i } = segment;
  const h = times[i + 1] - times[i];
  const x = (time - times[i]) / h;
  if (kind === "LINEAR") {
    const back = Float64Array.of(-values[i * 4], -values[i * 4 + 1], -values[i * 4 + 2], values[i * 4 + 3]);
    quatMultiply(back, 0, back, 0, values, i * 4 + 4);
    quatPower(back, 0, back, 0, x);
    quatMultiply(out, 0, values, i * 4, back, 0);
    return;
  }
  const td = h / fps;
  const [x2, x3] = [x * x, x * x * x];
  for (let k = 0; k < 4; k++) {
    const o = i * 12 + k;
    out[k] =
      (2 * x3 - 3 * x2 + 1) * values[o + 4] +
      td * (x3 - 2 * x2 + x) * values[o + 8] +
      (3 * x2 - 2 * x3) * values[o + 16] +
      td * (x3 - x2) * values[o + 12];
  }
}
