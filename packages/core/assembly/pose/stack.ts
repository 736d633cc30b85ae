import { turnPair, unitScale, writePair } from "./turnPair";

/** What is done with the turns of a pass: nothing, all of it, or a share. */
const NOTHING: f64 = 0;
const WHOLE: f64 = 1;

/** Terms of the two series for a share of a turn (see `maths/turnPower.ts`), and those that are enough for a small one. */
const TERMS: i32 = 12;
const FEW: i32 = 6;
/** A pass's numbers: what is done; up to which squares few terms and all of them are enough; the terms of both series. */
const POWER: usize = 8 * (3 + 2 * 12);

/** Room for x, y, z, w of two turns. */
const pair = memory.data(64, 16);

/** Part of the way from one row of numbers to another. */
export function between(here: usize, next: usize, x: f64, count: i32, out: usize): void {
  const part = f64x2.splat(x);
  const end = out + ((<usize>count) << 3);
  // A row of an odd number has room for one more behind it.
  for (; out < end; here += 16, next += 16, out += 16) {
    const value = v128.load(here);
    v128.store(out, f64x2.add(value, f64x2.mul(f64x2.sub(v128.load(next), value), part)));
  }
}

/**
 * Turns of `count` controls, four numbers each, to `out`: those of base motion's angles, turned on by those of `layers` passes.
 * `angles`: three of each control, layer by layer; `orders`: a byte a control. Answers 0 where a share is not reached by the series.
 */
export function stack(angles: usize, orders: usize, count: i32, layers: i32, powers: usize, out: usize): i32 {
  const layerSize: usize = 24 * <usize>count;
  for (let n = 0; n < count; n += 2) {
    const m = n + 1 < count ? n + 1 : n;
    let a = angles + 24 * <usize>n;
    let b = angles + 24 * <usize>m;
    const orderA = load<u8>(orders + n);
    const orderB = load<u8>(orders + m);
    turnPair(a, b, orderA, orderB, pair);
    let ax = v128.load(pair);
    let ay = v128.load(pair, 16);
    let az = v128.load(pair, 32);
    let aw = v128.load(pair, 48);
    let power = powers;
    for (let l = 0; l < layers; l++, power += POWER) {
      a += layerSize;
      b += layerSize;
      const deed = load<f64>(power);
      if (deed == NOTHING) continue;
      turnPair(a, b, orderA, orderB, pair);
      if (deed != WHOLE && !share(power)) return 0;
      const bx = v128.load(pair);
      const by = v128.load(pair, 16);
      const bz = v128.load(pair, 32);
      const bw = v128.load(pair, 48);
      const x = f64x2.sub(f64x2.add(f64x2.add(f64x2.mul(ax, bw), f64x2.mul(aw, bx)), f64x2.mul(ay, bz)), f64x2.mul(az, by));
      const y = f64x2.sub(f64x2.add(f64x2.add(f64x2.mul(ay, bw), f64x2.mul(aw, by)), f64x2.mul(az, bx)), f64x2.mul(ax, bz));
      const z = f64x2.sub(f64x2.add(f64x2.add(f64x2.mul(az, bw), f64x2.mul(aw, bz)), f64x2.mul(ax, by)), f64x2.mul(ay, bx));
      const w = f64x2.sub(f64x2.sub(f64x2.sub(f64x2.mul(aw, bw), f64x2.mul(ax, bx)), f64x2.mul(ay, by)), f64x2.mul(az, bz));
      ax = x;
      ay = y;
      az = z;
      aw = w;
    }
    writePair(ax, ay, az, aw, out + 32 * <usize>n, out + 32 * <usize>m);
  }
  return 1;
}

/** The pair's turns become a share of themselves, as `powersOf` works it out; false where its series do not reach so far. */
function share(power: usize): bool {
  let x = v128.load(pair);
  let y = v128.load(pair, 16);
  let z = v128.load(pair, 32);
  let w = v128.load(pair, 48);
  const unit = unitScale(x, y, z, w);
  x = f64x2.mul(x, unit);
  y = f64x2.mul(y, unit);
  z = f64x2.mul(z, unit);
  w = f64x2.mul(w, unit);
  const square = f64x2.add(f64x2.add(f64x2.mul(x, x), f64x2.mul(y, y)), f64x2.mul(z, z));
  const reached = v128.and(f64x2.lt(square, v128.load64_splat(power, 16)), f64x2.gt(w, f64x2.splat(0)));
  if (!i64x2.all_true(reached)) return false;
  const few = f64x2.lt(square, v128.load64_splat(power, 8));
  const twice = f64x2.mul(square, square);
  let cosine = f64x2.splat(0);
  let scale = f64x2.splat(0);
  if (!i64x2.all_true(few)) {
    for (let k = TERMS - 2; k >= FEW; k -= 2) {
      const at = power + 24 + ((<usize>k) << 3);
      cosine = next(cosine, twice, square, at);
      scale = next(scale, twice, square, at + 8 * TERMS);
    }
    cosine = v128.andnot(cosine, few);
    scale = v128.andnot(scale, few);
  }
  for (let k = FEW - 2; k >= 0; k -= 2) {
    const at = power + 24 + ((<usize>k) << 3);
    cosine = next(cosine, twice, square, at);
    scale = next(scale, twice, square, at + 8 * TERMS);
  }
  v128.store(pair, f64x2.mul(x, scale));
  v128.store(pair, f64x2.mul(y, scale), 16);
  v128.store(pair, f64x2.mul(z, scale), 32);
  v128.store(pair, cosine, 48);
  return true;
}

/** Two terms of a series more. */
function next(sum: v128, twice: v128, square: v128, at: usize): v128 {
  const two = f64x2.add(f64x2.mul(v128.load64_splat(at, 8), square), v128.load64_splat(at));
  return f64x2.add(f64x2.mul(sum, twice), two);
}
