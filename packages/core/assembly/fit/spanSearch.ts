import { CurveWalls } from "./curveWalls";
import { NONE, SpanProgram } from "./spanProgram";
import { stand } from "./stand";
import { addCorner, corners, count, MOST, setCount, slopeAt, trim, UNIT, valueAt } from "./states";
import { Vertex } from "./vertex";

/** So many exchanges of rows a search may take, and so many more for each frame: beyond it is taken for not to be had. */
const EXCHANGES = 60;
/** Longest span looked at, in frames: `LONGEST` of unbroken fits. */
const LONGEST = 480;
/** The states at an end are looked for in as many directions as a set may have corners, from this angle on. */
const DIRECTIONS = MOST;
const FIRST: f64 = 0.7;
/**
 * As what spans end in mostly lies: slopes are this much more for each tolerance of value, and spread so much wider. Both in
 * tolerances a span, measured on two captures.
 */
const LEAN: f64 = 7;
const SPREAD: f64 = 10;
/** A row that weighs less weighs nothing. */
const LIGHT: f64 = -1e-10;
/** An exchange on a number so much smaller than the others is not to be trusted. */
const SMALL: f64 = 1e-11;

/**
 * How far one cubic can go from a set of states, and which states it can have at any of its ends: a linear programme in
 * four unknowns, solved by the dual simplex method (Lemke 1954) for reach, and by the simplex method (Dantzig 1951) for the
 * states at an end: those that are furthest in a few directions, one after the other. What they span is a part of the set.
 */
export class SpanSearch {
  /** The states it begins in, as those that are worked on. */
  readonly start: StaticArray<f64> = new StaticArray<f64>(4 * MOST);
  startCount: i32 = 0;
  private readonly program: SpanProgram = new SpanProgram();
  /** What the rows of the vertex weigh in the objective of the search for reach. */
  private readonly weights: StaticArray<f64> = new StaticArray<f64>(4);
  private readonly byValue: StaticArray<f64> = new StaticArray<f64>(4);
  private readonly bySlope: StaticArray<f64> = new StaticArray<f64>(4);
  /** Vertices that were found, and which of them is that of a length. */
  private readonly vertices: Vertex[] = [];
  private vertexCount: i32 = 0;
  private readonly vertexOf: StaticArray<i32> = new StaticArray<i32>(LONGEST + 1);
  /** Lengths of which a vertex is kept: from this one on. */
  private keptFrom: i32 = 1;
  private reached: i32 = 0;

  /** The curve whose spans are searched. */
  follow(curve: CurveWalls): void {
    this.program.curve = curve;
  }

  /** Begin at a sample, in the states that are worked on. */
  begin(from: i32): void {
    for (let k = 0; k < 4 * count; k++) unchecked((this.start[k] = corners[k]));
    this.startCount = count;
    this.program.begin(from);
    this.vertexCount = 0;
    this.reached = 0;
    this.keptFrom = 1;
  }

  /**
   * The furthest length up to `limit` that a cubic can have, when it has `least` at least; 0 when it has not. `hoped` is
   * where the search begins.
   */
  grow(limit: i32, least: i32, hoped: i32): i32 {
    const program = this.program;
    let length = min(limit, max(least, hoped));
    this.reached = 0;
    while (!this.solveAt(length)) {
      if (length <= least) return 0;
      length = max(least, length >> 1);
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

  /** Work on the states that can be reached at the end of a length that is in reach, with those at the start that lead there. */
  statesAt(length: i32): void {
    if (length >= this.keptFrom && length <= this.reached) this.restore(length);
    else this.solveAt(length);
    this.turnRound(length);
    trim();
  }

  /** Find a vertex that meets all demands at a length, from scratch. */
  private solveAt(length: i32): bool {
    const program = this.program;
    program.length = length;
    // From above: at the last frame, and at the one in the middle or half a frame before it.
    const middle = length == 1 ? 1 : 2 * (length >> 1);
    const rows = program.rows;
    unchecked((rows[0] = -1));
    unchecked((rows[1] = -1 - program.start.square()));
    unchecked((rows[2] = 2 * middle));
    unchecked((rows[3] = 4 * length));
    if (!stand(program)) return false;
    for (let i = 0; i < 4; i++) unchecked((this.weights[i] = 1));
    return this.mend();
  }

  /** Exchange rows until all demands are met; answers whether they can be. */
  private mend(): bool {
    const program = this.program;
    const weights = this.weights;
    const alpha = program.alpha;
    for (let left = EXCHANGES + program.length; left > 0; left--) {
      const id = program.mostMissed();
      if (id == NONE) return true;
      program.look(id);
      program.express();
      let most: f64 = 0;
      for (let i = 0; i < 4; i++) most = Math.max(most, Math.abs(unchecked(alpha[i])));
      let leaving = -1;
      let least = Infinity;
      for (let i = 0; i < 4; i++) {
        const a = unchecked(alpha[i]);
        if (a <= SMALL * most) continue;
        const ratio = unchecked(weights[i]) / a;
        if (ratio < least || (ratio == least && a > unchecked(alpha[leaving]))) {
          least = ratio;
          leaving = i;
        }
      }
      // No row can give way: no cubic meets this one as well.
      if (leaving < 0) return false;
      for (let i = 0; i < 4; i++)
        unchecked((weights[i] = i == leaving ? least : Math.max(0, unchecked(weights[i]) - unchecked(alpha[i]) * least)));
      program.exchange(leaving, id);
    }
    return false;
  }

  private keep(length: i32): void {
    const program = this.program;
    const last = this.vertexCount - 1;
    if (last >= 0 && length > this.keptFrom && unchecked(this.vertices[last]).isOf(program)) {
      unchecked((this.vertexOf[length] = last));
      return;
    }
    if (this.vertexCount == this.vertices.length) this.vertices.push(new Vertex());
    unchecked(this.vertices[this.vertexCount]).keep(program, this.weights);
    unchecked((this.vertexOf[length] = this.vertexCount++));
  }

  private restore(length: i32): void {
    this.program.length = length;
    unchecked(this.vertices[this.vertexOf[length]]).restore(this.program, this.weights);
  }

  /** Move the vertex off its row i to the next one; false when there is none. */
  @inline
  private leave(i: i32): bool {
    const program = this.program;
    const id = program.firstMet(i);
    if (id == NONE) return false;
    program.look(id);
    program.express();
    if (!(unchecked(program.alpha[i]) < 0)) return false;
    program.exchange(i, id);
    return true;
  }

  /** What rows weigh when the value at the end counts, and when the slope does. */
  @inline
  private weigh(t: f64): void {
    const inverse = changetype<usize>(this.program.inverse);
    const byValue = changetype<usize>(this.byValue);
    const bySlope = changetype<usize>(this.bySlope);
    const T = f64x2.splat(t);
    const two = f64x2.splat(2);
    const three = f64x2.splat(3 * t);
    for (let o: usize = 0; o < 32; o += 16) {
      const a = v128.load(inverse + o, 32);
      const b = v128.load(inverse + o, 64);
      const c = v128.load(inverse + o, 96);
      const v = f64x2.add(v128.load(inverse + o), f64x2.mul(T, f64x2.add(a, f64x2.mul(T, f64x2.add(b, f64x2.mul(T, c))))));
      v128.store(byValue + o, v);
      v128.store(bySlope + o, f64x2.add(a, f64x2.mul(T, f64x2.add(f64x2.mul(two, b), f64x2.mul(three, c)))));
    }
  }

  /** The corner at which the vertex stands. */
  @inline
  private note(t: f64): void {
    const x = this.program.x;
    const x1 = unchecked(x[1]);
    const x2 = unchecked(x[2]);
    const x3 = unchecked(x[3]);
    const v = unchecked(x[0]) + t * (x1 + t * (x2 + t * x3));
    const s = x1 + t * (2 * x2 + 3 * t * x3);
    const n = count - 1;
    if (n >= 0 && Math.abs(valueAt(n) - v) + Math.abs(slopeAt(n) - s) < 1e-9) return;
    addCorner(v, s, unchecked(x[0]), x1);
  }

  /** The corners that are furthest in a few directions, once round; where an exchange fails those found so far. */
  private turnRound(length: i32): void {
    const t = f64(length) / UNIT;
    setCount(0);
    let left = EXCHANGES + 2 * length;
    for (let k = 0; k < DIRECTIONS; k++) {
      const cx = unchecked(alongValue[k]);
      const cy = unchecked(alongSlope[k]) * t;
      for (; left > 0; left--) {
        this.weigh(t);
        const leaving = this.lightest(cx, cy);
        if (leaving < 0) break;
        if (!this.leave(leaving)) return;
      }
      this.note(t);
    }
  }

  /** The row that the objective gains most by leaving; −1 when it gains by none. */
  @inline
  private lightest(cx: f64, cy: f64): i32 {
    let leaving = -1;
    let least = LIGHT;
    for (let i = 0; i < 4; i++) {
      const weight = cx * unchecked(this.byValue[i]) + cy * unchecked(this.bySlope[i]);
      if (weight < least) {
        least = weight;
        leaving = i;
      }
    }
    return leaving;
  }
}

/** The directions: what the value counts, and the slope times the length of the span. */
const alongValue = new StaticArray<f64>(DIRECTIONS);
const alongSlope = new StaticArray<f64>(DIRECTIONS);
for (let k = 0; k < DIRECTIONS; k++) {
  const angle = FIRST + (f64(k) * 2 * Math.PI) / DIRECTIONS;
  alongValue[k] = Math.cos(angle) - (Math.sin(angle) * LEAN) / SPREAD;
  alongSlope[k] = Math.sin(angle) / SPREAD;
}
