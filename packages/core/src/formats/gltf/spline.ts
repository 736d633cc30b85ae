/**
 * A key's worth of a spline of quaternions: in-tangent, value, out-tangent, four numbers each. The spline between keys i
 * and i+1 at a share x of the way, whose tangents last `span` of the unit they are given in (glTF 2.0, appendix C).
 */
export function splineAt(out: Float64Array, keys: ArrayLike<number>, i: number, x: number, span: number): void {
  const [x2, x3] = [x * x, x * x * x];
  for (let k = 0; k < 4; k++) {
    const o = i * 12 + k;
    out[k] =
      (2 * x3 - 3 * x2 + 1) * keys[o + 4] +
      span * (x3 - 2 * x2 + x) * keys[o + 8] +
      (3 * x2 - 2 * x3) * keys[o + 16] +
      span * (x3 - x2) * keys[o + 12];
  }
}
