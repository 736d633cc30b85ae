import type { Skeleton } from "../../figure/anatomy/skeleton.ts";

/** How far along a chain each of its controls is, from 0 at its first to 1 at its last, by the length of its bones. */
export function sharesAlong(skeleton: Skeleton, chain: readonly number[]): number[] {
  const sums: number[] = chain.length > 0 ? [0] : [];
  for (let n = 1; n < chain.length; n++) {
    const [p, q] = [skeleton.place(chain[n - 1]), skeleton.place(chain[n])];
    sums.push(sums[n - 1] + Math.hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2]));
  }
  const whole = sums[sums.length - 1] || 1;
  return sums.map((sum) => sum / whole);
}

/** Leaving a control of the shorter chain without another costs so much, as a share of its length. */
const LEFT_OVER = 0.5;

/**
 * Pairs of two chains in order, as many as the shorter has, so that they stand at the most alike places along them
 * (dynamic programming, as sequences are aligned). Answers places in the lists.
 */
export function alongChain(a: readonly number[], b: readonly number[]): [number, number][] {
  const cost = Array.from({ length: a.length + 1 }, () => new Float64Array(b.length + 1));
  for (let i = 1; i <= a.length; i++) cost[i][0] = i * LEFT_OVER;
  for (let j = 1; j <= b.length; j++) cost[0][j] = j * LEFT_OVER;
  for (let i = 1; i <= a.length; i++)
    for (let j = 1; j <= b.length; j++)
      cost[i][j] = Math.min(cost[i - 1][j - 1] + Math.abs(a[i - 1] - b[j - 1]), cost[i - 1][j] + LEFT_OVER, cost[i][j - 1] + LEFT_OVER);
  const pairs: [number, number][] = [];
  for (let i = a.length, j = b.length; i > 0 && j > 0; ) {
    if (cost[i][j] === cost[i - 1][j - 1] + Math.abs(a[i - 1] - b[j - 1])) pairs.unshift([--i, --j]);
    else if (cost[i][j] === cost[i - 1][j] + LEFT_OVER) i--;
    else j--;
  }
  return pairs;
}
