import { moveAt, worldAt } from "../figure/rigLayout.ts";
import { SMALL_INDEX } from "../maths/smallIndex.ts";

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
  const t = qo & SMALL_INDEX;
  const x = q[t];
  const y = q[t + 1];
  const z = q[t + 2];
  const w = q[t + 3];
  const v = moveAt(i) & SMALL_INDEX;
  const r = (i * 3) & SMALL_INDEX;
  const sx = values[v + 6];
  const sy = values[v + 7];
  const sz = values[v + 8];
  const tx = restMoves[r] + values[v];
  const ty = restMoves[r + 1] + values[v + 1];
  const tz = restMoves[r + 2] + values[v + 2];
  const a0 = (1 - 2 * (y * y + z * z)) * sx;
  const a1 = 2 * (x * y + w * z) * sx;
  const a2 = 2 * (x * z - w * y) * sx;
  const b0 = 2 * (x * y - w * z) * sy;
  const b1 = (1 - 2 * (x * x + z * z)) * sy;
  const b2 = 2 * (y * z + w * x) * sy;
  const c0 = 2 * (x * z + w * y) * sz;
  const c1 = 2 * (y * z - w * x) * sz;
  const c2 = (1 - 2 * (x * x + y * y)) * sz;
  const o = worldAt(i) & SMALL_INDEX;
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
  const p = worldAt(parent) & SMALL_INDEX;
  const m0 = worlds[p];
  const m1 = worlds[p + 4];
  const m2 = worlds[p + 8];
  worlds[o] = m0 * a0 + m1 * a1 + m2 * a2;
  worlds[o + 4] = m0 * b0 + m1 * b1 + m2 * b2;
  worlds[o + 8] = m0 * c0 + m1 * c1 + m2 * c2;
  worlds[o + 12] = m0 * tx + m1 * ty + m2 * tz + worlds[p + 12];
  const n0 = worlds[p + 1];
  const n1 = worlds[p + 5];
  const n2 = worlds[p + 9];
  worlds[o + 1] = n0 * a0 + n1 * a1 + n2 * a2;
  worlds[o + 5] = n0 * b0 + n1 * b1 + n2 * b2;
  worlds[o + 9] = n0 * c0 + n1 * c1 + n2 * c2;
  worlds[o + 13] = n0 * tx + n1 * ty + n2 * tz + worlds[p + 13];
  const r0 = worlds[p + 2];
  const r1 = worlds[p + 6];
  const r2 = worlds[p + 10];
  worlds[o + 2] = r0 * a0 + r1 * a1 + r2 * a2;
  worlds[o + 6] = r0 * b0 + r1 * b1 + r2 * b2;
  worlds[o + 10] = r0 * c0 + r1 * c1 + r2 * c2;
  worlds[o + 14] = r0 * tx + r1 * ty + r2 * tz + worlds[p + 14];
}
