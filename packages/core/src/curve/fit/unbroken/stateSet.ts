/** What a key hands on: value and slope, in tolerances and tolerances a `UNIT` of frames. */
export const UNIT = 4;

/** So many corners are kept of a set, and none that is worth less than this share of its area. */
const MOST = 14;
const WORTH = 0.01;
const NOTHING = 0.0005;
/** A set of a smaller area is taken for a point. */
const POINT = 1e-7;
/** Half the side of the square that stands for a point: far below what is left of the tolerance. */
const DOT = 1e-8;

/**
 * A convex set of states a curve may have at a key: its corners counterclockwise, and for each the state at the key before
 * it that leads there.
 */
export class StateSet {
  count = 0;
  readonly value: Float64Array;
  readonly slope: Float64Array;
  readonly fromValue: Float64Array;
  readonly fromSlope: Float64Array;

  constructor(size: number) {
    this.value = new Float64Array(size);
    this.slope = new Float64Array(size);
    this.fromValue = new Float64Array(size);
    this.fromSlope = new Float64Array(size);
  }

  /** A rectangle around a state that nothing leads to. */
  private static around(value: number, slope: number, valueReach: number, slopeReach: number): StateSet {
    const set = new StateSet(4);
    set.add(value - valueReach, slope - slopeReach, value, slope);
    set.add(value + valueReach, slope - slopeReach, value, slope);
    set.add(value + valueReach, slope + slopeReach, value, slope);
    set.add(value - valueReach, slope + slopeReach, value, slope);
    return set;
  }

  /** One value, with any slope up to a limit. */
  static line(value: number, steepest: number): StateSet {
    return StateSet.around(value, 0, DOT, steepest);
  }

  /** One state, as wide as a dot. */
  static dot(value: number, slope: number): StateSet {
    return StateSet.around(value, slope, DOT, DOT);
  }

  add(value: number, slope: number, fromValue: number, fromSlope: number): void {
    const n = this.count++;
    this.value[n] = value;
    this.slope[n] = slope;
    this.fromValue[n] = fromValue;
    this.fromSlope[n] = fromSlope;
  }

  /** Twice the area of the triangle of a corner and its neighbours. */
  private worth(n: number): number {
    const { count, value, slope } = this;
    const a = n === 0 ? count - 1 : n - 1;
    const b = n === count - 1 ? 0 : n + 1;
    return (value[n] - value[a]) * (slope[b] - slope[a]) - (slope[n] - slope[a]) * (value[b] - value[a]);
  }

  /** Twice the area. */
  private area(): number {
    const { count, value, slope } = this;
    const [v, w] = [value[0], slope[0]];
    let sum = 0;
    for (let n = 2; n < count; n++) sum += (value[n - 1] - v) * (slope[n] - w) - (slope[n - 1] - w) * (value[n] - v);
    return sum;
  }

  private drop(n: number): void {
    const { value, slope, fromValue, fromSlope } = this;
    const last = --this.count;
    for (let k = n; k < last; k++) {
      value[k] = value[k + 1];
      slope[k] = slope[k + 1];
      fromValue[k] = fromValue[k + 1];
      fromSlope[k] = fromSlope[k + 1];
    }
  }

  /** The same with few corners, none outside it; this one is spent. Of what is nearly a point, a dot at its middle. */
  trimmed(): StateSet {
    const area = this.area();
    if (this.count < 3 || area < POINT) {
      const [value, slope, fromValue, fromSlope] = this.middle();
      const dot = StateSet.dot(value, slope);
      dot.fromValue.fill(fromValue);
      dot.fromSlope.fill(fromSlope);
      return dot;
    }
    // Of what is worth next to nothing any may go at once; of the rest the least goes first.
    for (let n = this.count - 1; n >= 0 && this.count > 3; n--) if (this.worth(n) < NOTHING * area) this.drop(n);
    while (this.count > 3) {
      let least = 0;
      let worth = Number.POSITIVE_INFINITY;
      for (let n = 0; n < this.count; n++) {
        const one = this.worth(n);
        if (one < worth) {
          worth = one;
          least = n;
        }
      }
      if (worth > WORTH * area && this.count <= MOST) break;
      this.drop(least);
    }
    const set = new StateSet(this.count);
    set.count = this.count;
    for (let n = 0; n < this.count; n++) {
      set.value[n] = this.value[n];
      set.slope[n] = this.slope[n];
      set.fromValue[n] = this.fromValue[n];
      set.fromSlope[n] = this.fromSlope[n];
    }
    return set;
  }

  /** The mean of the corners, and of the states that lead to them. */
  middle(): [value: number, slope: number, fromValue: number, fromSlope: number] {
    const { count } = this;
    const mean = (column: Float64Array) => {
      let sum = 0;
      for (let n = 0; n < count; n++) sum += column[n];
      return sum / count;
    };
    return [mean(this.value), mean(this.slope), mean(this.fromValue), mean(this.fromSlope)];
  }

  /** The state before that leads to one in the set: the same mean of three corners' states as it is of the corners. */
  before(value: number, slope: number): [value: number, slope: number] {
    const { count, value: v, slope: s, fromValue, fromSlope } = this;
    const [x, y] = [value - v[0], slope - s[0]];
    let best = -1;
    let most = Number.NEGATIVE_INFINITY;
    let shares: [number, number] = [0, 0];
    // The triangle of the first corner and two neighbours that holds it, or comes nearest to it.
    for (let n = 1; n + 1 < count; n++) {
      const [ax, ay] = [v[n] - v[0], s[n] - s[0]];
      const [bx, by] = [v[n + 1] - v[0], s[n + 1] - s[0]];
      const cross = ax * by - ay * bx;
      if (!(cross > 0)) continue;
      const p = (x * by - y * bx) / cross;
      const q = (ax * y - ay * x) / cross;
      const inside = Math.min(p, q, 1 - p - q);
      if (inside > most) {
        most = inside;
        best = n;
        shares = [p, q];
      }
    }
    if (best < 0) return [fromValue[0], fromSlope[0]];
    const [p, q] = shares;
    const r = 1 - p - q;
    return [
      r * fromValue[0] + p * fromValue[best] + q * fromValue[best + 1],
      r * fromSlope[0] + p * fromSlope[best] + q * fromSlope[best + 1],
    ];
  }
}
