/** Below this share of the largest entry a pivot counts as none. */
const NONE = 1e-12;

/**
 * The solution of a small square system given by rows, by elimination with the largest pivot first; null when
 * it has none or many. What is given is left as it is.
 */
export function solveLinear(rows: readonly (readonly number[])[], right: readonly number[]): number[] | null {
  const n = right.length;
  const work = rows.map((row, r) => [...row, right[r]]);
  const largest = Math.max(...rows.flat().map(Math.abs));
  for (let column = 0; column < n; column++) {
    let pivot = column;
    for (let r = column + 1; r < n; r++) if (Math.abs(work[r][column]) > Math.abs(work[pivot][column])) pivot = r;
    if (!(Math.abs(work[pivot][column]) > largest * NONE)) return null;
    [work[column], work[pivot]] = [work[pivot], work[column]];
    for (let r = 0; r < n; r++) {
      if (r === column) continue;
      const share = work[r][column] / work[column][column];
      for (let c = column; c <= n; c++) work[r][c] -= share * work[column][c];
    }
  }
  return work.map((row, r) => row[n] / row[r]);
}
