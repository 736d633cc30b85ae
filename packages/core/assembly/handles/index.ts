/*
 * Values of a segment with weighted handles at even steps, two at a time: the same arithmetic in the same order as
 * `solvePrepared` of `curve/bezier.ts`, where it is explained. What is here is asked by `handlesKernel.ts` alone.
 */

/** Pieces of a prepared inverse, and the residual (of the segment's time) at which a solution is taken. */
const PIECES: i32 = 16;
const CLOSE: f64 = 1e-12;
const STEPS: i32 = 4;

/** Where what goes in and comes out may stand. */
export function room(): usize {
  return (__heap_base + 15) & ~15;
}

/** Two numbers that stand apart. */
function both(a: usize, b: usize): v128 {
  return v128.load64_lane(b, v128.load64_zero(a), 1);
}

function times(a: v128, b: v128): v128 {
  return f64x2.mul(a, b);
}

/** ((c3·u + c2)·u + c1)·u + c0 */
function cubic(c3: v128, c2: v128, c1: v128, c0: v128, u: v128): v128 {
  return f64x2.add(times(f64x2.add(times(f64x2.add(times(c3, u), c2), u), c1), u), c0);
}

/** Bytes of a segment, as `curve/track.ts` lays it out. */
const SEGMENT: usize = 56;

/**
 * Values at start + n·step of the segments from the one at `segment` on, before the one at `end`, from number `n` on and before
 * number `count`; `inverses` is where those of all segments would begin. Answers where it stops: what is there is not in these
 * segments, or has to be solved another way.
 */
export function fill(segment: usize, end: usize, inverses: usize, start: f64, step: f64, n: i32, count: i32, out: usize): i32 {
  for (; segment < end && n < count; segment += SEGMENT) {
    const to = f64.load(segment, 8);
    const t = start + f64(n) * step;
    if (!(t >= f64.load(segment))) break;
    if (!(t < to)) continue;
    const o = i32(f64.load(segment, 48));
    n =
      o < 0
        ? fillPlain(segment, start, step, n, count, out)
        : fillWeighted(segment, inverses + ((<usize>o) << 3), start, step, n, count, out);
    if (n < count && start + f64(n) * step < to) break;
  }
  return n;
}

/** Values of a segment of plain handles. */
function fillPlain(segment: usize, start: f64, step: f64, n: i32, count: i32, out: usize): i32 {
  const from = f64.load(segment);
  const to = f64.load(segment, 8);
  const c0 = f64.load(segment, 16);
  const c1 = f64.load(segment, 24);
  const c2 = f64.load(segment, 32);
  const c3 = f64.load(segment, 40);
  for (let t = start + f64(n) * step; t < to && n < count; t = start + f64(++n) * step) {
    const x = t - from;
    f64.store(out + ((<usize>n) << 3), ((c3 * x + c2) * x + c1) * x + c0);
  }
  return n;
}

/** ((c3·u + c2)·u + c1)·u − x */
function residual(c3: v128, c2: v128, c1: v128, u: v128, x: v128): v128 {
  return f64x2.sub(times(f64x2.add(times(f64x2.add(times(c3, u), c2), u), c1), u), x);
}

/** From u and its residual a Halley step on; c1, and the other coefficients of the derivative and of its own. */
function halley(d3: v128, d2: v128, c1: v128, s3: v128, u: v128, f: v128): v128 {
  const d = f64x2.add(times(f64x2.add(times(d3, u), d2), u), c1);
  const two = f64x2.splat(2);
  const down = f64x2.sub(times(times(two, d), d), times(f, f64x2.add(times(s3, u), d2)));
  return f64x2.sub(u, f64x2.div(times(times(two, f), d), down));
}

/** Is the residual f of u as small as it has to be? All bits are set where it is. */
function isNear(f: v128, u: v128): v128 {
  const near = v128.and(f64x2.lt(f, f64x2.splat(CLOSE)), f64x2.gt(f, f64x2.splat(-CLOSE)));
  return v128.and(near, v128.and(f64x2.ge(u, f64x2.splat(0)), f64x2.le(u, f64x2.splat(1))));
}

/** The first guess of u for two shares of the segment's time. */
function guess(inverse: usize, x: v128): v128 {
  const place = times(x, f64x2.splat(PIECES));
  const piece = i32x4.min_s(i32x4.trunc_sat_f64x2_s_zero(place), i32x4.splat(PIECES - 1));
  const s = f64x2.sub(place, f64x2.convert_low_i32x4_s(piece));
  const a = inverse + 32 + ((<usize>i32x4.extract_lane(piece, 0)) << 5);
  const b = inverse + 32 + ((<usize>i32x4.extract_lane(piece, 1)) << 5);
  return cubic(both(a + 24, b + 24), both(a + 16, b + 16), both(a + 8, b + 8), both(a, b), s);
}

/**
 * Values of a segment of weighted handles with its inverse, as far as they can be solved: two and two, as each waits for one
 * step after the other. Where fewer are left the first stands for the others, and what is written for these is written over.
 */
function fillWeighted(segment: usize, inverse: usize, start: f64, step: f64, n: i32, count: i32, out: usize): i32 {
  const from = f64x2.splat(f64.load(segment));
  const to = f64.load(segment, 8);
  const share = v128.load64_splat(inverse);
  const c1 = v128.load64_splat(inverse, 8);
  const c2 = v128.load64_splat(inverse, 16);
  const c3 = v128.load64_splat(inverse, 24);
  const d3 = times(f64x2.splat(3), c3);
  const d2 = times(f64x2.splat(2), c2);
  const s3 = times(f64x2.splat(6), c3);
  while (n < count) {
    const t0 = start + f64(n) * step;
    if (!(t0 < to)) break;
    const t1 = start + f64(n + 1) * step;
    const t2 = start + f64(n + 2) * step;
    const t3 = start + f64(n + 3) * step;
    const many = min(count - n, 1 + i32(t1 < to) + i32(t2 < to) + i32(t3 < to));
    const early = f64x2.replace_lane(f64x2.splat(t0), 1, many > 1 ? t1 : t0);
    const late = f64x2.replace_lane(f64x2.splat(many > 2 ? t2 : t0), 1, many > 3 ? t3 : t0);
    const x = times(f64x2.sub(early, from), share);
    const y = times(f64x2.sub(late, from), share);
    let u = guess(inverse, x);
    let v = guess(inverse, y);
    let f = residual(c3, c2, c1, u, x);
    let g = residual(c3, c2, c1, v, y);
    u = halley(d3, d2, c1, s3, u, f);
    v = halley(d3, d2, c1, s3, v, g);
    f = residual(c3, c2, c1, u, x);
    g = residual(c3, c2, c1, v, y);
    let isFound = i64x2.all_true(v128.and(isNear(f, u), isNear(g, v)));
    // Where that is not enough, up to three steps more for those of the four that need them.
    for (let k = 1; k < STEPS && !isFound; k++) {
      u = v128.bitselect(u, halley(d3, d2, c1, s3, u, f), isNear(f, u));
      v = v128.bitselect(v, halley(d3, d2, c1, s3, v, g), isNear(g, v));
      f = residual(c3, c2, c1, u, x);
      g = residual(c3, c2, c1, v, y);
      isFound = i64x2.all_true(v128.and(isNear(f, u), isNear(g, v)));
    }
    if (!isFound) break;
    const at = out + ((<usize>n) << 3);
    v128.store(at, valueAt(segment, u));
    v128.store(at, valueAt(segment, v), 16);
    n += many;
  }
  return n;
}

function valueAt(segment: usize, u: v128): v128 {
  const c1 = v128.load64_splat(segment, 24);
  const c2 = v128.load64_splat(segment, 32);
  const c3 = v128.load64_splat(segment, 40);
  return cubic(c3, c2, c1, v128.load64_splat(segment, 16), u);
}
