import { sayBaked } from "../sayBaked.ts";
import type { Curve } from "../../curve/curve.ts";
import { makePlayer } from "../../evaluate/makePlayer.ts";
import { type ChannelKey, channelKey, type Control, moveChannels, restValue, rotateChannels, scaleChannels } from "../../model/rig.ts";
import type { Shot } from "../../model/shot.ts";
import { framesPerSecond } from "../../model/rate.ts";
import { activePasses } from "../../passes/active.ts";
import { changedBy } from "../../passes/members.ts";
import { countedWord } from "../../words.ts";
import { carriedControls, LOCAL, type SampledShot, sampleShot } from "../sampled.ts";
import { type ExactKeys, exactKeys, exactTurns, type Interpolation } from "./exactKeys.ts";

/** One property of a control over time, as glTF says it. */
export interface MotionTrack {
  readonly control: string;
  readonly path: "translation" | "rotation" | "scale" | "weights";
  readonly kind: Interpolation;
  readonly seconds: Float32Array;
  /** `width` numbers a key; three times as many on a spline. */
  readonly values: Float32Array;
}

export interface MotionChoices {
  /** Only these controls. */
  readonly controls?: readonly string[] | null;
  /** A sample at every frame, even where keys would say the same. */
  readonly allSampled?: boolean;
  /** Samples a second; the shot's rate when left out. */
  readonly rate?: number;
  /** By control id, the control in whose space it is wanted where that is not the one above it; null for the world. */
  readonly under?: ReadonlyMap<string, string | null>;
  /** By control, the channels of its mesh's shapes, in order. */
  readonly shapes?: Readonly<Record<string, readonly string[]>>;
  /** The frame of second 0, unless something is keyed before it. */
  readonly origin?: number;
  /** Told now and then what share of the motion is read, 0..1. */
  progress?(share: number): void;
}

export interface ShotMotion {
  readonly tracks: readonly MotionTrack[];
  /** The frame of second 0. */
  readonly origin: number;
  /** Scales that never change: they stand in the nodes themselves. */
  readonly still: ReadonlyMap<string, readonly number[]>;
  /** What it could not say exactly, in sentences. */
  readonly notes: readonly string[];
}

/** The motion of a shot's controls as tracks: key for key where that says all, sampled where not. */
export function motionOf(shot: Shot, choices: MotionChoices = {}): ShotMotion {
  return new MotionReader(shot, choices).read();
}

class MotionReader {
  private readonly tracks: MotionTrack[] = [];
  private readonly tally = { exact: 0, sampled: 0 };
  private readonly sampled: SampledShot;
  private readonly origin: number;
  private readonly still: ReadonlyMap<string, number[]>;
  private readonly shot: Shot;
  private readonly choices: MotionChoices;
  private readonly fps: number;
  private readonly changed: ReadonlySet<ChannelKey>;
  private readonly led: ReadonlySet<string>;
  /** The seconds of every sample. */
  private readonly every: Float32Array;

  constructor(shot: Shot, choices: MotionChoices) {
    this.shot = shot;
    this.choices = choices;
    this.fps = framesPerSecond(shot.rate);
    this.sampled = sampleShot(shot, { step: this.fps / (choices.rate ?? this.fps), under: choices.under, progress: choices.progress });
    this.changed = new Set(activePasses(shot).flatMap((pass) => changedBy(shot, pass)));
    this.led = carriedControls(shot);
    this.still = new Map(
      shot.rig.controls.flatMap((control) => {
        const moved = this.isTouched(control, scaleChannels);
        const scale = moved ? null : constantScale(shot, control);
        return scale ? [[control.id, scale] as const] : [];
      }),
    );
    let origin = choices.origin ?? shot.range.start;
    origin = Math.min(origin, shot.range.start);
    // A single key says a value, not when something begins.
    for (const key in shot.base) if (shot.base[key].times.length > 1) origin = Math.min(origin, shot.base[key].times[0]);
    this.origin = Math.floor(origin);
    this.every = Float32Array.from(this.sampled.times, (time) => (time - this.origin) / this.fps);
  }

  read(): ShotMotion {
    const { controls } = this.choices;
    const wanted = controls ? new Set(controls) : null;
    this.shot.rig.controls.forEach((control, at) => {
      if (wanted && !wanted.has(control.id)) return;
      this.readVectors(control, at, "translation");
      this.readTurns(control, at);
      this.readVectors(control, at, "scale");
      this.readShapes(control);
    });
    return { tracks: this.tracks, origin: this.origin, still: this.still, notes: this.notes() };
  }

  /** Does anything besides base motion move it? */
  private isTouched(control: Control, names: readonly string[]): boolean {
    if (this.led.has(control.id) || this.choices.under?.has(control.id)) return true;
    return names.some((channel) => this.changed.has(channelKey(control.id, channel)));
  }

  private curvesOf(control: Control, names: readonly string[]): (Curve | undefined)[] {
    return names.map((channel) => this.shot.base[channelKey(control.id, channel)]);
  }

  private put(control: Control, path: MotionTrack["path"], kind: Interpolation, seconds: Float32Array, values: Float32Array): void {
    this.tracks.push({ control: control.id, path, kind, seconds, values });
  }

  private putSampled(control: Control, path: MotionTrack["path"], values: Float32Array, width: number): void {
    const resting = isStill(values, width);
    if (!resting) this.tally.sampled++;
    const seconds = resting ? this.every.slice(0, 1) : this.every;
    this.put(control, path, resting ? "STEP" : "LINEAR", seconds, resting ? values.slice(0, width) : values);
  }

  private putExact(control: Control, path: MotionTrack["path"], { times, kind }: ExactKeys, values: Float32Array): void {
    this.tally.exact++;
    this.put(
      control,
      path,
      kind,
      Float32Array.from(times, (t) => (t - this.origin) / this.fps),
      values,
    );
  }

  private readVectors(control: Control, at: number, path: "translation" | "scale"): void {
    if (path === "scale" && this.still.has(control.id)) return;
    const names = path === "translation" ? moveChannels : scaleChannels;
    const curves = this.curvesOf(control, names);
    const touched = this.isTouched(control, names);
    if (!touched && curves.every((curve) => curve === undefined)) return;
    const exact = touched || this.choices.allSampled ? null : exactKeys(curves);
    const offset = path === "translation" ? control.rest : [0, 0, 0];
    if (exact) this.putExact(control, path, exact, keyedValues(curves, exact, names, offset, 1, this.fps));
    else this.putSampled(control, path, this.sampledNumbers(at, path === "translation" ? 0 : 7, 3), 3);
  }

  private readTurns(control: Control, at: number): void {
    const curves = this.curvesOf(control, rotateChannels);
    const touched = this.isTouched(control, rotateChannels);
    if (!touched && curves.every((curve) => curve === undefined)) return;
    // A key at nearly every frame says no more than a sample at every frame does, which is quicker found.
    const isDense = curves.some(
      (curve) => curve !== undefined && curve.times.length > 0.9 * this.sampled.times.length && curve.times.length > 24,
    );
    const exact = touched || isDense || this.choices.allSampled ? null : exactTurns(control, curves, this.fps);
    if (exact) this.putExact(control, "rotation", exact.keys, exact.values);
    else this.putSampled(control, "rotation", onOneSide(this.sampledNumbers(at, 3, 4)), 4);
  }

  private readShapes(control: Control): void {
    const names = this.choices.shapes?.[control.id] ?? [];
    if (names.length === 0) return;
    const keys = names.map((channel) => channelKey(control.id, channel));
    const touched = keys.some((key) => this.changed.has(key));
    const curves = this.curvesOf(control, names);
    if (!touched && curves.every((curve) => curve === undefined)) return;
    const exact = touched || this.choices.allSampled ? null : exactKeys(curves);
    if (exact) {
      const offset = names.map(() => 0);
      this.putExact(control, "weights", exact, keyedValues(curves, exact, names, offset, 0.01, this.fps));
      return;
    }
    const player = makePlayer(this.shot);
    const values = new Float32Array(this.sampled.times.length * names.length);
    this.sampled.times.forEach((time, n) => {
      player.readValues(time);
      keys.forEach((key, k) => {
        values[n * names.length + k] = player.values[player.channelIndex.get(key) as number] / 100;
      });
    });
    this.putSampled(control, "weights", values, names.length);
  }

  /** Some of the ten numbers of a control at each sample. */
  private sampledNumbers(at: number, from: number, width: number): Float32Array {
    const { times, locals } = this.sampled;
    const count = this.shot.rig.controls.length;
    const out = new Float32Array(times.length * width);
    for (let n = 0; n < times.length; n++) for (let k = 0; k < width; k++) out[n * width + k] = locals[(n * count + at) * LOCAL + from + k];
    return out;
  }

  private notes(): string[] {
    const { exact, sampled } = this.tally;
    const { sheared } = this.sampled;
    const notes: string[] = [];
    if (exact > 0) notes.push(`${countedWord(exact, "track")} written key for key.`);
    if (sampled > 0)
      notes.push(
        `${countedWord(sampled, "track")} sampled at every frame: glTF keeps rotations as quaternions and has no passes, constraints, weighted handles or loops.`,
      );
    const baked = this.shot.rig.controls.filter(({ id }) => this.led.has(id));
    if (baked.length > 0) notes.push(sayBaked(baked));
    if (sheared.size > 0)
      notes.push(
        `${countedWord(sheared.size, "control")} ${sheared.size === 1 ? "is" : "are"} sheared by scaled controls above; glTF keeps no shear, and the nearest turn is written.`,
      );
    return notes;
  }
}

function keyedValues(
  curves: readonly (Curve | undefined)[],
  exact: ExactKeys,
  names: readonly string[],
  resting: readonly number[],
  factor: number,
  fps: number,
): Float32Array {
  const n = exact.times.length;
  const cubic = exact.kind === "CUBICSPLINE";
  const width = names.length;
  const out = new Float32Array(n * width * (cubic ? 3 : 1));
  for (let i = 0; i < n; i++)
    curves.forEach((curve, k) => {
      const many = curve !== undefined && curve.times.length > 1;
      const value = resting[k] + factor * (curve === undefined ? restValue(names[k]) : curve.values[many ? i : 0]);
      if (!cubic) out[i * width + k] = value;
      else {
        // In-tangent, value, out-tangent; tangents in units per second.
        out[i * 3 * width + k] = many ? factor * curve.slopeIn[i] * fps : 0;
        out[i * 3 * width + width + k] = value;
        out[i * 3 * width + 2 * width + k] = many ? factor * curve.slopeOut[i] * fps : 0;
      }
    });
  return out;
}

/** Quaternions in a row, each turned to the side of the one before it. */
function onOneSide(turns: Float32Array): Float32Array {
  for (let n = 4; n < turns.length; n += 4) {
    let dot = 0;
    for (let k = 0; k < 4; k++) dot += turns[n + k] * turns[n - 4 + k];
    if (dot < 0) for (let k = 0; k < 4; k++) turns[n + k] = -turns[n + k];
  }
  return turns;
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
