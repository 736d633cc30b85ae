const tables: Float64Array[] = [];

/**
 * The four cubic Hermite basis functions at the whole frames 0..length of a segment, four numbers a
 * frame: value at the start, slope at the start, value at the end, slope at the end. Slopes are in
 * units per frame. (glTF 2.0, appendix "Animation Sampler Interpolation Modes".)
 */
export function hermiteTable(length: number): Float64Array {
  let table = tables[length];
  if (!table) {
    table = new Float64Array(4 * (length + 1));
    for (let k = 0; k <= length; k++) hermiteAt(table, 4 * k, k / length, length);
    tables[length] = table;
  }
  return table;
}

const halves: Float64Array[] = [];

/** The same at the half frames 0.5, 1.5 … of a segment. */
export function hermiteHalves(length: number): Float64Array {
  let table = halves[length];
  if (!table) {
    table = new Float64Array(4 * length);
    for (let k = 0; k < length; k++) hermiteAt(table, 4 * k, (k + 0.5) / length, length);
    halves[length] = table;
  }
  return table;
}

const products: Float64Array[] = [];

/**
 * Sums over the whole frames 1..length of the products of two basis functions: the lower triangle row by
 * row, ten numbers (0·0, 1·0, 1·1, 2·0 …). With equal weights they are all that least squares needs
 * besides the samples.
 */
export function hermiteProducts(length: number): Float64Array {
  let sums = products[length];
  if (!sums) {
    sums = new Float64Array(10);
    const table = hermiteTable(length);
    for (let k = 1; k <= length; k++)
      for (let i = 0, n = 0; i < 4; i++) for (let j = 0; j <= i; j++, n++) sums[n] += table[4 * k + i] * table[4 * k + j];
    products[length] = sums;
  }
  return sums;
}

function hermiteAt(out: Float64Array, o: number, x: number, length: number): void {
  const x2 = x * x;
  const x3 = x2 * x;
  out[o] = 2 * x3 - 3 * x2 + 1;
  out[o + 1] = (x3 - 2 * x2 + x) * length;
  out[o + 2] = 3 * x2 - 2 * x3;
  out[o + 3] = (x3 - x2) * length;
}

/**
 * Calm between frames: half-way between any two frames the segment stays within the range of the two
 * samples, widened by the tolerance. A fit that looks at frames alone can swing in between.
 */
export function isCalm(
  y: Float64Array,
  from: number,
  to: number,
  v0: number,
  s0: number,
  v1: number,
  s1: number,
  tolerance: number,
): boolean {
  const length = to - from;
  const chord = (v1 - v0) / length;
  const c2 = (3 * chord - 2 * s0 - s1) / length;
  const c3 = (s0 + s1 - 2 * chord) / (length * length);
  for (let k = 0; k < length; k++) {
    const x = k + 0.5;
    const value = ((c3 * x + c2) * x + s0) * x + v0;
    const p = y[from + k];
    const q = y[from + k + 1];
    if (p < q ? value < p - tolerance || value > q + tolerance : value < q - tolerance || value > p + tolerance) return false;
  }
  return true;
}
