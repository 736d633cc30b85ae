import { type Curve, Tangent, type TangentKind, THIRD } from "../curve/curve.ts";
import { curveFromKeys, linearCurve, linearFrame } from "../curve/make.ts";
import { settle } from "../curve/tangents.ts";
import { KneaderError } from "../errors.ts";
import { DEG, eulerFromQuat, nearestEuler, quatMultiply, quatPower, type RotationOrder } from "../maths/rotation.ts";
import { channelKey, type Control, moveChannels, rotateChannels, scaleChannels } from "../model/rig.ts";
import type { GltfFile, GltfJson } from "./gltfFile.ts";
import { MOST_FRAMES, MOST_SAMPLES } from "./limits.ts";

interface Track {
  kind: "STEP" | "LINEAR" | "CUBICSPLINE";
  times: Float64Array;
  values: Float64Array;
  fps: number;
}

/** What an animation gives: curves, the controls with the channels they need, the last frame. */
interface Motion {
  readonly curves: Record<string, Curve>;
  readonly controls: Control[];
  readonly end: number;
}

/** Turn the first animation into curves; `first` is the frame of second 0. */
export function readAnimation(
  file: GltfFile,
  given: readonly Control[],
  places: ReadonlyMap<number, number>,
  fps: number,
  first: number,
  notes: string[],
): Motion {
  const { json } = file;
  const animation = json.animations?.[0];
  const curves: Record<string, Curve> = {};
  const controls = [...given];
  let sampledTracks = 0;
  let sampledFrames = 0;
  let end = first;
  if (!animation) notes.push("The file has no animation; the figure stands at rest.");
  if ((json.animations?.length ?? 0) > 1) notes.push(`The file has ${json.animations?.length} animations; the first one was read.`);
  for (const [c, channel] of (animation?.channels ?? []).entries()) {
    const what = `Animation channel ${c}`;
    const at = placeOf(json, channel.target.node, places, what);
    const sampler = animation?.samplers[channel.sampler];
    if (!sampler) throw new KneaderError("gltf-data", `${what}: sampler ${channel.sampler} does not exist.`);
    if (at === undefined) continue;
    const { path } = channel.target;
    if (path === "weights") {
      notes.push("Morph weights are not read.");
      continue;
    }
    const track = readTrack(file, sampler, path, fps, first, what);
    const { times } = track;
    if (times.length === 0) continue;
    checkFrames(times[times.length - 1] - Math.min(first, times[0]), what);
    end = Math.max(end, times[times.length - 1]);
    if (path === "rotation" && track.kind !== "STEP" && needsSampling(track)) {
      sampledTracks++;
      sampledFrames += times[times.length - 1] - times[0];
      if (sampledFrames > MOST_SAMPLES)
        throw new KneaderError(
          "file-too-large",
          `Its rotations would have to be sampled at more than ${MOST_SAMPLES} frames, all tracks together.`,
          "Export a shorter range.",
        );
    }
    const control = controls[at];
    const names = path === "rotation" ? rotateChannels : path === "translation" ? moveChannels : scaleChannels;
    if (path === "rotation") Object.assign(curves, turnCurves(control, track));
    else if (path === "translation") Object.assign(curves, vectorCurves(control, track, names, control.rest));
    else if (path === "scale") Object.assign(curves, vectorCurves(control, track, names, [0, 0, 0]));
    else continue;
    controls[at] = { ...control, channels: [...new Set([...control.channels, ...names])] };
  }
  if (sampledTracks > 0)
    notes.push(`${sampledTracks} rotation tracks were sampled at every frame: quaternions between keys have no exact Euler curve.`);
  return { curves, controls, end };
}

/** Where the control of a node stands; undefined for a node that is none. */
function placeOf(json: GltfJson, node: number | undefined, places: ReadonlyMap<number, number>, what: string): number | undefined {
  if (node === undefined) return undefined;
  if (!json.nodes?.[node])
    throw new KneaderError("gltf-data", `${what}: node ${node} does not exist; the file has ${json.nodes?.length ?? 0}.`);
  return places.get(node);
}

type Sampler = NonNullable<GltfJson["animations"]>[number]["samplers"][number];

function readTrack(file: GltfFile, sampler: Sampler, path: string, fps: number, first: number, what: string): Track {
  const kind = sampler.interpolation ?? "LINEAR";
  const width = path === "rotation" ? 4 : 3;
  const seconds = file.accessor(sampler.input, ["SCALAR"], what);
  const values = file.accessor(sampler.output, [width === 4 ? "VEC4" : "VEC3"], what);
  const times = Float64Array.from(seconds, (s) => onFrame(first + s * fps));
  if (values.length !== times.length * width * (kind === "CUBICSPLINE" ? 3 : 1))
    throw new KneaderError("gltf-data", `${what}: ${times.length} times but ${values.length / width} values.`);
  for (let i = 1; i < times.length; i++)
    if (!(times[i] > times[i - 1])) throw new KneaderError("gltf-data", `${what}: its times do not rise at key ${i + 1}.`);
  return { kind, times, values, fps };
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
