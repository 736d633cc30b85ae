import { CurveWalls } from "./curveWalls";
import { NONE, SpanProgram } from "./spanProgram";
import { stand } from "./stand";
import { addCorner, corners, count, MOST, setCount, slopeAt, trim, UNIT, valueAt } from "./states";
import { Vertex } from "./vertex";

/** So many exchanges of rows a search may take, and so many more for each frame: beyond it is taken for not to be had. */
const EXCHANGES = 60;
/** Longest span looked at, in frames: `LONGEST` of unbroken fits. */
const LONGEST = 480;
/** More than one less the cosine of any turn. */
const NEVER: f64 = 3;
/** An exchange on a number so much smaller than the others is not to be trusted. */
const SMALL: f64 = 1e-11;

/**
 * How far one cubic can go from a set of states, and which states it can have at any of its ends: a linear programme in
 * four unknowns, solved by the dual simplex method (Lemke 1954) for reach, and by turning the objective once round
 * (Gass and Saaty 1955; shadow vertices, Borgwardt 1987) for the states at an end.
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

  /** The row that stops weighing first as a direction turns; −1 when none does. */
  @inline
  private firstLight(cx: f64, cy: f64): i32 {
    const CX = f64x2.splat(cx);
    const CY = f64x2.splat(cy);
    let first = -1;
    let least = NEVER;
    for (let i = 0; i < 4; i += 2) {
      const o = (<usize>i) << 3;
      const u = v128.load(changetype<usize>(this.byValue) + o);
      const w = v128.load(changetype<usize>(this.bySlope) + o);
      const size = f64x2.sqrt(f64x2.add(f64x2.mul(u, u), f64x2.mul(w, w)));
      // By the cosine: a cross product takes half a turn for none.
      const cosine = f64x2.div(f64x2.sub(f64x2.mul(CX, w), f64x2.mul(CY, u)), size);
      const isThere = f64x2.gt(size, f64x2.splat(1e-12));
      const gap = v128.bitselect(f64x2.add(f64x2.splat(1), cosine), f64x2.splat(NEVER), isThere);
      const a = f64x2.extract_lane(gap, 0);
      const b = f64x2.extract_lane(gap, 1);
      if (a < least) {
        least = a;
        first = i;
      }
      if (b < least) {
        least = b;
        first = i + 1;
      }
    }
    return first;
  }

  /** All corners, once round; where an exchange fails those found so far, which span a part of the set. */
  private turnRound(length: i32): void {
    const byValue = this.byValue;
    const bySlope = this.bySlope;
    const t = f64(length) / UNIT;
    setCount(0);
    // A direction that no row is square to, and the vertex that is furthest that way.
    let cx: f64 = 0.8829;
    let cy: f64 = 0.4695;
    let left = EXCHANGES + 2 * length;
    for (; left > 0; left--) {
      this.weigh(t);
      let leaving = -1;
      let least: f64 = -1e-10;
      for (let i = 0; i < 4; i++) {
        const weight = cx * unchecked(byValue[i]) + cy * unchecked(bySlope[i]);
        if (weight < least) {
          least = weight;
          leaving = i;
        }
      }
      if (leaving < 0 || !this.leave(leaving)) break;
    }
    this.note(t);
    // Once round: the row that first stops weighing leaves, and a corner is found.
    const sx = cx;
    const sy = cy;
    let isBeyondHalf = false;
    for (; left > 0; left--) {
      this.weigh(t);
      const leaving = this.firstLight(cx, cy);
      if (leaving < 0) break;
      const u = unchecked(byValue[leaving]);
      const w = unchecked(bySlope[leaving]);
      const size = Math.sqrt(u * u + w * w);
      cx = -w / size;
      cy = u / size;
      const isLeft = sx * cy - sy * cx >= 0;
      if (isBeyondHalf && isLeft) break;
      if (!isLeft) isBeyondHalf = true;
      if (!this.leave(leaving)) break;
      this.note(t);
    }
  }
}
