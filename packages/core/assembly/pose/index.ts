/*
 * The inner loops of playing a figure (see `evaluate/pose.ts`), compiled to WebAssembly: two controls, or two numbers of a
 * column, at a time. What is here is asked by `poseKernel.ts` alone, which writes what goes in and reads what comes out.
 */
import { Figure, place as placeAll } from "./place";
import { turnPair, writePair } from "./turnPair";

export { between, stack } from "./stack";

/** Where what goes in and comes out may stand. */
export function room(): usize {
  return (__heap_base + 15) & ~15;
}

const figure = changetype<Figure>(memory.data(64, 16));
const pair = memory.data(64, 16);

/** Turns of `count` controls in `order` from their own channel values; `orders`: a byte a control. */
export function turn(order: usize, count: i32, orders: usize, values: usize, turns: usize): void {
  const end = order + ((<usize>count) << 2);
  for (; order < end; order += 8) {
    const a = <usize>load<u32>(order);
    const b = order + 4 < end ? <usize>load<u32>(order, 4) : a;
    turnPair(values + 72 * a + 24, values + 72 * b + 24, load<u8>(orders + a), load<u8>(orders + b), pair);
    writePair(v128.load(pair), v128.load(pair, 16), v128.load(pair, 32), v128.load(pair, 48), turns + 32 * a, turns + 32 * b);
  }
}

/** World matrices of `count` controls in `order`: see `place.ts`. */
export function place(
  order: usize,
  count: i32,
  parents: usize,
  restTurned: usize,
  restTurns: usize,
  restMoves: usize,
  values: usize,
  turns: usize,
  worlds: usize,
): void {
  figure.parents = parents;
  figure.restTurned = restTurned;
  figure.restTurns = restTurns;
  figure.restMoves = restMoves;
  figure.values = values;
  figure.turns = turns;
  figure.worlds = worlds;
  placeAll(order, count, figure);
}
