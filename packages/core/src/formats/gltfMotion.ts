import { type Curve, Tangent, THIRD } from "../curve/curve.ts";
import { sampleCurve } from "../curve/track.ts";
import { DEG, quatFromEuler, quatMultiply } from "../maths/rotation.ts";
import { type ChannelKey, channelKey, type Control, moveChannels, restValue, rotateChannels, scaleChannels } from "../model/rig.ts";
import { framesPerSecond, type Shot } from "../model/shot.ts";
import { activePasses } from "../passes/active.ts";
import { changedBy } from "../passes/members.ts";
import { carriedControls, LOCAL, sampleShot, type SampledShot } from "./sampled.ts";

type Interpolation = "STEP" | "LINEAR" | "CUBICSPLINE";
const FLOAT = 5126;

/** Gathers accessors over one growing binary buffer; equal time columns are written once. */
class Binary {
  readonly accessors: Record<string, unknown>[] = [];
  readonly views: Record<string, unknown>[] = [];
  private readonly parts: Float32Array[] = [];
  private readonly times: { readonly seconds: Float32Array; readonly accessor: number }[] = [];
  private length = 0;

  add(values: Float32Array, type: "SCALAR" | "VEC3" | "VEC4", bounds = false): number {
    const width = type === "SCALAR" ? 1 : type === "VEC3" ? 3 : 4;
    this.views.push({ buffer: 0, byteOffset: this.length, byteLength: values.byteLength });
    this.parts.push(values);
    this.length += values.byteLength;
    const limits = bounds ? { min: [values.reduce((a, b) => Math.min(a, b))], max: [values.reduce((a, b) => Math.max(a, b))] } : {};
    this.accessors.push({ bufferView: this.views.length - 1, componentType: FLOAT, count: values.length / width, type, ...limits });
    return this.accessors.length - 1;
  }

  addTimes(seconds: Float32Array): number {
    const known = this.times.find((one) => one.seconds.length === seconds.length && one.seconds.every((s, i) => s === seconds[i]));
    if (known) return known.accessor;
    const accessor = this.add(seconds, "SCALAR", true);
    this.times.push({ seconds, accessor });
    return accessor;
  }

  bytes(): Uint8Array {
    const all = new Uint8Array(this.length);
    let at = 0;
    for (const part of this.parts) {
      all.set(new Uint8Array(part.buffer, part.byteOffset, part.byteLength), at);
      at += part.byteLength;
    }
    return all;
  }
}

/** How a group of three curves can be written without loss, or null when it must be sampled. */
function exactKind(curves: readonly (Curve | undefined)[]): { times: Float64Array; kind: Interpolation } | null {
  const moving = curves.filter((curve): curve is Curve => curve !== undefined && curve.times.length > 1);
  if (moving.length === 0) return null;
  const { times } = moving[0];
  for (const curve of moving) {
    if (curve.runIn.kind !== "hold" || curve.runOut.kind !== "hold") return null;
    if (curve.times.length !== times.length || curve.times.some((t, i) => t !== times[i])) return null;
    if (curve.weightIn.some((w) => w !== THIRD) || curve.weightOut.some((w) => w !== THIRD)) return null;
  }
  const segments = (test: (curve: Curve, i: number) => boolean) =>
    moving.every((curve) => Array.from({ length: times.length - 1 }, (_, i) => test(curve, i)).every(Boolean));
  if (segments((c, i) => c.kindOut[i] === Tangent.stepped)) return { times, kind: "STEP" };
  if (segments((c, i) => c.kindOut[i] === Tangent.linear && c.kindIn[i + 1] === Tangent.linear)) return { times, kind: "LINEAR" };
  if (segments((c, i) => c.kindOut[i] !== Tangent.stepped && c.kindIn[i + 1] !== Tangent.stepped)) return { times, kind: "CUBICSPLINE" };
  return null;
}

/** Writes the motion of a shot's controls, node by node, as animation channels over one binary buffer. */
export class MotionWriter {
  readonly file = new Binary();
  readonly samplers: Record<string, unknown>[] = [];
  readonly channels: Record<string, unknown>[] = [];
  readonly tally = { exact: 0, sampled: 0 };
  readonly sampled: SampledShot;
  /** The frame of second 0. */
  readonly origin: number;
  /** Scales that never change: they stand in the nodes themselves. */
  readonly still: ReadonlyMap<string, number[]>;
  private readonly shot: Shot;
  private readonly fps: number;
  private readonly changed: ReadonlySet<ChannelKey>;
  private readonly led: ReadonlySet<string>;
  /** The seconds of every frame. */
  private readonly every: Float32Array;

  constructor(shot: Shot) {
    this.shot = shot;
    this.sampled = sampleShot(shot);
    this.fps = framesPerSecond(shot.rate);
    this.changed = new Set(activePasses(shot).flatMap((pass) => changedBy(shot, pass)));
    this.led = carriedControls(shot);
    this.still = new Map(
      shot.rig.controls.flatMap((control) => {
        const moved = this.isTouched(control, scaleChannels);
        const scale = moved ? null : constantScale(shot, control);
        return scale ? [[control.id, scale] as const] : [];
      }),
    );
    let origin = shot.range.start;
    // A single key says a value, not when something begins.
    for (const key in shot.base) if (shot.base[key].times.length > 1) origin = Math.min(origin, shot.base[key].times[0]);
    this.origin = Math.floor(origin);
    const { frames, start } = this.sampled;
    this.every = Float32Array.from({ length: frames }, (_, n) => (start + n - this.origin) / this.fps);
  }

  write(control: Control, node: number): void {
    const keyed = rotateChannels.some((channel) => channelKey(control.id, channel) in this.shot.base);
    this.writeVectors(control, node, "translation");
    if (keyed || this.isTouched(control, rotateChannels)) this.writeTurns(control, node);
    this.writeVectors(control, node, "scale");
  }

  /** Does anything besides base motion move it? */
  private isTouched(control: Control, names: readonly string[]): boolean {
    return this.led.has(control.id) || names.some((channel) => this.changed.has(channelKey(control.id, channel)));
  }

  private curvesOf(control: Control, names: readonly string[]): (Curve | undefined)[] {
    return names.map((channel) => this.shot.base[channelKey(control.id, channel)]);
  }

  private put(node: number, path: string, kind: Interpolation, seconds: Float32Array, values: Float32Array): void {
    const type = path === "rotation" ? "VEC4" : "VEC3";
    this.samplers.push({ input: this.file.addTimes(seconds), output: this.file.add(values, type), interpolation: kind });
    this.channels.push({ sampler: this.samplers.length - 1, target: { node, path } });
  }

  private putSampled(node: number, path: string, values: Float32Array, width: number): void {
    const resting = isStill(values, width);
    if (!resting) this.tally.sampled++;
    const seconds = resting ? this.every.slice(0, 1) : this.every;
    this.put(node, path, resting ? "STEP" : "LINEAR", seconds, resting ? values.slice(0, width) : values);
  }

  private putExact(node: number, path: string, exact: { times: Float64Array; kind: Interpolation }, values: Float32Array): void {
    this.tally.exact++;
    const seconds = Float32Array.from(exact.times, (t) => (t - this.origin) / this.fps);
    this.put(node, path, exact.kind, seconds, values);
  }

  private writeVectors(control: Control, node: number, path: "translation" | "scale"): void {
    if (path === "scale" && this.still.has(control.id)) return;
    const names = path === "translation" ? moveChannels : scaleChannels;
    const curves = this.curvesOf(control, names);
    const touched = this.isTouched(control, names);
    if (!touched && curves.every((curve) => curve === undefined)) return;
    const exact = touched ? null : exactKind(curves);
    const offset = path === "translation" ? control.rest : [0, 0, 0];
    if (exact) this.putExact(node, path, exact, keyedValues(curves, exact, names, offset, this.fps));
    else this.putSampled(node, path, sampledVectors(this.sampled, this.shot.rig.controls.length, node, path), 3);
  }

  private writeTurns(control: Control, node: number): void {
    const curves = this.curvesOf(control, rotateChannels);
    const exact = this.isTouched(control, rotateChannels) ? null : exactKind(curves);
    if (exact?.kind === "STEP") this.putExact(node, "rotation", exact, keyedTurns(control, curves, exact.times));
    else this.putSampled(node, "rotation", sampledTurns(this.sampled, this.shot.rig.controls.length, node), 4);
  }
}

function keyedValues(
  curves: readonly (Curve | undefined)[],
  exact: { times: Float64Array; kind: Interpolation },
  names: readonly string[],
  resting: readonly number[],
  fps: number,
): Float32Array {
  const n = exact.times.length;
  const cubic = exact.kind === "CUBICSPLINE";
  const width = cubic ? 9 : 3;
  const out = new Float32Array(n * width);
  for (let i = 0; i < n; i++)
    curves.forEach((curve, k) => {
      const many = curve !== undefined && curve.times.length > 1;
      const value = resting[k] + (curve === undefined ? restValue(names[k]) : curve.values[many ? i : 0]);
      if (!cubic) out[i * 3 + k] = value;
      else {
        // In-tangent, value, out-tangent; tangents in units per second.
        out[i * 9 + k] = many ? curve.slopeIn[i] * fps : 0;
        out[i * 9 + 3 + k] = value;
        out[i * 9 + 6 + k] = many ? curve.slopeOut[i] * fps : 0;
      }
    });
  return out;
}

/** Unit quaternions of stepped rotate curves at their keys. */
function keyedTurns(control: Control, curves: readonly (Curve | undefined)[], times: Float64Array): Float32Array {
  const out = new Float32Array(times.length * 4);
  const q = new Float64Array(4);
  times.forEach((time, i) => {
    const [x, y, z] = curves.map((curve) => (curve === undefined ? 0 : sampleCurve(curve, time)) * DEG);
    quatFromEuler(q, 0, x, y, z, control.order);
    quatMultiply(q, 0, control.restTurn as unknown as number[], 0, q, 0);
    out.set(q, i * 4);
  });
  return out;
}

function sampledVectors(sampled: SampledShot, count: number, node: number, path: "translation" | "scale"): Float32Array {
  const out = new Float32Array(sampled.frames * 3);
  for (let n = 0; n < sampled.frames; n++) {
    const o = (n * count + node) * LOCAL + (path === "translation" ? 0 : 7);
    for (let k = 0; k < 3; k++) out[n * 3 + k] = sampled.locals[o + k];
  }
  return out;
}

/** Unit quaternions of a control at each frame, each on the side of the one before it. */
function sampledTurns(sampled: SampledShot, count: number, node: number): Float32Array {
  const out = new Float32Array(sampled.frames * 4);
  for (let n = 0; n < sampled.frames; n++) {
    const o = (n * count + node) * LOCAL + 3;
    let dot = n === 0 ? 1 : 0;
    if (n > 0) for (let k = 0; k < 4; k++) dot += sampled.locals[o + k] * out[n * 4 - 4 + k];
    for (let k = 0; k < 4; k++) out[n * 4 + k] = dot < 0 ? -sampled.locals[o + k] : sampled.locals[o + k];
  }
  return out;
}

/** The one scale a control always has, where its channels say so and nothing else moves it. */
function constantScale(shot: Shot, control: Control): number[] | null {
  const scale = scaleChannels.map((channel) => {
    const curve = shot.base[channelKey(control.id, channel)];
    return curve === undefined ? 1 : curve.times.length === 1 ? curve.values[0] : Number.NaN;
  });
  return scale.some(Number.isNaN) ? null : scale;
}

function isStill(values: Float32Array, width: number): boolean {
  for (let i = width; i < values.length; i++) if (values[i] !== values[i % width]) return false;
  return true;
}
