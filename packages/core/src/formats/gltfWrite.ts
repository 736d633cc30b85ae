import { fromByteArray } from "base64-js";
import { type Curve, Tangent, THIRD } from "../curve/curve.ts";
import { sampleCurve } from "../curve/track.ts";
import { activePasses } from "../passes/active.ts";
import { changedBy } from "../passes/members.ts";
import { DEG, quatFromEuler, quatMultiply } from "../maths/rotation.ts";
import { type ChannelKey, channelKey, type Control, moveChannels, restValue, rotateChannels, scaleChannels } from "../model/rig.ts";
import { framesPerSecond, type Shot } from "../model/shot.ts";
import { encodeText } from "./utf8.ts";
import type { Exported } from "./format.ts";
import { LOCAL, carriedControls, sampleShot, type SampledShot } from "./sampled.ts";

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

/**
 * Write the skeleton and its motion as glTF 2.0: a .glb, or a .gltf with its data inside. Move and scale
 * curves whose keys agree are written as STEP, LINEAR or CUBICSPLINE without loss, and stepped rotations
 * as STEP; everything else (other rotations above all, which glTF keeps as quaternions) is sampled at
 * every frame.
 */
export function writeGltf(shot: Shot, binary: boolean): Exported {
  const sampled = sampleShot(shot);
  const fps = framesPerSecond(shot.rate);
  const { controls } = shot.rig;
  const file = new Binary();
  const samplers: Record<string, unknown>[] = [];
  const channels: Record<string, unknown>[] = [];
  const tally = { exact: 0, sampled: 0 };
  const changed = new Set(activePasses(shot).flatMap((pass) => changedBy(shot, pass)));
  const led = carriedControls(shot);
  // A scale that never changes stands in the node itself.
  const still = new Map(
    controls.flatMap((control) => {
      const moved = led.has(control.id) || scaleChannels.some((channel) => changed.has(channelKey(control.id, channel)));
      const scale = moved ? null : constantScale(shot, control);
      return scale ? [[control.id, scale] as const] : [];
    }),
  );
  const base = (key: ChannelKey): Curve | undefined => shot.base[key];
  let origin = shot.range.start;
  // A single key says a value, not when something begins.
  for (const key in shot.base) if (shot.base[key].times.length > 1) origin = Math.min(origin, shot.base[key].times[0]);
  origin = Math.floor(origin);
  const every = Float32Array.from({ length: sampled.frames }, (_, n) => (sampled.start + n - origin) / fps);

  const write = (node: number, path: string, kind: Interpolation, seconds: Float32Array, values: Float32Array): void => {
    const type = path === "rotation" ? "VEC4" : "VEC3";
    samplers.push({ input: file.addTimes(seconds), output: file.add(values, type), interpolation: kind });
    channels.push({ sampler: samplers.length - 1, target: { node, path } });
  };

  const writeVectors = (control: Control, node: number, path: "translation" | "scale"): void => {
    const names = path === "translation" ? moveChannels : scaleChannels;
    const keys = names.map((channel) => channelKey(control.id, channel));
    const curves = keys.map(base);
    const touched = keys.some((key) => changed.has(key)) || led.has(control.id);
    if (path === "scale" && still.has(control.id)) return;
    if (!touched && curves.every((curve) => curve === undefined)) return;
    const exact = touched ? null : exactKind(curves);
    const offset = path === "translation" ? control.rest : [0, 0, 0];
    if (exact) {
      tally.exact++;
      const seconds = Float32Array.from(exact.times, (t) => (t - origin) / fps);
      write(node, path, exact.kind, seconds, keyedValues(curves, exact, names, offset, fps));
    } else {
      const values = sampledVectors(sampled, controls.length, node, path);
      const resting = isStill(values, 3);
      if (!resting) tally.sampled++;
      write(node, path, resting ? "STEP" : "LINEAR", resting ? every.slice(0, 1) : every, resting ? values.slice(0, 3) : values);
    }
  };

  const writeTurns = (control: Control, node: number): void => {
    const keys = rotateChannels.map((channel) => channelKey(control.id, channel));
    const touched = keys.some((key) => changed.has(key)) || led.has(control.id);
    const exact = touched ? null : exactKind(keys.map(base));
    if (exact?.kind === "STEP") {
      tally.exact++;
      const seconds = Float32Array.from(exact.times, (t) => (t - origin) / fps);
      write(node, "rotation", "STEP", seconds, keyedTurns(control, keys.map(base), exact.times));
      return;
    }
    const values = sampledTurns(sampled, controls.length, node);
    const resting = isStill(values, 4);
    if (!resting) tally.sampled++;
    write(node, "rotation", resting ? "STEP" : "LINEAR", resting ? every.slice(0, 1) : every, resting ? values.slice(0, 4) : values);
  };

  controls.forEach((control, node) => {
    const keyed = (names: readonly string[]) =>
      names.some((channel) => channelKey(control.id, channel) in shot.base || changed.has(channelKey(control.id, channel)));
    writeVectors(control, node, "translation");
    if (keyed(rotateChannels) || led.has(control.id)) writeTurns(control, node);
    writeVectors(control, node, "scale");
  });

  const nodes = controls.map((control, i) => {
    const children = controls.flatMap((other, k) => (other.parent === control.id ? [k] : []));
    return {
      name: control.name,
      translation: [...control.rest],
      rotation: [...control.restTurn],
      ...(still.get(control.id)?.some((value) => value !== 1) ? { scale: still.get(control.id) } : {}),
      ...(children.length > 0 ? { children } : {}),
      extras: {
        kneader: {
          id: control.id,
          order: control.order,
          role: control.role,
          part: control.part,
          partner: control.partner,
          channels: control.channels,
          tip: controls[i].tip,
        },
      },
    };
  });
  const bytes = file.bytes();
  const json = {
    asset: { version: "2.0", generator: "Kneader" },
    scene: 0,
    scenes: [{ name: shot.name, nodes: controls.flatMap((control, i) => (control.parent === null ? [i] : [])) }],
    nodes,
    extras: {
      kneader: {
        rate: shot.rate,
        range: shot.range,
        firstFrame: origin,
        unitMetres: shot.unitMetres,
        figure: shot.rig.figure,
        set: shot.set,
      },
    },
    ...(channels.length > 0
      ? {
          animations: [{ name: shot.name, channels, samplers }],
          accessors: file.accessors,
          bufferViews: file.views,
          buffers: [
            binary
              ? { byteLength: bytes.length }
              : { byteLength: bytes.length, uri: `data:application/octet-stream;base64,${fromByteArray(bytes)}` },
          ],
        }
      : {}),
  };
  const notes: string[] = [];
  if (tally.exact > 0) notes.push(`${tally.exact} tracks are written key for key.`);
  if (tally.sampled > 0)
    notes.push(
      `${tally.sampled} tracks are sampled at every frame: glTF keeps rotations as quaternions and has no passes, follows, weighted handles or loops.`,
    );
  if (sampled.sheared.size > 0)
    notes.push(
      `${sampled.sheared.size} controls follow across scaled parents, which shears them; glTF keeps no shear, and the nearest turn is written.`,
    );
  return { bytes: binary ? toGlb(json, bytes) : encodeText(JSON.stringify(json)), notes };
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

/** The binary container: a header, a JSON chunk padded with blanks, a binary chunk padded with zeros. */
function toGlb(json: unknown, bytes: Uint8Array): Uint8Array {
  const text = encodeText(JSON.stringify(json));
  const textLength = Math.ceil(text.length / 4) * 4;
  const dataLength = Math.ceil(bytes.length / 4) * 4;
  const total = 12 + 8 + textLength + (dataLength > 0 ? 8 + dataLength : 0);
  const out = new Uint8Array(total);
  const view = new DataView(out.buffer);
  view.setUint32(0, 0x46546c67, true);
  view.setUint32(4, 2, true);
  view.setUint32(8, total, true);
  view.setUint32(12, textLength, true);
  view.setUint32(16, 0x4e4f534a, true);
  out.fill(32, 20, 20 + textLength);
  out.set(text, 20);
  if (dataLength > 0) {
    view.setUint32(20 + textLength, dataLength, true);
    view.setUint32(24 + textLength, 0x004e4942, true);
    out.set(bytes, 28 + textLength);
  }
  return out;
}
