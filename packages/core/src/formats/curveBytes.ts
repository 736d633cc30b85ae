import { type Curve, HOLD, type RunOn, THIRD, Tangent } from "../curve/curve.ts";
import { settle } from "../curve/tangents.ts";
import { KneaderError } from "../errors.ts";

/**
 * A curve as bytes, for saving quickly: a header, then whole columns. What is the same for all keys, or
 * follows from the kinds, is left out; reading gives back the same bits.
 *
 * Header, little-endian: u32 mark, u32 count, u32 flags, u32 run-in, u32 run-out (kind in the low byte,
 * rounds above), u32 zero. Then Float64 columns, then bytes.
 */
const MARK = 0x31764e4b;
const HEADER = 24;
const EVEN_TIMES = 1;
const FREE_SLOPES = 2;
const WEIGHTS = 4;
const KINDS = 8;
const runKinds = ["hold", "straight", "repeat", "travel", "pingpong"] as const;

const packRun = (run: RunOn) => runKinds.indexOf(run.kind) | (run.rounds << 8);
const unpackRun = (packed: number): RunOn => {
  const kind = runKinds[packed & 255];
  if (!kind) throw broken("an unknown run-in or run-out");
  return kind === "hold" ? HOLD : { kind, rounds: packed >>> 8 };
};

function broken(what: string): KneaderError {
  return new KneaderError("json-syntax", `A saved curve is damaged: ${what}.`);
}

export function curveToBytes(curve: Curve): ArrayBuffer {
  const { times, values, kindIn, kindOut, weightIn, weightOut } = curve;
  const n = times.length;
  let flags = EVEN_TIMES;
  for (let i = 1; i < n; i++)
    if (times[i] !== times[0] + i) {
      flags &= ~EVEN_TIMES;
      break;
    }
  for (let i = 0; i < n; i++) {
    if (kindIn[i] === Tangent.free || kindOut[i] === Tangent.free) flags |= FREE_SLOPES;
    if (weightIn[i] !== THIRD || weightOut[i] !== THIRD) flags |= WEIGHTS;
    if (kindIn[i] !== kindIn[0] || kindOut[i] !== kindOut[0]) flags |= KINDS;
  }
  const columns = [values];
  if ((flags & EVEN_TIMES) === 0) columns.push(times);
  if (flags & FREE_SLOPES) columns.push(curve.slopeIn, curve.slopeOut);
  if (flags & WEIGHTS) columns.push(weightIn, weightOut);
  const floats = columns.length * n + ((flags & EVEN_TIMES) !== 0 ? 1 : 0);
  const kindBytes = (flags & KINDS) !== 0 ? 2 * n : 2;
  const buffer = new ArrayBuffer(HEADER + floats * 8 + kindBytes);
  new Uint32Array(buffer, 0, 6).set([MARK, n, flags, packRun(curve.runIn), packRun(curve.runOut), 0]);
  const data = new Float64Array(buffer, HEADER, floats);
  columns.forEach((column, i) => {
    data.set(column, i * n);
  });
  if (flags & EVEN_TIMES) data[floats - 1] = times[0];
  const bytes = new Uint8Array(buffer, HEADER + floats * 8);
  if (flags & KINDS) {
    bytes.set(kindIn);
    bytes.set(kindOut, n);
  } else bytes.set([kindIn[0], kindOut[0]]);
  return buffer;
}

export function curveFromBytes(buffer: ArrayBuffer): Curve {
  if (buffer.byteLength < HEADER) throw broken("it is too short");
  const [mark, n, flags, runIn, runOut] = new Uint32Array(buffer, 0, 6);
  if (mark !== MARK) throw broken("it does not begin as a curve does");
  const slopes = (flags & FREE_SLOPES) !== 0;
  const weights = (flags & WEIGHTS) !== 0;
  const even = (flags & EVEN_TIMES) !== 0;
  const columns = 1 + (even ? 0 : 1) + (slopes ? 2 : 0) + (weights ? 2 : 0);
  const floats = columns * n + (even ? 1 : 0);
  const kindBytes = (flags & KINDS) !== 0 ? 2 * n : 2;
  if (n === 0 || buffer.byteLength !== HEADER + floats * 8 + kindBytes) throw broken("its length is wrong");
  const data = new Float64Array(buffer, HEADER, floats);
  const bytes = new Uint8Array(buffer, HEADER + floats * 8);
  let next = 0;
  const column = () => data.slice(next * n, ++next * n);
  const constant = (value: number) => new Float64Array(n).fill(value);
  const values = column();
  const times = even ? Float64Array.from({ length: n }, (_, i) => data[floats - 1] + i) : column();
  const slopeIn = slopes ? column() : constant(0);
  const slopeOut = slopes ? column() : constant(0);
  const weightIn = weights ? column() : constant(THIRD);
  const weightOut = weights ? column() : constant(THIRD);
  const each = (flags & KINDS) !== 0;
  const kindIn = each ? bytes.slice(0, n) : new Uint8Array(n).fill(bytes[0]);
  const kindOut = each ? bytes.slice(n, 2 * n) : new Uint8Array(n).fill(bytes[1]);
  for (let i = 0; i < n; i++)
    if (!Number.isFinite(values[i]) || !Number.isFinite(times[i])) throw broken("it holds a value that is no number");
  return settle({
    times,
    values,
    slopeIn,
    slopeOut,
    weightIn,
    weightOut,
    kindIn,
    kindOut,
    runIn: unpackRun(runIn),
    runOut: unpackRun(runOut),
  });
}
