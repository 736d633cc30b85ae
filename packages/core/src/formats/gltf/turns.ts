import { type Curve, type Key, Tangent, THIRD } from "../../curve/curve.ts";
import { curveFromKeys, linearCurve, linearFrame } from "../../curve/make.ts";
import { settle } from "../../curve/tangents.ts";
import { DEG, eulerFromQuat, nearestEuler, quatAngle, quatFromEuler, quatMultiply, quatPower } from "../../maths/rotation.ts";
import { channelKey, type Control, rotateChannels } from "../../model/rig.ts";
import { splineAt } from "./spline.ts";
import type { Track } from "./track.ts";

/** Rotations may leave the file's path by so many degrees. */
export const TURN_TOLERANCE = 0.01;

/** How a rotation track came over: with its own keys, with more of them, or so quick within a frame that only frames agree. */
export type Kept = "keys" | "more keys" | "too quick";

type Angles = [number, number, number];

/**
 * The turns of a track as three curves of degrees. Its keys stay at their times, with the tangents its path has there;
 * where three curves between two of them would leave that path by more than `TURN_TOLERANCE`, keys are put between, each
 * as far on as holds. Quaternions between keys have no exact curve in angles.
 */
export function turnCurves(control: Control, track: Track): { curves: Record<string, Curve>; kept: Kept } {
  if (track.kind === "STEP" || !hasBetween(track)) return { curves: plainCurves(control, track), kept: "keys" };
  const path = new TurnPath(control, track);
  const keys: Key[][] = [[], [], []];
  let kept: Kept = "keys";
  const { times } = track;
  for (let i = 0; i < times.length - 1; i++) {
    let at = times[i];
    while (at < times[i + 1]) {
      const span = furthest(path, i, at, times[i + 1]);
      const isQuick = span.end - span.start <= 1 && path.error(i, span) > TURN_TOLERANCE;
      if (isQuick) kept = "too quick";
      else if (span.end < times[i + 1] && kept === "keys") kept = "more keys";
      putSpan(keys, span);
      path.goOn(span);
      at = span.end;
    }
  }
  return {
    curves: Object.fromEntries(rotateChannels.map((channel, axis) => [channelKey(control.id, channel), curveFromKeys(keys[axis])])),
    kept,
  };
}

/** Between keys further apart than a frame, or on a spline, a quaternion's path is not a line of angles. */
function hasBetween(track: Track): boolean {
  if (track.times.length < 2) return false;
  if (track.kind === "CUBICSPLINE") return true;
  for (let i = 1; i < track.times.length; i++) if (track.times[i] - track.times[i - 1] > 1 + 1e-6) return true;
  return false;
}

/** Values of a key's quaternion start here among a track's numbers: a spline has its in-tangent before it. */
const valueAt = (track: Track, i: number) => (track.kind === "CUBICSPLINE" ? i * 12 + 4 : i * 4);

/** Curves with the track's keys and nothing to find between them. */
function plainCurves(control: Control, track: Track): Record<string, Curve> {
  const { times } = track;
  const turn = new Turn(control);
  const columns = rotateChannels.map(() => new Float64Array(times.length));
  const q = new Float64Array(4);
  let near: Angles = [0, 0, 0];
  for (let i = 0; i < times.length; i++) {
    for (let k = 0; k < 4; k++) q[k] = track.values[valueAt(track, i) + k];
    near = turn.angles(q, near);
    for (let axis = 0; axis < 3; axis++) columns[axis][i] = near[axis];
  }
  const frame = linearFrame(times);
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

/** Turns of a node as the angles of its control. */
class Turn {
  private readonly control: Control;
  private readonly rest: Float64Array;
  private readonly own = new Float64Array(4);
  private readonly euler = [0, 0, 0];

  constructor(control: Control) {
    this.control = control;
    const [x, y, z, w] = control.restTurn;
    this.rest = Float64Array.of(-x, -y, -z, w);
  }

  /** The turn on top of the rest pose, from a quaternion of any length. */
  onTop(q: Float64Array): Float64Array {
    const length = Math.hypot(q[0], q[1], q[2], q[3]) || 1;
    for (let k = 0; k < 4; k++) q[k] /= length;
    quatMultiply(this.own, 0, this.rest, 0, q, 0);
    return this.own;
  }

  /** Its angles in degrees, near others. */
  angles(q: Float64Array, near: Angles): Angles {
    eulerFromQuat(this.euler, 0, this.onTop(q), 0, this.control.order);
    return nearestEuler(
      this.euler.map((angle) => angle / DEG),
      near,
      this.control.order,
    );
  }
}

interface Span {
  readonly start: number;
  readonly end: number;
  readonly from: Angles;
  readonly to: Angles;
  /** Degrees a frame where it begins and ends. */
  readonly slopeFrom: Angles;
  readonly slopeTo: Angles;
}

/** The path of a rotation track in angles that go on without a jump. */
class TurnPath {
  private readonly control: Control;
  private readonly track: Track;
  private readonly turn: Turn;
  private readonly q = new Float64Array(4);
  private readonly r = new Float64Array(4);
  private near: Angles = [0, 0, 0];

  constructor(control: Control, track: Track) {
    this.control = control;
    this.track = track;
    this.turn = new Turn(control);
  }

  /** The stretch between two times within a segment, its angles going on from where the one before ended. */
  span(i: number, start: number, end: number): Span {
    const from = this.anglesAt(i, start, this.near);
    const step = (end - start) * 1e-4;
    const slope = (at: number, by: number, a: Angles): Angles => {
      const b = this.anglesAt(i, at + by, a);
      const c = this.anglesAt(i, at + 2 * by, b);
      return a.map((value, k) => (-3 * value + 4 * b[k] - c[k]) / (2 * by)) as Angles;
    };
    let to = from;
    // Small steps, so that the nearest angles are those the path comes by.
    const steps = Math.max(1, Math.ceil((end - start) * 2));
    for (let n = 1; n <= steps; n++) to = this.anglesAt(i, start + ((end - start) * n) / steps, to);
    return { start, end, from, to, slopeFrom: slope(start, step, from), slopeTo: slope(end, -step, to) };
  }

  /** The degrees by which three cubic curves over a span leave the path at the most, looked at four times a frame. */
  error(i: number, span: Span): number {
    const { start, end, from, to, slopeFrom, slopeTo } = span;
    const h = end - start;
    const steps = Math.max(4, Math.ceil(h * 4));
    let worst = 0;
    for (let n = 1; n < steps; n++) {
      const x = n / steps;
      const [x2, x3] = [x * x, x * x * x];
      const [a, b, c, d] = [2 * x3 - 3 * x2 + 1, h * (x3 - 2 * x2 + x), 3 * x2 - 2 * x3, h * (x3 - x2)];
      const [ex, ey, ez] = from.map((value, k) => (a * value + b * slopeFrom[k] + c * to[k] + d * slopeTo[k]) * DEG);
      quatFromEuler(this.r, 0, ex, ey, ez, this.control.order);
      turnAt(this.q, this.track, i, start + h * x);
      worst = Math.max(worst, quatAngle(this.r, 0, this.turn.onTop(this.q), 0));
    }
    return worst;
  }

  /** The next stretch goes on from here. */
  goOn({ to }: Span): void {
    this.near = to;
  }

  private anglesAt(i: number, time: number, near: Angles): Angles {
    turnAt(this.q, this.track, i, time);
    return this.turn.angles(this.q, near);
  }
}

/** The longest span from `start` within a segment: to its end, or to the last whole frame to which it holds. */
function furthest(path: TurnPath, i: number, start: number, end: number): Span {
  const whole = path.span(i, start, end);
  const holds = (span: Span) => path.error(i, span) <= TURN_TOLERANCE;
  const first = Math.floor(start) + 1;
  if (first >= end || holds(whole)) return whole;
  let [low, high] = [first, Math.ceil(end) - 1];
  // What holds far also holds nearer, for all that matters.
  while (low < high) {
    const middle = Math.ceil((low + high) / 2);
    if (holds(path.span(i, start, middle))) low = middle;
    else high = middle - 1;
  }
  return path.span(i, start, low);
}

function putSpan(keys: Key[][], { start, end, from, to, slopeFrom, slopeTo }: Span): void {
  keys.forEach((list, axis) => {
    const last = list[list.length - 1];
    const free = { weightIn: THIRD, weightOut: THIRD, kindIn: Tangent.free, kindOut: Tangent.free };
    if (last?.time === start) list[list.length - 1] = { ...last, slopeOut: slopeFrom[axis] };
    else list.push({ time: start, value: from[axis], slopeIn: slopeFrom[axis], slopeOut: slopeFrom[axis], ...free });
    list.push({ time: end, value: to[axis], slopeIn: slopeTo[axis], slopeOut: slopeTo[axis], ...free });
  });
}

const back = new Float64Array(4);

/** The track's quaternion at a time in a segment: spherical between LINEAR keys, cubic per component otherwise. */
function turnAt(out: Float64Array, track: Track, i: number, time: number): void {
  const { times, values, kind, fps } = track;
  const h = times[i + 1] - times[i];
  const x = (time - times[i]) / h;
  if (kind === "LINEAR") {
    back.set([-values[i * 4], -values[i * 4 + 1], -values[i * 4 + 2], values[i * 4 + 3]]);
    quatMultiply(back, 0, back, 0, values, i * 4 + 4);
    quatPower(back, 0, back, 0, x);
    quatMultiply(out, 0, values, i * 4, back, 0);
    return;
  }
  splineAt(out, values, i, x, h / fps);
}
