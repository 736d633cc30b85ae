/*
 * Values of many keyed curves at one time, two at a time, each from the segment it is in. What is here is asked by
 * `curve/windowKernel.ts` alone, which says how a window is laid out.
 */

/** Where windows may stand. */
export function room(): usize {
  return (__heap_base + 15) & ~15;
}

/**
 * The values of a window of `width` curves (an even number) at a time, into its seventh column. Which of them are not in their
 * segments is written behind it, as integers; answers how many.
 */
export function sample(window: usize, width: i32, time: f64): i32 {
  const column = (<usize>width) << 3;
  const at = f64x2.splat(time);
  let list = window + 7 * column;
  const begin = list;
  for (let k = 0; k < width; k += 2, window += 16) {
    const from = v128.load(window);
    let place = window + column;
    const inside = v128.and(f64x2.ge(at, from), f64x2.lt(at, v128.load(place)));
    const x = f64x2.sub(at, from);
    place += column;
    const c0 = v128.load(place);
    place += column;
    const c1 = v128.load(place);
    place += column;
    const c2 = v128.load(place);
    place += column;
    const c3 = v128.load(place);
    place += column;
    v128.store(place, f64x2.add(f64x2.mul(f64x2.add(f64x2.mul(f64x2.add(f64x2.mul(c3, x), c2), x), c1), x), c0));
    // Written in any case and gone beyond where it counts: a branch would be guessed wrong.
    const bits = i64x2.bitmask(inside);
    store<i32>(list, k);
    list += (~bits & 1) << 2;
    store<i32>(list, k + 1);
    list += (~bits & 2) << 1;
  }
  return i32((list - begin) >> 2);
}
