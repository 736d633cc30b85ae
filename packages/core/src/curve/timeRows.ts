/** Rising rows of times as one rising row, each time once. A row that many curves share is looked at once. */
export function unionOfTimes(rows: Iterable<Float64Array>): Float64Array {
  let all: Float64Array = new Float64Array(0);
  for (const row of new Set(rows)) all = union(all, row);
  return all;
}

function union(a: Float64Array, b: Float64Array): Float64Array {
  const all = new Float64Array(a.length + b.length);
  let n = 0;
  for (let i = 0, j = 0; i < a.length || j < b.length; n++) {
    const time = j >= b.length || a[i] <= b[j] ? a[i] : b[j];
    while (a[i] === time) i++;
    while (b[j] === time) j++;
    all[n] = time;
  }
  return all.subarray(0, n);
}

/** Call `found` with the place in `all` of every time of a rising row that is part of it. */
export function placesOf(row: Float64Array, all: Float64Array, found: (at: number, i: number) => void): void {
  for (let i = 0, at = 0; i < row.length; i++) {
    while (all[at] < row[i]) at++;
    found(at, i);
  }
}
