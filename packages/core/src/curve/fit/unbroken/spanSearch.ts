import { invert4 } from "./invert4.ts";
import { NONE, type ScaledCurve, SpanProgram } from "./spanProgram.ts";
import { StateSet, UNIT } from "./stateSet.ts";

/** So many exchanges of rows a search may take, and so many more for each frame: beyond it is taken for not to be had. */
const EXCHANGES = 60;
/** Numbers that belong to a vertex: the inverse, the coefficients and what the dual rows weigh. */
const NUMBERS = 24;
const matrix = new Float64Array(16);
const bounds = new Float64Array(4);
/** The corners that are being found. */
const corners = new StateSet(EXCHANGES + 2 * 480 + 1);
/** An exchange on a number so much smaller than the others is not to be trusted. */
const SMALL = 1e-11;

/**
 * How far one cubic can go from a set of states, and which states it can have at any of its ends: a linear programme in
 * four unknowns, solved by the dual simplex method (Lemke 1954) for reach, and by turning the objective once round
 * (Gass and Saaty 1955; shadow vertices, Borgwardt 1987) for the states at an end.
 */
export class SpanSearch {
  private readonly program: SpanProgram;
  private readonly weights = new Float64Array(4);
  private readonly alpha = new Float64Array(4);
  private readonly byValue = new Float64Array(4);
  private readonly bySlope = new Float64Array(4);
  /** Vertices that were found feasible, and which of them is that of a length. */
  private numbers = new Float64Array(NUMBERS * 64);
  private rows = new Int32Array(4 * 64);
  private vertices = 0;
  private readonly vertexOf = new Int32Array(1024).fill(-1);
  /** Lengths of which a vertex is kept: from this one on. */
  private keptFrom = 1;
  private reached = 0;

  constructor(curve: ScaledCurve) {
    this.program = new SpanProgram(curve);
  }

  begin(from: number, start: StateSet, end: StateSet | null): void {
    this.program.begin(from, start, end);
    this.vertices = 0;
    this.reached = 0;
    this.keptFrom = 1;
  }

  /**
   * The furthest length up to `limit` that a cubic can have, when it has `least` at least; 0 when it has not. `hoped` is
   * where the search begins.
   */
  grow(limit: number, least: number, hoped: number): number {
    const { program } = this;
    let length = Math.min(limit, Math.max(least, hoped));
    this.reached = 0;
    while (!this.solveAt(length)) {
      if (length <= least) return 0;
      length = Math.max(least, length >> 1);
    }
    this.keptFrom = length;
    this.keep(length);
    while (length < limit) {
      program.length = length + 1;
      if (!program.meetsLast() && !this.mend()) break;
      length++;
      this.keep(length);
    }
    this.reached = length;
    return length;
  }

  /** The states that can be reached at the end of a length that is in reach, with those at the start that lead there. */
  statesAt(length: number): StateSet {
    if (length >= this.keptFrom && length <= this.reached) this.restore(length);
    else this.solveAt(length);
    return this.turnRound(length);
  }

  /** Find a vertex that meets all demands at a length, from scratch. */
  private solveAt(length: number): boolean {
    const { program, weights } = this;
    program.length = length;
    const [first, second] = program.squareEdges();
    // From above: at the last frame, and at the one in the middle or half a frame before it.
    const middle = length === 1 ? 1 : 2 * (length >> 1);
    program.rows.set([first, second, 2 * middle, 4 * length]);
    if (!this.fromRows()) return false;
    weights.fill(1);
    return this.mend();
  }

  /** The inverse and the coefficients from the rows of the vertex. */
  private fromRows(): boolean {
    const { program } = this;
    for (let i = 0; i < 4; i++) {
      program.look(program.rows[i]);
      for (let c = 0; c < 4; c++) matrix[4 * i + c] = program.row[c];
      bounds[i] = program.row[4];
    }
    if (!invert4(program.inverse, matrix)) return false;
    for (let c = 0; c < 4; c++) {
      let sum = 0;
      for (let i = 0; i < 4; i++) sum += bounds[i] * program.inverse[4 * i + c];
      program.x[c] = sum;
    }
    return true;
  }

  /** Exchange rows until all demands are met; answers whether they can be. */
  private mend(): boolean {
    const { program, weights, alpha } = this;
    for (let left = EXCHANGES + program.length; left > 0; left--) {
      const id = program.mostMissed();
      if (id === NONE) return true;
      program.look(id);
      program.express(alpha);
      let most = 0;
      for (let i = 0; i < 4; i++) most = Math.max(most, Math.abs(alpha[i]));
      let leaving = -1;
      let least = Number.POSITIVE_INFINITY;
      for (let i = 0; i < 4; i++) {
        if (alpha[i] <= SMALL * most) continue;
        const ratio = weights[i] / alpha[i];
        if (ratio < least || (ratio === least && alpha[i] > alpha[leaving])) {
          least = ratio;
          leaving = i;
        }
      }
      // No row can give way: no cubic meets this one as well.
      if (leaving < 0) return false;
      for (let i = 0; i < 4; i++) weights[i] = i === leaving ? least : Math.max(0, weights[i] - alpha[i] * least);
      program.exchange(leaving, id, alpha);
    }
    return false;
  }

  private keep(length: number): void {
    const { program, weights } = this;
    const n = this.vertices - 1;
    const known = n >= 0 && length > this.keptFrom && sameRows(this.rows, 4 * n, program.rows);
    if (known) {
      this.vertexOf[length] = n;
      return;
    }
    if (this.vertices * NUMBERS === this.numbers.length) {
      const [numbers, rows] = [new Float64Array(2 * this.numbers.length), new Int32Array(2 * this.rows.length)];
      numbers.set(this.numbers);
      rows.set(this.rows);
      this.numbers = numbers;
      this.rows = rows;
    }
    const at = this.vertices++;
    this.rows.set(program.rows, 4 * at);
    this.numbers.set(program.inverse, NUMBERS * at);
    this.numbers.set(program.x, NUMBERS * at + 16);
    this.numbers.set(weights, NUMBERS * at + 20);
    this.vertexOf[length] = at;
  }

  private restore(length: number): void {
    const { program, weights, numbers, rows } = this;
    const at = this.vertexOf[length];
    program.length = length;
    for (let i = 0; i < 4; i++) program.rows[i] = rows[4 * at + i];
    for (let i = 0; i < 16; i++) program.inverse[i] = numbers[NUMBERS * at + i];
    for (let i = 0; i < 4; i++) {
      program.x[i] = numbers[NUMBERS * at + 16 + i];
      weights[i] = numbers[NUMBERS * at + 20 + i];
    }
  }

  /** Move the vertex off its row i to the next one; false when there is none. */
  private leave(i: number): boolean {
    const { program, alpha } = this;
    const { inverse } = program;
    const id = program.firstMet(-inverse[4 * i], -inverse[4 * i + 1], -inverse[4 * i + 2], -inverse[4 * i + 3]);
    if (id === NONE) return false;
    program.look(id);
    program.express(alpha);
    if (!(alpha[i] < 0)) return false;
    program.exchange(i, id, alpha);
    return true;
  }

  /** What rows weigh when the value at the end counts, and when the slope does. */
  private weigh(t: number): void {
    const { byValue, bySlope } = this;
    const { inverse } = this.program;
    for (let i = 0, o = 0; i < 4; i++, o += 4) {
      byValue[i] = inverse[o] + t * (inverse[o + 1] + t * (inverse[o + 2] + t * inverse[o + 3]));
      bySlope[i] = inverse[o + 1] + t * (2 * inverse[o + 2] + 3 * t * inverse[o + 3]);
    }
  }

  /** The corner at which the vertex stands. */
  private note(t: number): void {
    const { x } = this.program;
    const value = x[0] + t * (x[1] + t * (x[2] + t * x[3]));
    const slope = x[1] + t * (2 * x[2] + 3 * t * x[3]);
    const n = corners.count - 1;
    if (n >= 0 && Math.abs(corners.value[n] - value) + Math.abs(corners.slope[n] - slope) < 1e-9) return;
    corners.add(value, slope, x[0], x[1]);
  }

  /** All corners, once round; where an exchange fails those found so far, which span a part of the set. */
  private turnRound(length: number): StateSet {
    const { byValue, bySlope } = this;
    const t = length / UNIT;
    corners.count = 0;
    // A direction that no row is square to, and the vertex that is furthest that way.
    let cx = 0.8829;
    let cy = 0.4695;
    let left = EXCHANGES + 2 * length;
    for (; left > 0; left--) {
      this.weigh(t);
      let leaving = -1;
      let least = -1e-10;
      for (let i = 0; i < 4; i++) {
        const weight = cx * byValue[i] + cy * bySlope[i];
        if (weight < least) {
          least = weight;
          leaving = i;
        }
      }
      if (leaving < 0 || !this.leave(leaving)) break;
    }
    this.note(t);
    // Once round: the row that first stops weighing leaves, and a corner is found.
    for (let turned = 0; left > 0; left--) {
      this.weigh(t);
      let leaving = -1;
      let least = 3;
      let nx = 0;
      let ny = 0;
      for (let i = 0; i < 4; i++) {
        const u = byValue[i];
        const w = bySlope[i];
        const size = Math.sqrt(u * u + w * w);
        if (size < 1e-12) continue;
        // By the cosine: a cross product takes half a turn for none.
        const gap = 1 + (cx * w - cy * u) / size;
        if (gap < least) {
          least = gap;
          leaving = i;
          nx = -w / size;
          ny = u / size;
        }
      }
      if (leaving < 0) break;
      turned += Math.acos(Math.max(-1, Math.min(1, 1 - least)));
      if (turned >= 2 * Math.PI) break;
      cx = nx;
      cy = ny;
      if (!this.leave(leaving)) break;
      this.note(t);
    }
    return corners.trimmed();
  }
}

function sameRows(rows: Int32Array, at: number, others: Int32Array): boolean {
  return rows[at] === others[0] && rows[at + 1] === others[1] && rows[at + 2] === others[2] && rows[at + 3] === others[3];
}
