import type { Found, Strategy } from "./strategy.ts";
import { bareNames, onlyOnes, plain } from "./names.ts";

/**
 * The control of the same name: to the letter, or without regard to case, punctuation, a common beginning and how a side
 * is written. A name that stands twice on either side says nothing.
 */
export const byName: Strategy = {
  id: "name",
  title: "by name",
  find({ from, to, isOpenFrom, isOpenTo }) {
    const found = new Map<number, Found>();
    const taken = new Set<number>();
    const look = (mine: readonly string[], theirs: readonly string[], sure: number) => {
      const places = onlyOnes(theirs, (i) => isOpenTo(i) && !taken.has(i));
      for (const [name, i] of onlyOnes(mine, (one) => isOpenFrom(one) && !found.has(one))) {
        const at = places.get(name);
        if (at === undefined) continue;
        found.set(i, { from: i, to: at, sure });
        taken.add(at);
      }
    };
    const named = (of: typeof from) => of.controls.map(({ name }) => plain(name));
    // What has the same id and name is the same, whatever else is called so.
    from.controls.forEach(({ id, name }, i) => {
      const at = to.index.get(id);
      if (at === undefined || !isOpenFrom(i) || !isOpenTo(at) || plain(to.controls[at].name) !== plain(name)) return;
      found.set(i, { from: i, to: at, sure: 1 });
      taken.add(at);
    });
    look(named(from), named(to), 1);
    look(bareNames(from), bareNames(to), 0.95);
    return [...found.values()];
  },
};
