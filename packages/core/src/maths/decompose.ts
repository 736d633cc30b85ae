import { type Numbers, matrixFromQuat, quatFromMatrix } from "./rotation.ts";

/** How far from square (as a cosine) two columns may be and still count as square. */
const SQUARE = 1e-10;
/** Newton steps at the most; from ten on nothing changes any more. */
const STEPS = 40;

const columns = new Float64Array(9);
const inverse = new Float64Array(9);

/**
 * The rotation (a unit quaternion) nearest to the linear part of an affine matrix kept by columns: the orthogonal
 * factor of its polar decomposition (Higham 1986, by Newton's iteration), whatever scale, shear or mirroring is in it.
 * A mirroring matrix M has no rotation nearest to it; it is answered by that of −M. `scale` is divided out of the
 * columns first; a scale of 0 counts as 1.
 */
export function turnFromAffine(out: Numbers, o: number, m: Numbers, mo: number, scale: ArrayLike<number> = UNIT): void {
  for (let c = 0; c < 3; c++) {
    const by = scale[c] === 0 ? 1 : 1 / scale[c];
    for (let r = 0; r < 3; r++) columns[c * 3 + r] = m[mo + c * 4 + r] * by;
  }
  // Mostly there is no shear, and nothing has vanished: then it is enough to make the columns unit.
  if (!normalised(columns)) {
    for (let c = 0; c < 3; c++) for (let r = 0; r < 3; r++) columns[c * 3 + r] = m[mo + c * 4 + r] / (scale[c] || 1);
    nearestOrthogonal(columns);
    straighten(columns);
  }
  if (determinant(columns) < 0) for (let k = 0; k < 9; k++) columns[k] = -columns[k];
  quatFromMatrix(out, o, columns, 0, 3);
  const x = out[o];
  const y = out[o + 1];
  const z = out[o + 2];
  const w = out[o + 3];
  const by = 1 / Math.sqrt(x * x + y * y + z * z + w * w);
  for (let k = 0; k < 4; k++) out[o + k] *= by;
}

const UNIT = [1, 1, 1];

/** Make the columns unit; false, with the columns spoilt, when they are not square to each other or one has vanished. */
function normalised(a: Float64Array): boolean {
  for (let c = 0; c < 9; c += 3) {
    const length = Math.sqrt(a[c] * a[c] + a[c + 1] * a[c + 1] + a[c + 2] * a[c + 2]);
    if (!(length > 1e-150)) return false;
    const by = 1 / length;
    a[c] *= by;
    a[c + 1] *= by;
    a[c + 2] *= by;
  }
  for (let c = 0; c < 9; c += 3) {
    const d = c === 6 ? 0 : c + 3;
    if (Math.abs(a[c] * a[d] + a[c + 1] * a[d + 1] + a[c + 2] * a[d + 2]) > SQUARE) return false;
  }
  return true;
}

const turn = new Float64Array(9);

/** What is left of the linear part once the turn `q` is taken out of it: Rᵀ·M, nine numbers by columns. */
export function stretchOf(out: Float64Array, q: Numbers, qo: number, m: Numbers, mo: number): void {
  matrixFromQuat(turn, 0, 3, q, qo);
  for (let c = 0; c < 3; c++)
    for (let r = 0; r < 3; r++)
      out[c * 3 + r] = turn[r * 3] * m[mo + c * 4] + turn[r * 3 + 1] * m[mo + c * 4 + 1] + turn[r * 3 + 2] * m[mo + c * 4 + 2];
}

/** The linear part R·P of a matrix from a turn and a stretch; the rest of the matrix stays. */
export function writeTurned(m: Numbers, mo: number, q: Numbers, qo: number, stretch: Float64Array): void {
  matrixFromQuat(turn, 0, 3, q, qo);
  for (let c = 0; c < 3; c++)
    for (let r = 0; r < 3; r++)
      m[mo + c * 4 + r] = turn[r] * stretch[c * 3] + turn[3 + r] * stretch[c * 3 + 1] + turn[6 + r] * stretch[c * 3 + 2];
}

function determinant(a: Float64Array): number {
  return a[0] * (a[4] * a[8] - a[5] * a[7]) - a[3] * (a[1] * a[8] - a[2] * a[7]) + a[6] * (a[1] * a[5] - a[2] * a[4]);
}

const lengthOf = (a: Float64Array, c: number) => Math.hypot(a[c * 3], a[c * 3 + 1], a[c * 3 + 2]);
const dot = (a: Float64Array, c: number, d: number) => a[c * 3] * a[d * 3] + a[c * 3 + 1] * a[d * 3 + 1] + a[c * 3 + 2] * a[d * 3 + 2];

/** X ← (X + X⁻ᵀ)/2, scaled to converge quickly. A matrix that flattens space is left to `straighten`. */
function nearestOrthogonal(a: Float64Array): void {
  for (let step = 0; step < STEPS; step++) {
    const d = determinant(a);
    const size = lengthOf(a, 0) * lengthOf(a, 1) * lengthOf(a, 2);
    if (!(Math.abs(d) > 1e-12 * size)) return;
    // The rows of the inverse, transposed, are the cross products of the columns.
    for (let c = 0; c < 3; c++) {
      const [e, f] = [((c + 1) % 3) * 3, ((c + 2) % 3) * 3];
      inverse[c * 3] = (a[e + 1] * a[f + 2] - a[e + 2] * a[f + 1]) / d;
      inverse[c * 3 + 1] = (a[e + 2] * a[f] - a[e] * a[f + 2]) / d;
      inverse[c * 3 + 2] = (a[e] * a[f + 1] - a[e + 1] * a[f]) / d;
    }
    const gamma = Math.sqrt(Math.hypot(...inverse) / Math.hypot(...a));
    let change = 0;
    for (let k = 0; k < 9; k++) {
      const next = (gamma * a[k] + inverse[k] / gamma) / 2;
      change = Math.max(change, Math.abs(next - a[k]));
      a[k] = next;
    }
    if (change < 1e-15) return;
  }
}

/** Columns made unit and square, in order; those that vanish are made up from the others. */
function straighten(a: Float64Array): void {
  const handed = determinant(a) < 0 ? -1 : 1;
  const done: number[] = [];
  for (let c = 0; c < 3; c++) {
    for (const d of done) {
      const along = dot(a, c, d);
      for (let r = 0; r < 3; r++) a[c * 3 + r] -= along * a[d * 3 + r];
    }
    const length = lengthOf(a, c);
    if (!(length > 1e-150)) continue;
    for (let r = 0; r < 3; r++) a[c * 3 + r] /= length;
    done.push(c);
  }
  for (let c = 0; c < 3; c++) {
    if (done.includes(c)) continue;
    for (let axis = 0; axis < 3 && !done.includes(c); axis++) {
      for (let r = 0; r < 3; r++) a[c * 3 + r] = r === axis ? 1 : 0;
      for (const d of done) {
        const along = dot(a, c, d);
        for (let r = 0; r < 3; r++) a[c * 3 + r] -= along * a[d * 3 + r];
      }
      const length = lengthOf(a, c);
      if (length < 0.5) continue;
      for (let r = 0; r < 3; r++) a[c * 3 + r] /= length;
      done.push(c);
    }
    if (done.length === 3 && determinant(a) * handed < 0) for (let r = 0; r < 3; r++) a[c * 3 + r] = -a[c * 3 + r];
  }
}
