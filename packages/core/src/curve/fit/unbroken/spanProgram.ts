import { type StateSet, UNIT } from "./stateSet.ts";

/** A curve in tolerances, and between which values it may run: at sample k at 2k, half-way to the next at 2k + 1. */
export interface ScaledCurve {
  readonly y: Float64Array;
  readonly low: Float64Array;
  readonly high: Float64Array;
}

/** How far from a sample: a hair inside the tolerance, which is 1. */
const REACH = 1 - 1e-6;

/** `shares` are those of the tolerance that each sample has; all of it where they are left out. */
export function scaledCurve(samples: Float64Array, tolerance: number, shares?: Float64Array): ScaledCurve {
  const { length } = samples;
  const y = new Float64Array(length);
  const low = new Float64Array(2 * length);
  const high = new Float64Array(2 * length);
  for (let k = 0; k < length; k++) {
    y[k] = samples[k] / tolerance;
    const reach = shares ? REACH * shares[k] : REACH;
    low[2 * k] = y[k] - reach;
    high[2 * k] = y[k] + reach;
    if (k === 0) continue;
    // Calm: within the range of both samples, widened as each of them is at the least.
    const before = high[2 * k - 2] - y[k - 1];
    const room = Math.min(before, reach);
    low[2 * k - 1] = Math.min(y[k - 1], y[k]) - room;
    high[2 * k - 1] = Math.max(y[k - 1], y[k]) + room;
  }
  return { y, low, high };
}

/** No row. */
export const NONE = -100_000;
/** Rows that the end of the curve must meet are counted down from here. */
const AT_END = -1000;
/** A demand that is missed by less is met (tolerances). */
const MISSED = 1e-9;
const HALF = 0.5 / UNIT;

/**
 * The demands on one cubic, as rows of a linear programme in its four coefficients (time in `UNIT`s of frames from its
 * start): within the tolerance at each frame, calm at each half frame, its start in a set of states. A vertex of what
 * they leave: four rows that are met exactly, the inverse of their matrix, and the coefficients.
 *
 * Rows by number: j half frames from the start from above 2j and from below 2j + 1; edges of the start from −1 down, of the
 * end from −1000 down.
 */
export class SpanProgram {
  readonly curve: ScaledCurve;
  /** Sample at which the cubic begins. */
  from = 0;
  /** Its last frame, counted from there. */
  length = 0;
  /** Coefficients of the vertex. */
  readonly x = new Float64Array(4);
  /** The rows that are met exactly. */
  readonly rows = new Int32Array(4);
  /** The inverse of their matrix: column i, by which the coefficients move as row i's bound does, at 4i. */
  readonly inverse = new Float64Array(16);
  /** The row that was looked up last: its four numbers and its bound. */
  readonly row = new Float64Array(5);
  /** By how much the row found last is missed. */
  private missed = 0;
  private start: StateSet | null = null;
  private end: StateSet | null = null;
  /** Edges of the start: normal and bound, three numbers each; and of the end. */
  private readonly edges = new Float64Array(3 * 64);
  private readonly endEdges = new Float64Array(3 * 64);
  constructor(curve: ScaledCurve) {
    this.curve = curve;
  }

  /** Begin at a sample, in a set of states; `end` is where the whole curve must end. */
  begin(from: number, start: StateSet, end: StateSet | null): void {
    this.from = from;
    this.start = start;
    this.end = end;
    edgesOf(start, this.edges);
    if (end) edgesOf(end, this.endEdges);
  }

  private get endsHere(): boolean {
    return this.end !== null && this.from + this.length === this.curve.y.length - 1;
  }

  /** Look up a row. */
  look(id: number): void {
    const { row, edges, endEdges, curve, from } = this;
    if (id <= AT_END) {
      const o = 3 * (AT_END - id);
      const t = 2 * this.length * HALF;
      const [n, m] = [endEdges[o], endEdges[o + 1]];
      row[0] = n;
      row[1] = n * t + m;
      row[2] = n * t * t + 2 * m * t;
      row[3] = n * t * t * t + 3 * m * t * t;
      row[4] = endEdges[o + 2];
      return;
    }
    if (id < 0) {
      const o = 3 * (-1 - id);
      row[0] = edges[o];
      row[1] = edges[o + 1];
      row[2] = row[3] = 0;
      row[4] = edges[o + 2];
      return;
    }
    const j = id >> 1;
    const t = j * HALF;
    const isAbove = (id & 1) === 0;
    const sign = isAbove ? 1 : -1;
    row[0] = sign;
    row[1] = sign * t;
    row[2] = sign * t * t;
    row[3] = sign * t * t * t;
    row[4] = isAbove ? curve.high[2 * from + j] : -curve.low[2 * from + j];
  }

  /** The row that the coefficients miss most; half frames count only once all else is met. `NONE` when all are. */
  mostMissed(): number {
    const { length, edges, x } = this;
    this.missed = MISSED;
    let id = this.missedAlong(2, 2 * length, NONE);
    const sides = this.start?.count ?? 0;
    for (let j = 0; j < sides; j++) {
      const off = edges[3 * j] * x[0] + edges[3 * j + 1] * x[1] - edges[3 * j + 2];
      if (off > this.missed) {
        this.missed = off;
        id = -1 - j;
      }
    }
    if (this.endsHere)
      for (let j = 0; j < (this.end as StateSet).count; j++) {
        this.look(AT_END - j);
        const { row } = this;
        const off = row[0] * x[0] + row[1] * x[1] + row[2] * x[2] + row[3] * x[3] - row[4];
        if (off > this.missed) {
          this.missed = off;
          id = AT_END - j;
        }
      }
    return id === NONE ? this.missedAlong(1, 2 * length - 1, id) : id;
  }

  /** The row missed most at every other half frame of the curve, when by more than `missed`; otherwise the one that is known. */
  private missedAlong(first: number, last: number, known: number): number {
    const { curve, x } = this;
    const { low, high } = curve;
    const from = 2 * this.from;
    // What stands outside is looked up anew each time round a loop; these are not, which halves the time.
    const half = HALF;
    const x0 = x[0];
    const x1 = x[1];
    const x2 = x[2];
    const x3 = x[3];
    let worst = this.missed;
    let id = known;
    for (let j = first; j <= last; j += 2) {
      const t = j * half;
      const value = ((x3 * t + x2) * t + x1) * t + x0;
      const over = value - high[from + j];
      if (over > worst) {
        worst = over;
        id = 2 * j;
      } else if (low[from + j] - value > worst) {
        worst = low[from + j] - value;
        id = 2 * j + 1;
      }
    }
    this.missed = worst;
    return id;
  }

  /** Are the demands of the last frame alone, and half a frame before it, met? Those of the end are not looked at. */
  meetsLast(): boolean {
    const { curve, x, length } = this;
    if (this.endsHere) return false;
    for (let j = 2 * length; j >= 2 * length - 1; j--) {
      const t = j * HALF;
      const value = ((x[3] * t + x[2]) * t + x[1]) * t + x[0];
      const at = 2 * this.from + j;
      if (value - curve.high[at] > MISSED || curve.low[at] - value > MISSED) return false;
    }
    return true;
  }

  /** The first row met on the way from the vertex along a direction. */
  firstMet(d0: number, d1: number, d2: number, d3: number): number {
    const { curve, length, edges, rows, x } = this;
    const { low, high } = curve;
    const from = 2 * this.from;
    const half = HALF;
    const x0 = x[0];
    const x1 = x[1];
    const x2 = x[2];
    const x3 = x[3];
    const r0 = rows[0];
    const r1 = rows[1];
    const r2 = rows[2];
    const r3 = rows[3];
    let nearest = Number.POSITIVE_INFINITY;
    let id = NONE;
    for (let j = 1; j <= 2 * length; j++) {
      const t = j * half;
      const rate = ((d3 * t + d2) * t + d1) * t + d0;
      const value = ((x3 * t + x2) * t + x1) * t + x0;
      const isUp = rate > 0;
      const room = isUp ? high[from + j] - value : value - low[from + j];
      const size = Math.abs(rate);
      if (room < nearest * size && size > 1e-12) {
        const one = isUp ? 2 * j : 2 * j + 1;
        if (one !== r0 && one !== r1 && one !== r2 && one !== r3) {
          nearest = room / size;
          id = one;
        }
      }
    }
    const sides = this.start?.count ?? 0;
    for (let j = 0; j < sides; j++) {
      const rate = edges[3 * j] * d0 + edges[3 * j + 1] * d1;
      const room = edges[3 * j + 2] - edges[3 * j] * x0 - edges[3 * j + 1] * x1;
      const one = -1 - j;
      if (rate > 1e-12 && room < nearest * rate && one !== r0 && one !== r1 && one !== r2 && one !== r3) {
        nearest = room / rate;
        id = one;
      }
    }
    if (this.endsHere)
      for (let j = 0; j < (this.end as StateSet).count; j++) {
        const one = AT_END - j;
        if (one === r0 || one === r1 || one === r2 || one === r3) continue;
        this.look(one);
        const { row } = this;
        const rate = row[0] * d0 + row[1] * d1 + row[2] * d2 + row[3] * d3;
        const room = row[4] - row[0] * x0 - row[1] * x1 - row[2] * x2 - row[3] * x3;
        if (rate > 1e-12 && room < nearest * rate) {
          nearest = room / rate;
          id = one;
        }
      }
    return id;
  }

  /** Two edges of the start that lie as square as any, as rows. */
  squareEdges(): [number, number] {
    const { edges } = this;
    const sides = this.start?.count ?? 0;
    let most = -1;
    let other = 1;
    for (let j = 1; j < sides; j++) {
      const cross = Math.abs(edges[0] * edges[3 * j + 1] - edges[1] * edges[3 * j]);
      if (cross > most) {
        most = cross;
        other = j;
      }
    }
    return [-1, -1 - other];
  }

  /** Let row `id`, looked up and expressed in `alpha`, take the place of row i of the vertex. */
  exchange(i: number, id: number, alpha: Float64Array): void {
    const { inverse, x, rows, row } = this;
    const along = row[4] - row[0] * x[0] - row[1] * x[1] - row[2] * x[2] - row[3] * x[3];
    const scale = 1 / alpha[i];
    const o = 4 * i;
    for (let c = 0; c < 4; c++) {
      inverse[o + c] *= scale;
      x[c] += along * inverse[o + c];
    }
    for (let j = 0; j < 4; j++) {
      if (j === i) continue;
      const a = alpha[j];
      if (a === 0) continue;
      for (let c = 0; c < 4; c++) inverse[4 * j + c] -= a * inverse[o + c];
    }
    rows[i] = id;
  }

  /** Put the looked up row into `alpha`: what it is made of, by the rows of the vertex. */
  express(alpha: Float64Array): void {
    const { row, inverse } = this;
    for (let i = 0; i < 4; i++)
      alpha[i] = row[0] * inverse[4 * i] + row[1] * inverse[4 * i + 1] + row[2] * inverse[4 * i + 2] + row[3] * inverse[4 * i + 3];
  }
}

/** The edges of a set as rows: outward normals of length one, and bounds. */
function edgesOf({ count, value, slope }: StateSet, out: Float64Array): void {
  for (let n = 0; n < count; n++) {
    const m = n + 1 === count ? 0 : n + 1;
    const dv = value[m] - value[n];
    const ds = slope[m] - slope[n];
    const size = Math.hypot(dv, ds) || 1;
    out[3 * n] = ds / size;
    out[3 * n + 1] = -dv / size;
    out[3 * n + 2] = (ds * value[n] - dv * slope[n]) / size;
  }
}
