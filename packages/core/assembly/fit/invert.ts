function swapRows(a: StaticArray<f64>, i: i32, j: i32): void {
  for (let k = 0; k < 4; k++) {
    const kept = unchecked(a[4 * i + k]);
    unchecked((a[4 * i + k] = a[4 * j + k]));
    unchecked((a[4 * j + k] = kept));
  }
}

/**
 * The inverse of a 4 × 4 matrix by rows, which is lost. Gauss and Jordan's elimination with the largest pivots of each column.
 * Answers false where there is none.
 */
export function invert(inverse: StaticArray<f64>, matrix: StaticArray<f64>): bool {
  for (let k = 0; k < 16; k++) unchecked((inverse[k] = k % 5 == 0 ? 1 : 0));
  for (let c = 0; c < 4; c++) {
    let pivot = c;
    for (let r = c + 1; r < 4; r++) if (Math.abs(unchecked(matrix[4 * r + c])) > Math.abs(unchecked(matrix[4 * pivot + c]))) pivot = r;
    const value = unchecked(matrix[4 * pivot + c]);
    if (Math.abs(value) < 1e-14) return false;
    if (pivot != c) {
      swapRows(matrix, c, pivot);
      swapRows(inverse, c, pivot);
    }
    const scale = 1 / value;
    for (let k = 0; k < 4; k++) {
      unchecked((matrix[4 * c + k] *= scale));
      unchecked((inverse[4 * c + k] *= scale));
    }
    for (let r = 0; r < 4; r++) {
      const factor = unchecked(matrix[4 * r + c]);
      if (r == c || factor == 0) continue;
      for (let k = 0; k < 4; k++) {
        unchecked((matrix[4 * r + k] -= factor * matrix[4 * c + k]));
        unchecked((inverse[4 * r + k] -= factor * inverse[4 * c + k]));
      }
    }
  }
  return true;
}
