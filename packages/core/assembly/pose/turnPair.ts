/*
 * Turns from angles, of two controls at once: the same arithmetic in the same order as `maths/turnOfAngles.ts`, where the
 * formulas and their sources stand. Each number of a `v128` belongs to one of the two.
 */

/** Sign of the mixed terms for each order, per component x, y, z, w. */
const SIGNS: usize = memory.data<f64>([1, -1, 1, -1, -1, -1, 1, 1, 1, -1, -1, 1, 1, 1, -1, -1, -1, 1, 1, -1, -1, 1, -1, 1]);

/** The squares of 50° and 180°. */
const NARROW: f64 = 2500;
const HALF_ROUND: f64 = 32400;

/** Two numbers that stand apart. */
function both(a: usize, b: usize): v128 {
  return v128.load64_lane(b, v128.load64_zero(a), 1);
}

function times(a: v128, b: v128): v128 {
  return f64x2.mul(a, b);
}

/*
 * The numbers of the series, from the constant on; all steps but the last subtract, save sine's second. They are read from
 * memory, which takes less than writing them anew into a register.
 */
const SINE: usize = memory.data<f64>([8.726646259971648e-3, -8.520155343281711e-8, 1.4156660382831345e-13, 2.852093491147357e-20]);
const COSINE: usize = memory.data<f64>([1, 3.51481638215433e-5, 1.3518614865604873e-10, 9.151123509890663e-17]);
const WIDE_SINE: usize = memory.data<f64>([
  8.726646259971648e-3, -9.493887382513907e-8, 2.3677221459004476e-13, 1.8940373184244828e-19, 4.5790219120492266e-26,
  1.625699114213562e-33,
]);
const WIDE_COSINE: usize = memory.data<f64>([
  1, 3.626397854603674e-5, 1.7442062488254107e-10, 2.4308557187263744e-16, 1.1019062454050495e-22, 1.2295232136342341e-29,
]);

function number(series: usize, n: usize): v128 {
  return v128.load64_splat(series + 8 * n);
}

function sine(d: v128, z: v128): v128 {
  let s = f64x2.sub(number(SINE, 2), times(z, number(SINE, 3)));
  s = f64x2.add(number(SINE, 1), times(z, s));
  return times(d, f64x2.add(number(SINE, 0), times(z, s)));
}

function cosine(z: v128): v128 {
  let c = f64x2.sub(number(COSINE, 2), times(z, number(COSINE, 3)));
  c = f64x2.sub(number(COSINE, 1), times(z, c));
  return f64x2.sub(number(COSINE, 0), times(z, c));
}

function wideSine(d: v128, z: v128): v128 {
  let s = f64x2.sub(number(WIDE_SINE, 4), times(z, number(WIDE_SINE, 5)));
  s = f64x2.sub(number(WIDE_SINE, 3), times(z, s));
  s = f64x2.sub(number(WIDE_SINE, 2), times(z, s));
  s = f64x2.add(number(WIDE_SINE, 1), times(z, s));
  return times(d, f64x2.add(number(WIDE_SINE, 0), times(z, s)));
}

function wideCosine(z: v128): v128 {
  let c = f64x2.sub(number(WIDE_COSINE, 4), times(z, number(WIDE_COSINE, 5)));
  c = f64x2.sub(number(WIDE_COSINE, 3), times(z, c));
  c = f64x2.sub(number(WIDE_COSINE, 2), times(z, c));
  c = f64x2.sub(number(WIDE_COSINE, 1), times(z, c));
  return f64x2.sub(number(WIDE_COSINE, 0), times(z, c));
}

/** Whole rounds in some degrees, halves upward. */
function rounds(d: v128): v128 {
  const parts = f64x2.div(d, f64x2.splat(360));
  const whole = f64x2.floor(parts);
  const up = f64x2.ge(f64x2.sub(parts, whole), f64x2.splat(0.5));
  return f64x2.add(whole, v128.and(up, f64x2.splat(1)));
}

/**
 * Turns of two controls, of the angles (degrees, about x, y and z) at `a` and `b` and the orders (numbers) given, to `out`:
 * x of both, y, z, w; but for a factor of each, see `unitScale`.
 */
export function turnPair(a: usize, b: usize, orderA: u8, orderB: u8, out: usize): void {
  let d1 = both(a, b);
  let d2 = both(a + 8, b + 8);
  let d3 = both(a + 16, b + 16);
  let z1 = times(d1, d1);
  let z2 = times(d2, d2);
  let z3 = times(d3, d3);
  let flip = f64x2.splat(0);
  const half = f64x2.splat(HALF_ROUND);
  const far = v128.or(v128.or(f64x2.gt(z1, half), f64x2.gt(z2, half)), f64x2.gt(z3, half));
  if (v128.any_true(far)) {
    const rounds1 = v128.and(rounds(d1), far);
    const rounds2 = v128.and(rounds(d2), far);
    const rounds3 = v128.and(rounds(d3), far);
    const round = f64x2.splat(360);
    d1 = f64x2.sub(d1, times(round, rounds1));
    d2 = f64x2.sub(d2, times(round, rounds2));
    d3 = f64x2.sub(d3, times(round, rounds3));
    z1 = times(d1, d1);
    z2 = times(d2, d2);
    z3 = times(d3, d3);
    // A whole round turns sine and cosine of the half over.
    const all = f64x2.add(f64x2.add(rounds1, rounds2), rounds3);
    const even = f64x2.eq(times(f64x2.splat(2), f64x2.floor(times(all, f64x2.splat(0.5)))), all);
    flip = v128.andnot(f64x2.splat(-0.0), even);
  }
  let s1 = sine(d1, z1);
  let s2 = sine(d2, z2);
  let s3 = sine(d3, z3);
  let c1 = cosine(z1);
  let c2 = cosine(z2);
  let c3 = cosine(z3);
  const narrow = f64x2.splat(NARROW);
  const narrow1 = f64x2.lt(z1, narrow);
  const narrow2 = f64x2.lt(z2, narrow);
  const narrow3 = f64x2.lt(z3, narrow);
  if (!i64x2.all_true(v128.and(v128.and(narrow1, narrow2), narrow3))) {
    s1 = v128.bitselect(s1, wideSine(d1, z1), narrow1);
    c1 = v128.bitselect(c1, wideCosine(z1), narrow1);
    s2 = v128.bitselect(s2, wideSine(d2, z2), narrow2);
    c2 = v128.bitselect(c2, wideCosine(z2), narrow2);
    s3 = v128.bitselect(s3, wideSine(d3, z3), narrow3);
    c3 = v128.bitselect(c3, wideCosine(z3), narrow3);
  }
  const cc = times(c2, c3);
  const ss = times(s2, s3);
  const sc = times(s2, c3);
  const cs = times(c2, s3);
  const sa = SIGNS + ((<usize>orderA) << 5);
  const sb = SIGNS + ((<usize>orderB) << 5);
  const x = f64x2.add(times(s1, cc), times(times(both(sa, sb), c1), ss));
  const y = f64x2.add(times(c1, sc), times(times(both(sa + 8, sb + 8), s1), cs));
  const z = f64x2.add(times(c1, cs), times(times(both(sa + 16, sb + 16), s1), sc));
  const w = f64x2.add(times(c1, cc), times(times(both(sa + 24, sb + 24), s1), ss));
  v128.store(out, v128.xor(x, flip));
  v128.store(out, v128.xor(y, flip), 16);
  v128.store(out, v128.xor(z, flip), 32);
  v128.store(out, v128.xor(w, flip), 48);
}

/** What makes unit turns of two. */
export function unitScale(x: v128, y: v128, z: v128, w: v128): v128 {
  const square = f64x2.add(f64x2.add(f64x2.add(times(x, x), times(y, y)), times(z, z)), times(w, w));
  return f64x2.div(f64x2.splat(1), f64x2.sqrt(square));
}

/** Write two turns where they go, made units: x, y, z, w of one after the other. */
export function writePair(x: v128, y: v128, z: v128, w: v128, a: usize, b: usize): void {
  const scale = unitScale(x, y, z, w);
  const ux = times(x, scale);
  const uy = times(y, scale);
  const uz = times(z, scale);
  const uw = times(w, scale);
  v128.store(a, i64x2.shuffle(ux, uy, 0, 2));
  v128.store(a, i64x2.shuffle(uz, uw, 0, 2), 16);
  v128.store(b, i64x2.shuffle(ux, uy, 1, 3));
  v128.store(b, i64x2.shuffle(uz, uw, 1, 3), 16);
}
