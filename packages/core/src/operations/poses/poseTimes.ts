/** Where a time goes when poses go from `from` to `to`; before the first it stays, after the last it shifts along. */
export function poseTime(time: number, from: readonly number[], to: readonly number[]): number {
  const last = from.length - 1;
  if (time <= from[0]) return time + to[0] - from[0];
  if (time >= from[last]) return time + to[last] - from[last];
  let k = 0;
  for (let high = last; high - k > 1; ) {
    const middle = (k + high) >>> 1;
    if (from[middle] <= time) k = middle;
    else high = middle;
  }
  return to[k] + ((time - from[k]) * (to[k + 1] - to[k])) / (from[k + 1] - from[k]);
}
