import { type Curve, Tangent, THIRD } from "../../curve/curve.ts";
import { sampleCurve } from "../../curve/track.ts";
import { DEG, quatAngle, quatFromEuler, quatMultiply, quatPower } from "../../maths/rotation.ts";
import type { Control } from "../../model/rig.ts";
import { splineAt } from "./spline.ts";

export type Interpolation = "STEP" | "LINEAR" | "CUBICSPLINE";

/** Keys that say all there is of a group of curves. */
export interface ExactKeys {
  readonly times: Float64Array;
  readonly kind: Interpolation;
}

/** Degrees by which the keys of a rotation may miss it between them; a chain of ten adds up to less than 1e-4 of its length. */
const TURN_EXACT = 5e-4;

const isMoving = (curve: Curve | undefined): curve is Curve => curve !== undefined && curve.times.length > 1;

/** How a group of curves can be written without loss, or null when it must be sampled. */
export function exactKeys(curves: readonly (Curve | undefined)[]): ExactKeys | null {
  const moving = curves.filter(isMoving);
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

/** The turn of a control in its parent at a time, as a unit quaternion, from its three curves. */
function turnOf(out: Float64Array, control: Control, curves: readonly (Curve | undefined)[], time: number): void {
  const [x, y, z] = curves.map((curve) => (curve === undefined ? 0 : sampleCurve(curve, time)) * DEG);
  quatFromEuler(out, 0, x, y, z, control.order);
  quatMultiply(out, 0, [...control.restTurn], 0, out, 0);
}

/**
 * The keys of a rotation as quaternions, if between them they keep to the curves: in steps, on great arcs (LINEAR) or
 * on a spline; null when it must be sampled. On a spline each key has its in-tangent, value and out-tangent (per second).
 */
export function exactTurns(
  control: Control,
  curves: readonly (Curve | undefined)[],
  fps: number,
): { keys: ExactKeys; values: Float32Array } | null {
  const exact = exactKeys(curves);
  if (!exact) return null;
  const { times } = exact;
  const turns = turnsAt(control, curves, times);
  if (exact.kind === "STEP") return { keys: exact, values: Float32Array.from(turns) };
  if (isArc(control, curves, times, turns)) return { keys: { times, kind: "LINEAR" }, values: Float32Array.from(turns) };
  const spline = splineOf(control, curves, times, turns);
  if (!isSpline(control, curves, times, spline)) return null;
  // Tangents are a second's, not a frame's.
  const values = Float32Array.from(spline, (value, i) => (Math.floor(i / 4) % 3 === 1 ? value : value * fps));
  return { keys: { times, kind: "CUBICSPLINE" }, values };
}

/** Quaternions at some times, each on the side of the one before it. */
function turnsAt(control: Control, curves: readonly (Curve | undefined)[], times: Float64Array): Float64Array {
  const out = new Float64Array(times.length * 4);
  const q = new Float64Array(4);
  times.forEach((time, i) => {
    turnOf(q, control, curves, time);
    let dot = i === 0 ? 1 : 0;
    if (i > 0) for (let k = 0; k < 4; k++) dot += q[k] * out[i * 4 - 4 + k];
    for (let k = 0; k < 4; k++) out[i * 4 + k] = dot < 0 ? -q[k] : q[k];
  });
  return out;
}

/** Is the path found between all keys, looked at at every half frame and three times a segment at the least? */
function agrees(
  control: Control,
  curves: readonly (Curve | undefined)[],
  times: Float64Array,
  between: (out: Float64Array, i: number, x: number) => void,
): boolean {
  const [is, q] = [new Float64Array(4), new Float64Array(4)];
  for (let i = 0; i + 1 < times.length; i++) {
    const h = times[i + 1] - times[i];
    const steps = Math.max(4, Math.ceil(h * 2));
    for (let n = 1; n < steps; n++) {
      turnOf(is, control, curves, times[i] + (h * n) / steps);
      between(q, i, n / steps);
      const length = Math.hypot(q[0], q[1], q[2], q[3]);
      for (let k = 0; k < 4; k++) q[k] /= length;
      if (!(quatAngle(is, 0, q, 0) <= TURN_EXACT)) return false;
    }
  }
  return true;
}

function isArc(control: Control, curves: readonly (Curve | undefined)[], times: Float64Array, turns: Float64Array): boolean {
  const step = new Float64Array(4);
  return agrees(control, curves, times, (out, i, x) => {
    const o = i * 4;
    step.set([-turns[o], -turns[o + 1], -turns[o + 2], turns[o + 3]]);
    quatMultiply(step, 0, step, 0, turns, o + 4);
    quatPower(step, 0, step, 0, x);
    quatMultiply(out, 0, turns, o, step, 0);
  });
}

/** In-tangent, value and out-tangent (a frame's) of each key, tangents by differences within the segment. */
function splineOf(control: Control, curves: readonly (Curve | undefined)[], times: Float64Array, turns: Float64Array): Float64Array {
  const out = new Float64Array(times.length * 12);
  const [a, b] = [new Float64Array(4), new Float64Array(4)];
  const tangent = (o: number, i: number, by: number) => {
    turnOf(a, control, curves, times[i] + by);
    turnOf(b, control, curves, times[i] + 2 * by);
    for (const q of [a, b]) {
      let dot = 0;
      for (let k = 0; k < 4; k++) dot += q[k] * turns[i * 4 + k];
      if (dot < 0) for (let k = 0; k < 4; k++) q[k] = -q[k];
    }
    for (let k = 0; k < 4; k++) out[o + k] = (-3 * turns[i * 4 + k] + 4 * a[k] - b[k]) / (2 * by);
  };
  times.forEach((time, i) => {
    if (i > 0) tangent(i * 12, i, (times[i - 1] - time) * 1e-4);
    for (let k = 0; k < 4; k++) out[i * 12 + 4 + k] = turns[i * 4 + k];
    if (i + 1 < times.length) tangent(i * 12 + 8, i, (times[i + 1] - time) * 1e-4);
  });
  return out;
}

function isSpline(control: Control, curves: readonly (Curve | undefined)[], times: Float64Array, spline: Float64Array): boolean {
  return agrees(control, curves, times, (out, i, x) => splineAt(out, spline, i, x, times[i + 1] - times[i]));
}
