import { solveBezier } from "./bezier.ts";
import { type Curve, keyBefore, Tangent } from "./curve.ts";
import { mapRun, repeats } from "./runOn.ts";
import { autoEndSlope, autoSlope } from "./tangents.ts";

/** How something changes with the columns of a curve. */
export interface CurveSlope {
  readonly times: Float64Array;
  readonly values: Float64Array;
  readonly slopeIn: Float64Array;
  readonly slopeOut: Float64Array;
  readonly weightIn: Float64Array;
  readonly weightOut: Float64Array;
}

export function makeCurveSlope(keys: number): CurveSlope {
  const column = () => new Float64Array(keys);
  return { times: column(), values: column(), slopeIn: column(), slopeOut: column(), weightIn: column(), weightOut: column() };
}

/** Nothing changes with anything any more. */
export function clearCurveSlope({ times, values, slopeIn, slopeOut, weightIn, weightOut }: CurveSlope): void {
  for (const column of [times, values, slopeIn, slopeOut, weightIn, weightOut]) column.fill(0);
}

/**
 * Something changes by `by` for each unit of the curve's value at a time: add what that means for the curve's columns,
 * each taken by itself. The derivative of `sampleCurve`; at a stepped key's own time there is none, and the side after it
 * is taken.
 */
export function addSample(out: CurveSlope, curve: Curve, time: number, by: number): void {
  const { times } = curve;
  const last = times.length - 1;
  if (last < 0 || by === 0) return;
  if (time >= times[0] && time <= times[last]) addWithin(out, curve, time, by);
  else addOutside(out, curve, time, by);
}

function addOutside(out: CurveSlope, curve: Curve, time: number, by: number): void {
  const { times, values } = curve;
  const last = times.length - 1;
  const before = time < times[0];
  const run = before ? curve.runIn : curve.runOut;
  const edge = before ? 0 : last;
  if (run.kind === "straight") {
    const slope = before ? curve.slopeIn[0] : curve.slopeOut[last];
    out.values[edge] += by;
    (before ? out.slopeIn : out.slopeOut)[edge] += by * (time - times[edge]);
    out.times[edge] -= by * slope;
    return;
  }
  if (!repeats(run) || times[last] <= times[0]) {
    out.values[edge] += by;
    return;
  }
  const place = mapRun(curve, time);
  if (run.kind === "travel") {
    const rounds = values[last] === values[0] ? travelRounds(curve, time) : place.offset / (values[last] - values[0]);
    out.values[last] += by * rounds;
    out.values[0] -= by * rounds;
  }
  addWithin(out, curve, place.time, by);
}

/** How many rounds lie between a time and the keys, with the sign of the way there. */
function travelRounds(curve: Curve, time: number): number {
  const values = curve.values.slice();
  values[values.length - 1] = values[0] + 1;
  return mapRun({ ...curve, values }, time).offset;
}

/** The last key at or before a time within the keys, where it would be among even ones before it is searched for. */
function segmentAt(times: Float64Array, time: number): number {
  const last = times.length - 1;
  const guess = Math.floor(((time - times[0]) / (times[last] - times[0])) * last);
  return times[guess] <= time && time < times[guess + 1] ? guess : keyBefore(times, time);
}

function addWithin(out: CurveSlope, curve: Curve, time: number, by: number): void {
  const { times, values, slopeIn, slopeOut, weightIn, weightOut, kindIn, kindOut } = curve;
  const last = times.length - 1;
  const i = Math.min(segmentAt(times, time), last - 1);
  if (last === 0 || time === times[last]) {
    out.values[last] += by;
    return;
  }
  if (kindOut[i] === Tangent.stepped || (kindIn[i + 1] === Tangent.stepped && time === times[i])) {
    out.values[i] += by;
    return;
  }
  if (kindIn[i + 1] === Tangent.stepped) {
    out.values[i + 1] += by;
    return;
  }
  const [v0, v1] = [values[i], values[i + 1]];
  const length = times[i + 1] - times[i];
  const s = (time - times[i]) / length;
  if (kindOut[i] === Tangent.linear && kindIn[i + 1] === Tangent.linear) {
    const chord = (v1 - v0) / length;
    out.values[i] += by * (1 - s);
    out.values[i + 1] += by * s;
    out.times[i] += by * chord * (s - 1);
    out.times[i + 1] -= by * chord * s;
    return;
  }
  const [m0, m1, a, b] = [slopeOut[i], slopeIn[i + 1], weightOut[i], weightIn[i + 1]];
  const u = solveBezier(a, 1 - b, s);
  const r = 1 - u;
  const [b1, b2] = [3 * u * r * r, 3 * u * u * r];
  const [y1, y2] = [v0 + a * length * m0, v1 - b * length * m1];
  const rise = 3 * r * r * (y1 - v0) + 6 * u * r * (y2 - y1) + 3 * u * u * (v1 - y2);
  const pace = 3 * r * r * a + 6 * u * r * (1 - b - a) + 3 * u * u * b;
  // How the value changes with the share of the segment's time that has gone by.
  const steep = rise / Math.max(pace, 1e-12);
  out.values[i] += by * (r * r * r + b1);
  out.values[i + 1] += by * (u * u * u + b2);
  out.slopeOut[i] += by * b1 * a * length;
  out.slopeIn[i + 1] -= by * b2 * b * length;
  out.weightOut[i] += by * b1 * (length * m0 - steep);
  out.weightIn[i + 1] += by * b2 * (steep - length * m1);
  const longer = b1 * a * m0 - b2 * b * m1;
  out.times[i] += by * ((steep * (s - 1)) / length - longer);
  out.times[i + 1] += by * (longer - (steep * s) / length);
}

/**
 * Slopes that follow from times and values (every kind but free) hand what they mean on to those, so that `times` and
 * `values` say how something changes when the curve is settled anew. The derivative of `settle`.
 */
export function settleSlope(out: CurveSlope, curve: Curve): void {
  const { times, kindIn, kindOut } = curve;
  for (let i = 0; i < times.length; i++) {
    if (kindIn[i] !== Tangent.free) handOn(out, curve, i, "in", out.slopeIn[i]);
    if (kindOut[i] !== Tangent.free) handOn(out, curve, i, "out", out.slopeOut[i]);
  }
  for (let i = 0; i < times.length; i++) {
    if (kindIn[i] !== Tangent.free) out.slopeIn[i] = 0;
    if (kindOut[i] !== Tangent.free) out.slopeOut[i] = 0;
    // Handles of auto tangents are always a third.
    if (kindIn[i] === Tangent.auto) out.weightIn[i] = 0;
    if (kindOut[i] === Tangent.auto) out.weightOut[i] = 0;
  }
}

function handOn(out: CurveSlope, curve: Curve, i: number, side: "in" | "out", by: number): void {
  const { times } = curve;
  const last = times.length - 1;
  const kind = side === "in" ? curve.kindIn[i] : curve.kindOut[i];
  if (by === 0 || last < 1 || kind === Tangent.flat || kind === Tangent.stepped) return;
  if (kind === Tangent.linear) {
    const k = side === "in" ? Math.max(0, i - 1) : Math.min(last - 1, i);
    addChord(out, curve, k, k + 1, by);
  } else if (kind === Tangent.smooth || last === 1) addChord(out, curve, Math.max(0, i - 1), Math.min(last, i + 1), by);
  else if (i === 0) addAuto(out, curve, autoEndSlope, 0, 1, by);
  else if (i === last) addAuto(out, curve, autoEndSlope, last - 1, last - 2, by);
  else addAuto(out, curve, autoSlope, i - 1, i, by);
}

/** The slope of the straight line between two keys changes something by `by`. */
function addChord(out: CurveSlope, { times, values }: Curve, a: number, b: number, by: number): void {
  const length = times[b] - times[a];
  const chord = (values[b] - values[a]) / length;
  out.values[b] += by / length;
  out.values[a] -= by / length;
  out.times[b] -= (by * chord) / length;
  out.times[a] += (by * chord) / length;
}

/** A slope worked out from two segments: their lengths and chords, whose parts are found by small steps of four plain numbers. */
function addAuto(out: CurveSlope, curve: Curve, rule: typeof autoSlope, first: number, second: number, by: number): void {
  const { times, values } = curve;
  const length = (k: number) => times[k + 1] - times[k];
  const chord = (k: number) => (values[k + 1] - values[k]) / length(k);
  const numbers: [number, number, number, number] = [length(first), chord(first), length(second), chord(second)];
  const size = [numbers[0], Math.abs(numbers[1]), numbers[2], Math.abs(numbers[3])];
  const part = (n: number) => {
    const step = 1e-5 * size[n];
    if (step === 0) return 0;
    const [more, less] = [numbers.slice() as typeof numbers, numbers.slice() as typeof numbers];
    more[n] += step;
    less[n] -= step;
    return (rule(...more) - rule(...less)) / (2 * step);
  };
  for (const [n, k] of [
    [0, first],
    [2, second],
  ]) {
    const longer = by * part(n);
    out.times[k + 1] += longer;
    out.times[k] -= longer;
    addChord(out, curve, k, k + 1, by * part(n + 1));
  }
}
