import { type Curve, Tangent, type TangentKind, THIRD } from "../../curve/curve.ts";
import { constantCurve, curveFromKeys } from "../../curve/make.ts";
import { KneaderError } from "../../errors.ts";
import { channelKey, type Control, moveChannels, rotateChannels, scaleChannels } from "../../model/rig.ts";
import { countedWord } from "../../words.ts";
import { MOST_FRAMES, MOST_SAMPLES } from "../limits.ts";
import type { GltfFile, GltfJson } from "./gate.ts";
import type { NodeControls } from "./nodes.ts";
import type { Numbers, Wanted } from "./numbers.ts";
import type { Track } from "./track.ts";
import { TURN_TOLERANCE, turnCurves } from "./turns.ts";

/** What an animation gives: curves, the controls with the channels they need, the last frame. */
interface Motion {
  readonly curves: Record<string, Curve>;
  readonly controls: Control[];
  readonly end: number;
}

type Animation = NonNullable<GltfJson["animations"]>[number];
type Sampler = Animation["samplers"][number];

/** The accessors that the tracks of an animation need. Errors: `gltf-data`. */
export function tracksWanted({ json }: GltfFile, animation: Animation | undefined): Wanted[] {
  return (animation?.channels ?? []).flatMap(({ sampler, target }, c) => {
    const what = `Animation channel ${c}`;
    if (target.node !== undefined && !json.nodes?.[target.node])
      throw new KneaderError("gltf-data", `${what}: node ${target.node} does not exist; the file has ${json.nodes?.length ?? 0}.`);
    const given = animation?.samplers[sampler];
    if (!given) throw new KneaderError("gltf-data", `${what}: sampler ${sampler} does not exist.`);
    const type = outputTypes[target.path];
    if (target.node === undefined || !type) return [];
    return [
      { accessor: given.input, types: ["SCALAR"], what },
      { accessor: given.output, types: [type], what },
    ];
  });
}

const outputTypes: Readonly<Record<string, string>> = { rotation: "VEC4", translation: "VEC3", scale: "VEC3", weights: "SCALAR" };

/** Turn an animation into curves; `first` is the frame of second 0. */
export function readAnimation(
  animation: Animation | undefined,
  numbers: Numbers,
  nodes: NodeControls,
  fps: number,
  first: number,
  notes: string[],
): Motion {
  const curves: Record<string, Curve> = {};
  const controls = [...nodes.controls];
  const tally = { keys: 0, "more keys": 0, "too quick": 0 };
  let sampledFrames = 0;
  let end = first;
  if (!animation) notes.push("The file has no animation; the figure stands at rest.");
  else if (animation.channels.length === 0) notes.push("Its animation has no keys; the figure stands at rest.");
  for (const [c, channel] of (animation?.channels ?? []).entries()) {
    const what = `Animation channel ${c}`;
    const { node, path } = channel.target;
    const at = node === undefined ? undefined : nodes.places.get(node);
    if (at === undefined || !(path in outputTypes)) continue;
    const control = controls[at];
    const shapes = nodes.shapes[control.id] ?? [];
    if (path === "weights" && shapes.length === 0) continue;
    const width = path === "rotation" ? 4 : path === "weights" ? shapes.length : 3;
    const track = readTrack((animation as Animation).samplers[channel.sampler], numbers, width, fps, first, what);
    const { times } = track;
    if (times.length === 0) continue;
    checkFrames(times[times.length - 1] - Math.min(first, times[0]), what);
    end = Math.max(end, times[times.length - 1]);
    if (path === "rotation") {
      if (track.kind !== "STEP") sampledFrames += times[times.length - 1] - times[0];
      if (sampledFrames > MOST_SAMPLES)
        throw new KneaderError(
          "file-too-large",
          `Its rotations reach over more than ${MOST_SAMPLES} frames, all tracks together.`,
          "Export a shorter range.",
        );
      const turned = turnCurves(control, track);
      tally[turned.kept]++;
      Object.assign(curves, turned.curves);
      addChannels(controls, at, rotateChannels);
    } else if (path === "weights")
      Object.assign(
        curves,
        vectorCurves(
          control,
          track,
          shapes,
          shapes.map(() => 0),
          100,
        ),
      );
    else {
      const names = path === "translation" ? moveChannels : scaleChannels;
      Object.assign(curves, vectorCurves(control, track, names, path === "translation" ? control.rest : [0, 0, 0], 1));
      addChannels(controls, at, names);
    }
  }
  if (tally["more keys"] > 0)
    notes.push(
      `${countedWord(tally["more keys"], "rotation track")} got more keys than the file has: between keys a quaternion's path is no curve of angles, and it is kept within ${TURN_TOLERANCE}°.`,
    );
  if (tally["too quick"] > 0)
    notes.push(
      `${countedWord(tally["too quick"], "rotation track")} ${tally["too quick"] === 1 ? "turns" : "turn"} so far within one frame that only the frames themselves are kept within ${TURN_TOLERANCE}°.`,
    );
  addStanding(nodes, curves, controls, first);
  return { curves, controls, end };
}

function addChannels(controls: Control[], at: number, names: readonly string[]): void {
  controls[at] = { ...controls[at], channels: [...new Set([...controls[at].channels, ...names])] };
}

/** What the file does not animate stands as its node does, wherever the rest pose was taken from. */
function addStanding({ still }: NodeControls, curves: Record<string, Curve>, controls: Control[], first: number): void {
  controls.forEach((control, at) => {
    const values = still.get(control.id) ?? {};
    for (const names of [moveChannels, rotateChannels, scaleChannels]) {
      if (names.some((channel) => channelKey(control.id, channel) in curves)) continue;
      const standing = names.filter((channel) => values[channel] !== undefined);
      for (const channel of standing) curves[channelKey(control.id, channel)] = constantCurve(values[channel], first);
      if (standing.length > 0) addChannels(controls, at, names);
    }
    for (const [channel, value] of Object.entries(values)) {
      const key = channelKey(control.id, channel);
      if (!(key in curves) && control.channels.includes(channel)) curves[key] = constantCurve(value, first);
    }
  });
}

function readTrack(sampler: Sampler, numbers: Numbers, width: number, fps: number, first: number, what: string): Track {
  const kind = sampler.interpolation ?? "LINEAR";
  const seconds = numbers.get(sampler.input) ?? new Float64Array();
  const values = numbers.get(sampler.output) ?? new Float64Array();
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

/** Curves of numbers that stand side by side, less an offset, times a factor. */
function vectorCurves(
  control: Control,
  track: Track,
  names: readonly string[],
  offset: readonly number[],
  factor: number,
): Record<string, Curve> {
  const { kind, times, values, fps } = track;
  const tangent: TangentKind = kind === "STEP" ? Tangent.stepped : kind === "LINEAR" ? Tangent.linear : Tangent.free;
  const cubic = kind === "CUBICSPLINE";
  const width = names.length;
  return Object.fromEntries(
    names.map((channel, k) => {
      const keys = Array.from(times, (time, i) => ({
        time,
        value: factor * ((cubic ? values[i * 3 * width + width + k] : values[i * width + k]) - offset[k]),
        slopeIn: cubic ? (factor * values[i * 3 * width + k]) / fps : 0,
        slopeOut: cubic ? (factor * values[i * 3 * width + 2 * width + k]) / fps : 0,
        weightIn: THIRD,
        weightOut: THIRD,
        kindIn: tangent === Tangent.stepped ? Tangent.flat : tangent,
        kindOut: tangent,
      }));
      return [channelKey(control.id, channel), curveFromKeys(keys)];
    }),
  );
}
