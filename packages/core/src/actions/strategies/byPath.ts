import { pathTo, type Skeleton } from "../../figure/anatomy/skeleton.ts";
import { bareNames } from "./names.ts";
import type { Found, Strategy } from "./strategy.ts";

/**
 * Of several controls of one name, the one whose way down from the top is named most alike. Levels that only one side
 * has are passed over: the names of both ways are compared in order.
 */
export const byPath: Strategy = {
  id: "path",
  title: "by path",
  find({ from, to, isOpenFrom, isOpenTo }) {
    const [mine, theirs] = [bareNames(from), bareNames(to)];
    const wayOf = (skeleton: Skeleton, names: readonly string[]) => (i: number) => pathTo(skeleton, i).map((at) => names[at]);
    const [myWay, theirWay] = [wayOf(from, mine), wayOf(to, theirs)];
    const places = new Map<string, number[]>();
    theirs.forEach((name, i) => {
      if (name !== "" && isOpenTo(i)) places.set(name, [...(places.get(name) ?? []), i]);
    });
    return mine.flatMap((name, i): Found[] => {
      const among = isOpenFrom(i) ? (places.get(name) ?? []) : [];
      if (among.length === 0) return [];
      const way = myWay(i);
      const shares = among.map((at) => {
        const other = theirWay(at);
        return (2 * commonInOrder(way, other)) / (way.length + other.length);
      });
      const best = Math.max(...shares);
      // As near as the next one: it cannot be said.
      if (shares.filter((share) => share === best).length > 1) return [];
      return [{ from: i, to: among[shares.indexOf(best)], sure: 0.6 + 0.3 * best }];
    });
  },
};

/** Length of the longest common subsequence of two short lists. */
function commonInOrder(a: readonly string[], b: readonly string[]): number {
  let row = new Array<number>(b.length + 1).fill(0);
  for (const word of a) {
    const next = [0];
    b.forEach((other, j) => {
      next.push(word === other ? row[j] + 1 : Math.max(row[j + 1], next[j]));
    });
    row = next;
  }
  return row[b.length];
}
