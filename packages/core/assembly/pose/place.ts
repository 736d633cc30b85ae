/** Bytes of a control's numbers: nine channel values, a turn, three of its resting place, a matrix. */
const VALUES: usize = 72;
const TURN: usize = 32;
const REST: usize = 24;
const MATRIX: usize = 128;

/** Room for a control's own matrix: nine numbers and where it is moved to. */
const own = memory.data(96, 16);
const turned = memory.data(32, 16);

/** What a figure is placed by: all of it by control. */
export class Figure {
  /** Above each control, −1 at the top. */
  parents: usize = 0;
  /** Not 0 where a control is turned at rest. */
  restTurned: usize = 0;
  restTurns: usize = 0;
  restMoves: usize = 0;
  values: usize = 0;
  turns: usize = 0;
  worlds: usize = 0;
}

/**
 * World matrices of `count` controls in `order`, those above first: as `evaluate/placeUnder.ts`, the two upper and the two
 * lower numbers of a column at once.
 */
export function place(order: usize, count: i32, figure: Figure): void {
  const end = order + ((<usize>count) << 2);
  for (; order < end; order += 4) {
    const i = <usize>load<u32>(order);
    const turn = figure.turns + TURN * i;
    if (load<u8>(figure.restTurned + i) != 0) {
      multiply(figure.restTurns + TURN * i, turn);
      ownMatrix(turned, figure.values + VALUES * i, figure.restMoves + REST * i);
    } else ownMatrix(turn, figure.values + VALUES * i, figure.restMoves + REST * i);
    const parent = load<i32>(figure.parents + 4 * i);
    const to = figure.worlds + MATRIX * i;
    if (parent < 0) {
      for (let column: usize = 0; column < 4; column++) {
        const from = own + 24 * column;
        v128.store(to + 32 * column, v128.load(from));
        f64.store(to + 32 * column, f64.load(from, 16), 16);
        f64.store(to + 32 * column, column == 3 ? 1 : 0, 24);
      }
      continue;
    }
    const above = figure.worlds + MATRIX * <usize>parent;
    const up0 = v128.load(above);
    const low0 = v128.load(above, 16);
    const up1 = v128.load(above, 32);
    const low1 = v128.load(above, 48);
    const up2 = v128.load(above, 64);
    const low2 = v128.load(above, 80);
    for (let column: usize = 0; column < 3; column++) {
      const from = own + 24 * column;
      const a = v128.load64_splat(from);
      const b = v128.load64_splat(from, 8);
      const c = v128.load64_splat(from, 16);
      v128.store(to + 32 * column, sum(up0, a, up1, b, up2, c));
      v128.store(to + 32 * column, f64x2.replace_lane(sum(low0, a, low1, b, low2, c), 1, 0), 16);
    }
    const x = v128.load64_splat(own, 72);
    const y = v128.load64_splat(own, 80);
    const z = v128.load64_splat(own, 88);
    v128.store(to, f64x2.add(sum(up0, x, up1, y, up2, z), v128.load(above, 96)), 96);
    v128.store(to, f64x2.replace_lane(f64x2.add(sum(low0, x, low1, y, low2, z), v128.load(above, 112)), 1, 1), 112);
  }
}

function sum(m0: v128, a: v128, m1: v128, b: v128, m2: v128, c: v128): v128 {
  return f64x2.add(f64x2.add(f64x2.mul(m0, a), f64x2.mul(m1, b)), f64x2.mul(m2, c));
}

/** The turn at `a` turned on by the one at `b`. */
function multiply(a: usize, b: usize): void {
  const ax = f64.load(a);
  const ay = f64.load(a, 8);
  const az = f64.load(a, 16);
  const aw = f64.load(a, 24);
  const bx = f64.load(b);
  const by = f64.load(b, 8);
  const bz = f64.load(b, 16);
  const bw = f64.load(b, 24);
  f64.store(turned, ax * bw + aw * bx + ay * bz - az * by);
  f64.store(turned, ay * bw + aw * by + az * bx - ax * bz, 8);
  f64.store(turned, az * bw + aw * bz + ax * by - ay * bx, 16);
  f64.store(turned, aw * bw - ax * bx - ay * by - az * bz, 24);
}

/** The matrix of a control by itself: of a turn, its values and its resting place. */
function ownMatrix(turn: usize, values: usize, rest: usize): void {
  const x = f64.load(turn);
  const y = f64.load(turn, 8);
  const z = f64.load(turn, 16);
  const w = f64.load(turn, 24);
  const sx = f64.load(values, 48);
  const sy = f64.load(values, 56);
  const sz = f64.load(values, 64);
  f64.store(own, (1 - 2 * (y * y + z * z)) * sx);
  f64.store(own, 2 * (x * y + w * z) * sx, 8);
  f64.store(own, 2 * (x * z - w * y) * sx, 16);
  f64.store(own, 2 * (x * y - w * z) * sy, 24);
  f64.store(own, (1 - 2 * (x * x + z * z)) * sy, 32);
  f64.store(own, 2 * (y * z + w * x) * sy, 40);
  f64.store(own, 2 * (x * z + w * y) * sz, 48);
  f64.store(own, 2 * (y * z - w * x) * sz, 56);
  f64.store(own, (1 - 2 * (x * x + y * y)) * sz, 64);
  f64.store(own, f64.load(rest) + f64.load(values), 72);
  f64.store(own, f64.load(rest, 8) + f64.load(values, 8), 80);
  f64.store(own, f64.load(rest, 16) + f64.load(values, 16), 88);
}
