import { CurveWalls } from "./curveWalls";
import { Edges } from "./edges";
import { OwnBounds } from "./ownBounds";
import { UNIT } from "./states";

/** No row. */
export const NONE: i32 = -100_000;
/** Rows that the end of the curve must meet are counted down from here. */
const AT_END: i32 = -1000;
/** A demand that is missed by less is met (tolerances). */
const MISSED: f64 = 1e-9;
/** Half a frame. */
const HALF: f64 = 0.5 / UNIT;
/** A direction along which a row changes by less leaves it as it is. */
const STILL: f64 = 1e-12;

/**
 * The demands on one cubic, as rows of a linear programme in its four coefficients (time in `UNIT`s of frames from its
 * start): within the tolerance at each frame, calm at each half frame, its start in a set of states. A vertex of what
 * they leave: four rows that are met exactly, the inverse of their matrix, and the coefficients.
 *
 * Rows by number: j half frames from the start from above 2j and from below 2j + 1; edges of the start from −1 down, of the
 * end from −1000 down.
 */
export class SpanProgram {
  curve: CurveWalls = new CurveWalls();
  /** Sample at which the cubic begins. */
  from: i32 = 0;
  /** Its last frame, counted from there. */
  length: i32 = 0;
  /** Edges of the states it begins in. */
  readonly start: Edges = new Edges();
  /** Coefficients of the vertex. */
  readonly x: StaticArray<f64> = new StaticArray<f64>(4);
  /** The rows that are met exactly. */
  readonly rows: StaticArray<i32> = new StaticArray<i32>(4);
  /** The inverse of their matrix: by how much coefficient c moves as the bound of row i does at 4c + i. */
  readonly inverse: StaticArray<f64> = new StaticArray<f64>(16);
  private readonly own: OwnBounds = new OwnBounds();
  /** The row that was looked up last: its four numbers and its bound. */
  private row0: f64 = 0;
  private row1: f64 = 0;
  private row2: f64 = 0;
  private row3: f64 = 0;
  private bound: f64 = 0;
  /** What it is made of, by the rows of the vertex. */
  readonly alpha: StaticArray<f64> = new StaticArray<f64>(4);
  /** By how much the row found last is missed. */
  private missed: f64 = 0;

  /** Begin at a sample, in the states that are worked on. */
  begin(from: i32): void {
    this.from = from;
    this.start.lay();
  }

  /** Note where the bounds of the vertex's rows stand. */
  notePlaces(): void {
    for (let i = 0; i < 4; i++) this.notePlace(i);
  }

  @inline
  private notePlace(i: i32): void {
    const id = unchecked(this.rows[i]);
    this.own.note(i, id > AT_END ? this.boundAt(id) : 0, id >= 0 && (id & 1) == 1 ? -Infinity : Infinity);
  }

  @inline
  private boundAt(id: i32): usize {
    if (id < 0) return this.start.at(-1 - id) + 32;
    return this.wall(id >> 1) + ((id & 1) == 0 ? 16 : 0);
  }

  /** Where the lower wall j half frames from the start stands; the upper one is two numbers further. */
  @inline
  private wall(j: i32): usize {
    return changetype<usize>(this.curve.walls) + ((<usize>(4 * (this.from + ((j - 1) >> 1)) + ((j - 1) & 1))) << 3);
  }

  /** So many edges of an end must be met. */
  private get ends(): i32 {
    return this.from + this.length == this.curve.samples - 1 ? this.curve.end.count : 0;
  }

  /** Look up a row. */
  look(id: i32): void {
    if (id >= 0) {
      const t = f64(id >> 1) * HALF;
      const isAbove = (id & 1) == 0;
      const sign: f64 = isAbove ? 1 : -1;
      this.row0 = sign;
      this.row1 = sign * t;
      this.row2 = sign * t * t;
      this.row3 = sign * t * t * t;
      const at = this.wall(id >> 1);
      this.bound = isAbove ? load<f64>(at, 16) : -load<f64>(at);
    } else if (id > AT_END) {
      const start = this.start;
      this.row0 = start.byValue(-1 - id);
      this.row1 = start.bySlope(-1 - id);
      this.row2 = 0;
      this.row3 = 0;
      this.bound = start.bound(-1 - id);
    } else {
      const end = this.curve.end;
      const t = f64(2 * this.length) * HALF;
      const n = end.byValue(AT_END - id);
      const m = end.bySlope(AT_END - id);
      this.row0 = n;
      this.row1 = n * t + m;
      this.row2 = n * t * t + 2 * m * t;
      this.row3 = n * t * t * t + 3 * m * t * t;
      this.bound = end.bound(AT_END - id);
    }
  }

  /** Write the looked up row's four numbers at row[o…]; answers its bound. */
  writeRow(row: StaticArray<f64>, o: i32): f64 {
    unchecked((row[o] = this.row0));
    unchecked((row[o + 1] = this.row1));
    unchecked((row[o + 2] = this.row2));
    unchecked((row[o + 3] = this.row3));
    return this.bound;
  }

  /** The row that the coefficients miss most; half frames count only once all else is met. `NONE` when all are. */
  mostMissed(): i32 {
    const length = this.length;
    const start = this.start;
    const x = this.x;
    this.missed = MISSED;
    let id = this.missedAlong(2, 2 * length, NONE);
    for (let j = 0; j < start.count; j++) {
      const off = start.byValue(j) * unchecked(x[0]) + start.bySlope(j) * unchecked(x[1]) - start.bound(j);
      if (off > this.missed) {
        this.missed = off;
        id = -1 - j;
      }
    }
    const ends = this.ends;
    for (let j = 0; j < ends; j++) {
      this.look(AT_END - j);
      const off = this.along(unchecked(x[0]), unchecked(x[1]), unchecked(x[2]), unchecked(x[3])) - this.bound;
      if (off > this.missed) {
        this.missed = off;
        id = AT_END - j;
      }
    }
    return id == NONE ? this.missedAlong(1, 2 * length - 1, id) : id;
  }

  /** The looked up row times four numbers. */
  @inline
  private along(a: f64, b: f64, c: f64, d: f64): f64 {
    return this.row0 * a + this.row1 * b + this.row2 * c + this.row3 * d;
  }

  /** The row missed most at every other half frame of the curve, when by more than `missed`; otherwise the one that is known. */
  private missedAlong(first: i32, last: i32, known: i32): i32 {
    const x0 = unchecked(this.x[0]);
    const x1 = unchecked(this.x[1]);
    const x2 = unchecked(this.x[2]);
    const x3 = unchecked(this.x[3]);
    let worst = this.missed;
    let id = known;
    let at = this.wall(first);
    for (let j = first; j <= last; j += 2) {
      const t = f64(j) * HALF;
      const value = ((x3 * t + x2) * t + x1) * t + x0;
      const over = value - load<f64>(at, 16);
      const under = load<f64>(at) - value;
      at += 32;
      if (over > worst) {
        worst = over;
        id = 2 * j;
      } else if (under > worst) {
        worst = under;
        id = 2 * j + 1;
      }
    }
    this.missed = worst;
    return id;
  }

  /** Are the demands of the last frame alone, and half a frame before it, met? Those of the end are not looked at. */
  meetsLast(): bool {
    if (this.ends > 0) return false;
    const x = this.x;
    for (let j = 2 * this.length; j >= 2 * this.length - 1; j--) {
      const t = f64(j) * HALF;
      const value = ((unchecked(x[3]) * t + unchecked(x[2])) * t + unchecked(x[1])) * t + unchecked(x[0]);
      const at = this.wall(j);
      if (value - load<f64>(at, 16) > MISSED || load<f64>(at) - value > MISSED) return false;
    }
    return true;
  }

  /** The first row met on the way on which the vertex leaves its row i. */
  firstMet(i: i32): i32 {
    const inverse = this.inverse;
    const d0 = -unchecked(inverse[i]);
    const d1 = -unchecked(inverse[4 + i]);
    const d2 = -unchecked(inverse[8 + i]);
    const d3 = -unchecked(inverse[12 + i]);
    const x0 = unchecked(this.x[0]);
    const x1 = unchecked(this.x[1]);
    const x2 = unchecked(this.x[2]);
    const x3 = unchecked(this.x[3]);
    const D0 = f64x2.splat(d0);
    const D1 = f64x2.splat(d1);
    const D2 = f64x2.splat(d2);
    const D3 = f64x2.splat(d3);
    const X0 = f64x2.splat(x0);
    const X1 = f64x2.splat(x1);
    const X2 = f64x2.splat(x2);
    const X3 = f64x2.splat(x3);
    const up = f64x2.splat(STILL);
    const down = f64x2.splat(-STILL);
    const frame = f64x2.splat(2 * HALF);
    const two = f64x2.splat(2);
    this.own.setAside();
    let nearest = f64x2.splat(Infinity);
    /** What was found: the time of a wall, or the number of an edge, which is negative. */
    let found = f64x2.splat(0);
    let T = f64x2(HALF, 2 * HALF);
    let at = this.wall(1);
    const last = at + ((<usize>this.length) << 5);
    for (; at < last; at += 32) {
      const rate = f64x2.add(f64x2.mul(f64x2.add(f64x2.mul(f64x2.add(f64x2.mul(D3, T), D2), T), D1), T), D0);
      const value = f64x2.add(f64x2.mul(f64x2.add(f64x2.mul(f64x2.add(f64x2.mul(X3, T), X2), T), X1), T), X0);
      const isUp = f64x2.gt(rate, up);
      const wall = v128.bitselect(v128.load(at, 16), v128.load(at), isUp);
      const far = f64x2.div(f64x2.sub(wall, value), rate);
      const isNearer = v128.and(f64x2.lt(far, nearest), v128.or(isUp, f64x2.lt(rate, down)));
      nearest = v128.bitselect(far, nearest, isNearer);
      found = v128.bitselect(T, found, isNearer);
      T = f64x2.add(T, frame);
    }
    let edge = this.start.at(0);
    let E = f64x2(-1, -2);
    for (let n = this.start.count; n > 0; n -= 2) {
      const byValue = v128.load(edge);
      const bySlope = v128.load(edge, 16);
      const rate = f64x2.add(f64x2.mul(byValue, D0), f64x2.mul(bySlope, D1));
      const room = f64x2.sub(f64x2.sub(v128.load(edge, 32), f64x2.mul(byValue, X0)), f64x2.mul(bySlope, X1));
      const far = f64x2.div(room, rate);
      const isNearer = v128.and(f64x2.lt(far, nearest), f64x2.gt(rate, up));
      nearest = v128.bitselect(far, nearest, isNearer);
      found = v128.bitselect(E, found, isNearer);
      E = f64x2.sub(E, two);
      edge += 48;
    }
    this.own.putBack();
    const a = f64x2.extract_lane(nearest, 0);
    const b = f64x2.extract_lane(nearest, 1);
    const foundA = f64x2.extract_lane(found, 0);
    const foundB = f64x2.extract_lane(found, 1);
    const isA = a < b || (a == b && foundA < foundB);
    const t = isA ? foundA : foundB;
    let id = NONE;
    if (t > 0) id = 2 * i32(t / HALF) + (((d3 * t + d2) * t + d1) * t + d0 > 0 ? 0 : 1);
    else if (t < 0) id = i32(t);
    return this.ends > 0 ? this.firstOfEnds(id, isA ? a : b, d0, d1, d2, d3) : id;
  }

  /** The row of the end that is met first, where that is nearer than what is known. */
  private firstOfEnds(known: i32, far: f64, d0: f64, d1: f64, d2: f64, d3: f64): i32 {
    let id = known;
    let least = far;
    for (let j = 0; j < this.ends; j++) {
      const one = AT_END - j;
      if (this.isOwn(one)) continue;
      this.look(one);
      const rate = this.along(d0, d1, d2, d3);
      const room = this.left();
      if (rate > STILL && room < least * rate) {
        least = room / rate;
        id = one;
      }
    }
    return id;
  }

  private isOwn(id: i32): bool {
    for (let i = 0; i < 4; i++) if (unchecked(this.rows[i]) == id) return true;
    return false;
  }

  /** What is left to the bound of the looked up row. */
  @inline
  private left(): f64 {
    const x = this.x;
    return (
      this.bound - this.row0 * unchecked(x[0]) - this.row1 * unchecked(x[1]) - this.row2 * unchecked(x[2]) - this.row3 * unchecked(x[3])
    );
  }

  /** Let row `id`, looked up and expressed, take the place of row i of the vertex. */
  @inline
  exchange(i: i32, id: i32): void {
    const x = this.x;
    const own = (<usize>i) << 3;
    const left = this.left();
    const scale = 1 / unchecked(this.alpha[i]);
    const a = v128.load(changetype<usize>(this.alpha));
    const b = v128.load(changetype<usize>(this.alpha), 16);
    let at = changetype<usize>(this.inverse);
    for (let c = 0; c < 4; c++, at += 32) {
      const moved = load<f64>(at + own) * scale;
      const by = f64x2.splat(moved);
      unchecked((x[c] += left * moved));
      v128.store(at, f64x2.sub(v128.load(at), f64x2.mul(a, by)));
      v128.store(at, f64x2.sub(v128.load(at, 16), f64x2.mul(b, by)), 16);
      store<f64>(at + own, moved);
    }
    unchecked((this.rows[i] = id));
    this.notePlace(i);
  }

  /** Put the looked up row into `alpha`. */
  @inline
  express(): void {
    const a = f64x2.splat(this.row0);
    const b = f64x2.splat(this.row1);
    const c = f64x2.splat(this.row2);
    const d = f64x2.splat(this.row3);
    for (let two: usize = 0; two < 32; two += 16) {
      const at = changetype<usize>(this.inverse) + two;
      const half = f64x2.add(f64x2.mul(a, v128.load(at)), f64x2.mul(b, v128.load(at, 32)));
      const most = f64x2.add(half, f64x2.mul(c, v128.load(at, 64)));
      v128.store(changetype<usize>(this.alpha) + two, f64x2.add(most, f64x2.mul(d, v128.load(at, 96))));
    }
  }
}
