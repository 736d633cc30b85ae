/** Sign of the mixed terms for each order, per component x, y, z, w; an order is known by its number in `rotationOrders`. */
const signs = Float64Array.of(
  ...[1, -1, 1, -1],
  ...[-1, -1, 1, 1],
  ...[1, -1, -1, 1],
  ...[1, 1, -1, -1],
  ...[-1, 1, 1, -1],
  ...[-1, 1, -1, 1],
);

/*
 * Sine and cosine of half an angle of d degrees but for a common factor, z being d²: numerator and denominator of Lambert's
 * continued fraction for the tangent (1761), h/(1 − h²/(3 − h²/(5 − …))), scaled to degrees. Broken off after seven parts it
 * is off by less than 3e-17 up to 50°, after eleven by less than 7e-18 up to 180° (worked out with forty digits).
 */
const sine = (d: number, z: number) =>
  d * (8.726646259971648e-3 + z * (-8.520155343281711e-8 + z * (1.4156660382831345e-13 - z * 2.852093491147357e-20)));
const cosine = (z: number) => 1 - z * (3.51481638215433e-5 - z * (1.3518614865604873e-10 - z * 9.151123509890663e-17));
const wideSine = (d: number, z: number) =>
  d *
  (8.726646259971648e-3 +
    z *
      (-9.493887382513907e-8 +
        z * (2.3677221459004476e-13 - z * (1.8940373184244828e-19 - z * (4.5790219120492266e-26 - z * 1.625699114213562e-33)))));
const wideCosine = (z: number) =>
  1 -
  z *
    (3.626397854603674e-5 -
      z * (1.7442062488254107e-10 - z * (2.4308557187263744e-16 - z * (1.1019062454050495e-22 - z * 1.2295232136342341e-29))));

/** The squares of 50° and 180°. */
const NARROW = 2500;
const HALF_ROUND = 32400;

/**
 * Unit quaternions (x, y, z, w), one after the other, of as many turns as there are orders: number n from three angles
 * (degrees, about x, y and z) at angles[first + n · stride…]. With c and s of each axis multiplied out (Shoemake 1985).
 */
export function turnsOfAngles(out: Float64Array, angles: Float64Array, first: number, stride: number, orders: Uint8Array): void {
  const sign = signs;
  for (let n = 0; n < orders.length; n++) {
    const a = first + n * stride;
    let d1 = angles[a];
    let d2 = angles[a + 1];
    let d3 = angles[a + 2];
    let z1 = d1 * d1;
    let z2 = d2 * d2;
    let z3 = d3 * d3;
    let over = 1;
    if (z1 > HALF_ROUND || z2 > HALF_ROUND || z3 > HALF_ROUND) {
      const rounds1 = Math.round(d1 / 360);
      const rounds2 = Math.round(d2 / 360);
      const rounds3 = Math.round(d3 / 360);
      d1 -= 360 * rounds1;
      d2 -= 360 * rounds2;
      d3 -= 360 * rounds3;
      z1 = d1 * d1;
      z2 = d2 * d2;
      z3 = d3 * d3;
      // A whole round turns sine and cosine of the half over.
      if ((rounds1 + rounds2 + rounds3) % 2 !== 0) over = -1;
    }
    const s1 = z1 < NARROW ? sine(d1, z1) : wideSine(d1, z1);
    const c1 = z1 < NARROW ? cosine(z1) : wideCosine(z1);
    const s2 = z2 < NARROW ? sine(d2, z2) : wideSine(d2, z2);
    const c2 = z2 < NARROW ? cosine(z2) : wideCosine(z2);
    const s3 = z3 < NARROW ? sine(d3, z3) : wideSine(d3, z3);
    const c3 = z3 < NARROW ? cosine(z3) : wideCosine(z3);
    const cc = c2 * c3;
    const ss = s2 * s3;
    const sc = s2 * c3;
    const cs = c2 * s3;
    const k = orders[n] * 4;
    const x = s1 * cc + sign[k] * c1 * ss;
    const y = c1 * sc + sign[k + 1] * s1 * cs;
    const z = c1 * cs + sign[k + 2] * s1 * sc;
    const w = c1 * cc + sign[k + 3] * s1 * ss;
    const scale = over / Math.sqrt(x * x + y * y + z * z + w * w);
    const o = n * 4;
    out[o] = x * scale;
    out[o + 1] = y * scale;
    out[o + 2] = z * scale;
    out[o + 3] = w * scale;
  }
}

const oneTurn = new Float64Array(4);
const oneOrder = new Uint8Array(1);

/** The same for one: of the angles at angles[a…], to out[o…]. */
export function turnOfAngles(out: Float64Array, o: number, angles: Float64Array, a: number, order: number): void {
  oneOrder[0] = order;
  turnsOfAngles(oneTurn, angles, a, 0, oneOrder);
  for (let k = 0; k < 4; k++) out[o + k] = oneTurn[k];
}
