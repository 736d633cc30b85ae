/**
 * Weighted handles. A segment is a 2-D cubic Bezier; with x the share of the segment's time,
 * x(u) = 3·a·u(1−u)² + 3·b·u²(1−u) + u³, where a = the out-weight and b = 1 − the in-weight.
 * Both lie in 0..1, so x is monotone in u, as in `cubic-bezier()` of W3C CSS Easing level 1.
 */

/** The u at which x(u) = x, to 1e-12 of the segment. Three fixed Halley steps, then, only where
 * those leave a residual, a bracketed search. `a` and `b` as above, all in 0..1. */
export function solveBezier(a: number, b: number, x: number): number {
  const c1 = 3 * a;
  const c2 = 3 * (b - 2 * a);
  const c3 = 1 + 3 * (a - b);
  let u = x;
  for (let step = 0; step < 3; step++) {
    const f = ((c3 * u + c2) * u + c1) * u - x;
    const d = (3 * c3 * u + 2 * c2) * u + c1;
    const dd = 6 * c3 * u + 2 * c2;
    const q = 2 * d * d - f * dd;
    u -= (2 * f * d) / q;
  }
  const residual = ((c3 * u + c2) * u + c1) * u - x;
  if (residual > -1e-12 && residual < 1e-12 && u >= 0 && u <= 1) return u;
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
