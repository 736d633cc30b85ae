/**
 * Weighted handles. A segment is a 2-D cubic Bezier; with x the share of the segment's time,
 * x(u) = 3·a·u(1−u)² + 3·b·u²(1−u) + u³, where a = the out-weight and b = 1 − the in-weight.
 * Both lie in 0..1, so x is monotone in u, as in `cubic-bezier()` of W3C CSS Easing level 1.
 */

/** Residual (of the segment's time) at which a solution is taken. */
const CLOSE = 1e-12;

/** The u at which x(u) = x. `a` and `b` as above, all in 0..1. */
export function solveBezier(a: number, b: number, x: number): number {
  return refined(3 * a, 3 * (b - 2 * a), 1 + 3 * (a - b), x, x);
}

/** The root of c3·u³ + c2·u² + c1·u = x, from a guess: a few Halley steps, a bracketed search where they fail. */
function refined(c1: number, c2: number, c3: number, x: number, guess: number): number {
  let u = guess;
  for (let step = 0; step < 4; step++) {
    const f = ((c3 * u + c2) * u + c1) * u - x;
    if (f > -CLOSE && f < CLOSE && u >= 0 && u <= 1) return u;
    const d = (3 * c3 * u + 2 * c2) * u + c1;
    u -= (2 * f * d) / (2 * d * d - f * (6 * c3 * u + 2 * c2));
  }
  return bracketed(c1, c2, c3, x);
}

function bracketed(c1: number, c2: number, c3: number, x: number): number {
  let low = 0;
  let high = 1;
  let u = x;
  for (let step = 0; step < 100; step++) {
    const f = ((c3 * u + c2) * u + c1) * u - x;
    if (Math.abs(f) < 1e-15) return u;
    if (f > 0) high = u;
    else low = u;
    const d = (3 * c3 * u + 2 * c2) * u + c1;
    const newton = u - f / d;
    u = newton > low && newton < high ? newton : (low + high) / 2;
    if (high - low < 1e-15) return u;
  }
  return u;
}

const PIECES = 16;
/**
 * Numbers of a prepared inverse: the cubic x(u) (three coefficients), then a guess of u for any x: the
 * cubic Hermite interpolant of the inverse function over sixteen even pieces of x, constant first.
 */
export const INVERSE_SIZE = 3 + PIECES * 4;

/** Write the prepared inverse of a segment's time at out[o…]. */
export function writeInverse(out: Float64Array, o: number, a: number, b: number): void {
  const c1 = 3 * a;
  const c2 = 3 * (b - 2 * a);
  const c3 = 1 + 3 * (a - b);
  out.set([c1, c2, c3], o);
  // Where time stands still the inverse is upright; a steep guess serves as well.
  const slopeAt = (u: number) => Math.min(20, 1 / Math.max(1e-9, (3 * c3 * u + 2 * c2) * u + c1)) / PIECES;
  let u0 = 0;
  for (let piece = 0, k = o + 3; piece < PIECES; piece++, k += 4) {
    const u1 = piece + 1 < PIECES ? solveBezier(a, b, (piece + 1) / PIECES) : 1;
    const m0 = slopeAt(u0);
    const m1 = slopeAt(u1);
    out[k] = u0;
    out[k + 1] = m0;
    out[k + 2] = 3 * (u1 - u0) - 2 * m0 - m1;
    out[k + 3] = m0 + m1 - 2 * (u1 - u0);
    u0 = u1;
  }
}

/** As `solveBezier`, from the inverse prepared at inverse[o…]; most often one Halley step is enough. */
export function solvePrepared(inverse: Float64Array, o: number, x: number): number {
  const place = x * PIECES;
  const piece = place >= PIECES ? PIECES - 1 : place | 0;
  const s = place - piece;
  const k = o + 3 + 4 * piece;
  const c1 = inverse[o];
  const c2 = inverse[o + 1];
  const c3 = inverse[o + 2];
  let u = ((inverse[k + 3] * s + inverse[k + 2]) * s + inverse[k + 1]) * s + inverse[k];
  const f = ((c3 * u + c2) * u + c1) * u - x;
  const d = (3 * c3 * u + 2 * c2) * u + c1;
  u -= (2 * f * d) / (2 * d * d - f * (6 * c3 * u + 2 * c2));
  const residual = ((c3 * u + c2) * u + c1) * u - x;
  return residual > -CLOSE && residual < CLOSE && u >= 0 && u <= 1 ? u : refined(c1, c2, c3, x, u);
}
