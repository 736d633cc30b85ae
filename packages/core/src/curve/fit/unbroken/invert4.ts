const m = new Float64Array(16);
const inverse = new Float64Array(16);

function swapRows(a: Float64Array, i: number, j: number): void {
  for (let k = 0; k < 4; k++) {
    const kept = a[4 * i + k];
    a[4 * i + k] = a[4 * j + k];
    a[4 * j + k] = kept;
  }
}

/**
 * The inverse of a 4 × 4 matrix, given by rows and answered by columns: its column i at 4i. Gauss and Jordan's elimination with
 * the largest pivots of each column. Answers false where there is none.
 */
export function invert4(out: Float64Array, matrix: Float64Array): boolean {
  m.set(matrix);
  inverse.fill(0);
  inverse[0] = inverse[5] = inverse[10] = inverse[15] = 1;
  for (let c = 0; c < 4; c++) {
    let pivot = c;
    for (let r = c + 1; r < 4; r++) if (Math.abs(m[4 * r + c]) > Math.abs(m[4 * pivot + c])) pivot = r;
    const value = m[4 * pivot + c];
    if (Math.abs(value) < 1e-14) return false;
    if (pivot !== c) {
      swapRows(m, c, pivot);
      swapRows(inverse, c, pivot);
    }
    const scale = 1 / value;
    for (let k = 0; k < 4; k++) {
      m[4 * c + k] *= scale;
      inverse[4 * c + k] *= scale;
    }
    for (let r = 0; r < 4; r++) {
      const factor = m[4 * r + c];
      if (r === c || factor === 0) continue;
      for (let k = 0; k < 4; k++) {
        m[4 * r + k] -= factor * m[4 * c + k];
        inverse[4 * r + k] -= factor * inverse[4 * c + k];
      }
    }
  }
  for (let i = 0; i < 4; i++) for (let c = 0; c < 4; c++) out[4 * i + c] = inverse[4 * c + i];
  return true;
}
