/** So many frames are one in time as it is counted here: powers of it then stay of one size. */
export const UNIT: f64 = 4;

/** So many corners are found of a set at the most, and none is kept that is worth less than this share of its area. */
export const MOST = 8;
const WORTH: f64 = 0.01;
const NOTHING: f64 = 0.0005;
/** A set of a smaller area is taken for a point. */
const POINT: f64 = 1e-7;
/** Half the side of the square that stands for a point: far below what is left of the tolerance. */
const DOT: f64 = 1e-8;

/**
 * The convex set of states (value and slope at a key, in tolerances and tolerances a `UNIT`) that is worked on: its corners
 * counterclockwise, four numbers each: value, slope, and the value and slope at the key before that lead there.
 */
export const corners = new StaticArray<f64>(4 * MOST);
export let count: i32 = 0;

export function setCount(many: i32): void {
  count = many;
}

export function valueAt(n: i32): f64 {
  return unchecked(corners[4 * n]);
}

export function slopeAt(n: i32): f64 {
  return unchecked(corners[4 * n + 1]);
}

export function addCorner(value: f64, slope: f64, fromValue: f64, fromSlope: f64): void {
  const o = 4 * count++;
  unchecked((corners[o] = value));
  unchecked((corners[o + 1] = slope));
  unchecked((corners[o + 2] = fromValue));
  unchecked((corners[o + 3] = fromSlope));
}

/** Twice the area of the triangle of three corners. */
function triangle(a: i32, b: i32, c: i32): f64 {
  const v = valueAt(a);
  const s = slopeAt(a);
  return (valueAt(b) - v) * (slopeAt(c) - s) - (slopeAt(b) - s) * (valueAt(c) - v);
}

/** Twice the area that goes with a corner. */
function worth(n: i32): f64 {
  return triangle(n == 0 ? count - 1 : n - 1, n, n == count - 1 ? 0 : n + 1);
}

/** Twice the area. */
function area(): f64 {
  let sum: f64 = 0;
  for (let n = 2; n < count; n++) sum += triangle(0, n - 1, n);
  return sum;
}

function drop(n: i32): void {
  count--;
  for (let k = 4 * n; k < 4 * count; k++) unchecked((corners[k] = corners[k + 4]));
}

/** The mean of one of the corners' numbers. */
function mean(part: i32): f64 {
  let sum: f64 = 0;
  for (let n = 0; n < count; n++) sum += unchecked(corners[4 * n + part]);
  return sum / f64(count);
}

/** Keep few corners, so that nothing outside the set comes in; of what is nearly a point, a dot at its middle. */
export function trim(): void {
  const all = area();
  if (count < 3 || all < POINT) {
    const value = mean(0);
    const slope = mean(1);
    const fromValue = mean(2);
    const fromSlope = mean(3);
    count = 0;
    addCorner(value - DOT, slope - DOT, fromValue, fromSlope);
    addCorner(value + DOT, slope - DOT, fromValue, fromSlope);
    addCorner(value + DOT, slope + DOT, fromValue, fromSlope);
    addCorner(value - DOT, slope + DOT, fromValue, fromSlope);
    return;
  }
  // Of what is worth next to nothing any may go at once; of the rest the least goes first.
  for (let n = count - 1; n >= 0 && count > 3; n--) if (worth(n) < NOTHING * all) drop(n);
  while (count > 3) {
    let least = 0;
    let lowest = Infinity;
    for (let n = 0; n < count; n++) {
      const one = worth(n);
      if (one < lowest) {
        lowest = one;
        least = n;
      }
    }
    if (lowest > WORTH * all) break;
    drop(least);
  }
}
