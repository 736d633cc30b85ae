import { moveAt, worldAt } from "../figure/rigLayout.ts";
/**
 * World matrix of control `i` from its turn (a unit quaternion at q[qo]), its nine channel values and its resting
 * place, under the matrix of control `parent` (none when below 0). All at once, and for one kind of array only:
 * this is where playing a figure spends its time.
 */
export function placeUnder(
  worlds: Float64Array,
  i: number,
  parent: number,
  q: Float64Array,
  qo: number,
  values: Float64Array,
  restMoves: Float64Array,
): void {
  const x = q[qo];
  const y = q[qo + 1];
  const z = q[qo + 2];
  const w = q[qo + 3];
  const v = moveAt(i);
  const sx = values[v + 6];
  const sy = values[v + 7];
  const sz = values[v + 8];
  const tx = restMoves[i * 3] + values[v];
  const ty = restMoves[i * 3 + 1] + values[v + 1];
  const tz = restMoves[i * 3 + 2] + values[v + 2];
  const a0 = (1 - 2 * (y * y + z * z)) * sx;
  const a1 = 2 * (x * y + w * z) * sx;
  const a2 = 2 * (x * z - w * y) * sx;
  const b0 = 2 * (x * y - w * z) * sy;
  const b1 = (1 - 2 * (x * x + z * z)) * sy;
  const b2 = 2 * (y * z + w * x) * sy;
  const c0 = 2 * (x * z + w * y) * sz;
  const c1 = 2 * (y * z - w * x) * sz;
  const c2 = (1 - 2 * (x * x + y * y)) * sz;
  const o = worldAt(i);
  worlds[o + 3] = worlds[o + 7] = worlds[o + 11] = 0;
  worlds[o + 15] = 1;
  if (parent < 0) {
    worlds[o] = a0;
    worlds[o + 1] = a1;
    worlds[o + 2] = a2;
    worlds[o + 4] = b0;
    worlds[o + 5] = b1;
    worlds[o + 6] = b2;
    worlds[o + 8] = c0;
    worlds[o + 9] = c1;
    worlds[o + 10] = c2;
    worlds[o + 12] = tx;
    worlds[o + 13] = ty;
    worlds[o + 14] = tz;
    return;
  }
  const p = worldAt(parent);
  for (let row = 0; row < 3; row++) {
    const m0 = worlds[p + row];
    const m1 = worlds[p + 4 + row];
    const m2 = worlds[p + 8 + row];
    worlds[o + row] = m0 * a0 + m1 * a1 + m2 * a2;
    worlds[o + 4 + row] = m0 * b0 + m1 * b1 + m2 * b2;
    worlds[o + 8 + row] = m0 * c0 + m1 * c1 + m2 * c2;
    worlds[o + 12 + row] = m0 * tx + m1 * ty + m2 * tz + worlds[p + 12 + row];
  }
}
