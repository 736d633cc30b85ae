/** Numbers of a corner: value, slope, and the value and slope at the key before that lead there. */
const CORNER = 4;

/**
 * The states that a curve may have at each key it has so far: convex sets of values and slopes, by their corners
 * counterclockwise. All stand in one column, as there may be a hundred thousand of them.
 */
export class StatePath {
  private corners = new Float64Array(64 * CORNER);
  /** Where the set of each key begins, and last where the next one will. */
  private readonly starts = [0];

  /** So many keys. */
  get length(): number {
    return this.starts.length - 1;
  }

  /** The states at one more key. */
  push(corners: Float64Array): void {
    const { starts } = this;
    const at = starts[starts.length - 1];
    if (at + corners.length > this.corners.length) {
      const more = new Float64Array(2 * this.corners.length + corners.length);
      more.set(this.corners);
      this.corners = more;
    }
    this.corners.set(corners, at);
    starts.push(at + corners.length);
  }

  /** The mean of the corners at key k. */
  middle(k: number): [value: number, slope: number] {
    const { corners, starts } = this;
    let value = 0;
    let slope = 0;
    for (let o = starts[k]; o < starts[k + 1]; o += CORNER) {
      value += corners[o];
      slope += corners[o + 1];
    }
    const count = (starts[k + 1] - starts[k]) / CORNER;
    return [value / count, slope / count];
  }

  /** The state at the key before k that leads to one at k: the same mean of three corners' states as it is of the corners. */
  before(k: number, value: number, slope: number): [value: number, slope: number] {
    const { corners: c, starts } = this;
    const first = starts[k];
    const x = value - c[first];
    const y = slope - c[first + 1];
    let best = -1;
    let most = Number.NEGATIVE_INFINITY;
    let p = 0;
    let q = 0;
    // The triangle of the first corner and two neighbours that holds it, or comes nearest to it.
    for (let o = first + CORNER; o + CORNER < starts[k + 1]; o += CORNER) {
      const ax = c[o] - c[first];
      const ay = c[o + 1] - c[first + 1];
      const bx = c[o + 4] - c[first];
      const by = c[o + 5] - c[first + 1];
      const cross = ax * by - ay * bx;
      if (!(cross > 0)) continue;
      const toA = (x * by - y * bx) / cross;
      const toB = (ax * y - ay * x) / cross;
      const inside = Math.min(toA, toB, 1 - toA - toB);
      if (inside > most) {
        most = inside;
        best = o;
        p = toA;
        q = toB;
      }
    }
    if (best < 0) return [c[first + 2], c[first + 3]];
    const r = 1 - p - q;
    return [r * c[first + 2] + p * c[best + 2] + q * c[best + 6], r * c[first + 3] + p * c[best + 3] + q * c[best + 7]];
  }
}
