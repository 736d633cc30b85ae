import { count, MOST, slopeAt, valueAt } from "./states";

/** Numbers of a pair of edges: parts of their normals by value, by slope, and their bounds, two each. */
const PAIR = 6;

/**
 * The edges of a convex set of states: outward normals of length one, and bounds. They stand in pairs, as two are looked at
 * at a time; what fills the last pair is never met.
 */
export class Edges {
  readonly numbers: StaticArray<f64> = new StaticArray<f64>((MOST / 2) * PAIR);
  count: i32 = 0;

  /** Lay those of the states that are worked on. */
  lay(): void {
    this.count = count;
    for (let n = 0; n < count; n++) {
      const m = n + 1 == count ? 0 : n + 1;
      const v = valueAt(n);
      const s = slopeAt(n);
      const dv = valueAt(m) - v;
      const ds = slopeAt(m) - s;
      const size = lengthOf(dv, ds);
      this.put(n, ds / size, -dv / size, (ds * v - dv * s) / size);
    }
    if (count & 1) this.put(count, 0, 0, 1);
  }

  private put(n: i32, byValue: f64, bySlope: f64, bound: f64): void {
    const o = this.at(n);
    store<f64>(o, byValue);
    store<f64>(o, bySlope, 16);
    store<f64>(o, bound, 32);
  }

  /** Where edge n stands. */
  at(n: i32): usize {
    return changetype<usize>(this.numbers) + ((<usize>(PAIR * (n >> 1) + (n & 1))) << 3);
  }

  byValue(n: i32): f64 {
    return load<f64>(this.at(n));
  }

  bySlope(n: i32): f64 {
    return load<f64>(this.at(n), 16);
  }

  bound(n: i32): f64 {
    return load<f64>(this.at(n), 32);
  }

  /** Of all edges the one that lies as square as any to the first. */
  square(): i32 {
    let most: f64 = -1;
    let other = 1;
    for (let n = 1; n < this.count; n++) {
      const cross = Math.abs(this.byValue(0) * this.bySlope(n) - this.bySlope(0) * this.byValue(n));
      if (cross > most) {
        most = cross;
        other = n;
      }
    }
    return other;
  }
}

/** The length of a vector, by its larger part as `Math.hypot` has it; 1 of none. */
function lengthOf(a: f64, b: f64): f64 {
  const most = Math.max(Math.abs(a), Math.abs(b));
  if (most == 0) return 1;
  const p = a / most;
  const q = b / most;
  return Math.sqrt(p * p + q * q) * most;
}
