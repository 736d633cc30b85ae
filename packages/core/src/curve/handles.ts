import { type Curve, isBroken, keyAt, Tangent, THIRD } from "./curve.ts";
import { settle } from "./tangents.ts";

/** What can be done to the handles of a key without choosing a kind of tangent. */
export type HandleWork = "join" | "break" | "even" | "thirds";

interface Columns {
  slopeIn: Float64Array;
  slopeOut: Float64Array;
  weightIn: Float64Array;
  weightOut: Float64Array;
  kindIn: Uint8Array;
  kindOut: Uint8Array;
}

const STEP = new Float64Array(1);
const BITS = new BigInt64Array(STEP.buffer);

/** The double next to a number: as near as two slopes can be and not be one. */
function beside(value: number): number {
  STEP[0] = value;
  BITS[0] += 1n;
  return value === 0 ? Number.MIN_VALUE : STEP[0];
}

const works: Record<HandleWork, (curve: Curve, i: number, c: Columns) => void> = {
  /** Both sides get the slope half-way between their directions' slopes, so that the curve runs on smoothly. */
  join(curve, i, c) {
    if (!isBroken(keyAt(curve, i)) || curve.kindOut[i] === Tangent.stepped) return;
    c.slopeIn[i] = c.slopeOut[i] = (curve.slopeIn[i] + curve.slopeOut[i]) / 2;
    c.kindIn[i] = c.kindOut[i] = Tangent.free;
  },
  /** Each side goes its own way from now on; the curve stays. A key is broken when its two slopes are not one. */
  break(curve, i, c) {
    if (isBroken(keyAt(curve, i))) return;
    c.kindIn[i] = c.kindOut[i] = Tangent.free;
    c.slopeOut[i] = beside(curve.slopeIn[i]);
  },
  /** Both handles equally long in frames: half of what they were together, within their segments. */
  even(curve, i, c) {
    const { times } = curve;
    if (i === 0 || i === times.length - 1) return;
    const [before, after] = [times[i] - times[i - 1], times[i + 1] - times[i]];
    const length = Math.min(before, after, (curve.weightIn[i] * before + curve.weightOut[i] * after) / 2);
    c.weightIn[i] = length / before;
    c.weightOut[i] = length / after;
    // Auto tangents go back to a third by themselves, so these are held where they point.
    if (c.kindIn[i] === Tangent.auto) c.kindIn[i] = Tangent.free;
    if (c.kindOut[i] === Tangent.auto) c.kindOut[i] = Tangent.free;
  },
  /** Handles a third of their segment: plain, unweighted. */
  thirds(_, i, c) {
    c.weightIn[i] = c.weightOut[i] = THIRD;
  },
};

/** Join, break, even or unweight the handles of keys. */
export function workHandles(curve: Curve, indices: Iterable<number>, work: HandleWork): Curve {
  const columns: Columns = {
    slopeIn: curve.slopeIn.slice(),
    slopeOut: curve.slopeOut.slice(),
    weightIn: curve.weightIn.slice(),
    weightOut: curve.weightOut.slice(),
    kindIn: curve.kindIn.slice(),
    kindOut: curve.kindOut.slice(),
  };
  for (const i of indices) works[work](curve, i, columns);
  return settle({ ...curve, ...columns });
}
