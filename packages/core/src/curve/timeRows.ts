/** A rising row on whole frames, each once; a row that is so already is answered as it is. */
export function wholeFramesOf(row: Float64Array): Float64Array {
  if (row.every(Number.isInteger)) return row;
  const frames = row.map(Math.round);
  return frames.filter((frame, i) => i === 0 || frame !== frames[i - 1]);
}

/**
 * Rising rows of times as one rising row, each time once. A row that many curves share is looked at once,
 * and a row that is the only one is answered as it is: not to be written to.
 */
export function unionOfTimes(rows: Iterable<Float64Array>): Float64Array {
  let all: Float64Array | null = null;
  for (const row of new Set(rows)) all = all === null ? row : union(all, row);
  return all ?? new Float64Array(0);
}

function union(a: Float64Array, b: Float64Array): Float64Array {
  const all = new Float64Array(a.length + b.length);
  let [i, j, n] = [0, 0, 0];
  while (i < a.length && j < b.length) {
    const x = a[i];
    const y = b[j];
    if (x <= y) i++;
    if (y <= x) j++;
    all[n++] = Math.min(x, y);
  }
  // What is left of one row comes after all of the other.
  for (; i < a.length; i++) all[n++] = a[i];
  for (; j < b.length; j++) all[n++] = b[j];
  return all.subarray(0, n);
}

/** Do two rows have the same times? */
export function isSameRow(a: Float64Array, b: Float64Array): boolean {
  if (a === b) return true;
  if (a.length !== b.length) return false;
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return false;
  return true;
}

/** Call `found` with the place in `all` of every time of a rising row that is part of it. */
export function placesOf(row: Float64Array, all: Float64Array, found: (at: number, i: number) => void): void {
  for (let i = 0, at = 0; i < row.length; i++) {
    while (all[at] < row[i]) at++;
    found(at, i);
  }
}
