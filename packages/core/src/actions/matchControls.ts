import { strategies } from "./strategies/strategies.ts";
import type { Found, Strategy } from "./strategies/strategy.ts";
import { aboveWhere, isOwn, type Figure, skeletonOf } from "../figure/anatomy/skeleton.ts";

/** One control of a rig takes what one of another did. Controls by their ids. */
export interface Pair {
  readonly from: string;
  readonly to: string;
  /** What found it, or "hand": it was said. */
  readonly by: Strategy["id"] | "hand";
  /** From 0 to 1. */
  readonly sure: number;
}

/** A control that several were found for: none has it until somebody says which. */
interface Contested {
  readonly to: string;
  readonly from: readonly string[];
}

/** What was said by hand: by the id of a control, the one that takes it; null: it is left out. */
export type HandMap = Readonly<Record<string, string | null>>;

export interface Match {
  readonly pairs: readonly Pair[];
  /** Controls of the figure it was taken from that have none here. Those left out by hand are not among them. */
  readonly open: readonly string[];
  readonly contested: readonly Contested[];
  /** Levels between matched ones that only one of the two has: there they rest, and what they do is done by the next below. */
  readonly bridged: { readonly from: readonly string[]; readonly to: readonly string[] };
}

/**
 * Find for each control of one figure the one of another that is meant: first what is said by hand, then by one strategy
 * after the other, each among what the ones before left open.
 */
export function matchControls(given: Figure, rig: Figure, hand: HandMap = {}, ways: readonly Strategy[] = strategies): Match {
  const [from, to] = [skeletonOf(given), skeletonOf(rig)];
  const found = new Map<number, number>();
  const taken = new Set<number>();
  const leftOut = new Set<number>();
  const pairs: Pair[] = [];
  const contested = new Map<number, Set<number>>();
  const take = ({ from: i, to: at, sure }: Found, by: Pair["by"]) => {
    found.set(i, at);
    taken.add(at);
    contested.delete(at);
    pairs.push({ from: from.controls[i].id, to: to.controls[at].id, by, sure });
  };
  for (const [id, other] of Object.entries(hand)) {
    const [i, at] = [from.index.get(id), other === null ? undefined : to.index.get(other)];
    if (i === undefined) continue;
    if (other === null) leftOut.add(i);
    else if (at !== undefined && !taken.has(at)) take({ from: i, to: at, sure: 1 }, "hand");
  }
  for (const way of ways) {
    const answers = way.find({
      from,
      to,
      found,
      isOpenFrom: (i) => !found.has(i) && !leftOut.has(i),
      isOpenTo: (i) => !taken.has(i),
    });
    const claims = new Map<number, Found[]>();
    for (const one of answers) claims.set(one.to, [...(claims.get(one.to) ?? []), one]);
    for (const [at, all] of claims) {
      if (all.length === 1) take(all[0], way.id);
      else contested.set(at, new Set([...(contested.get(at) ?? []), ...all.map((one) => one.from)]));
    }
  }
  const idOf = (i: number) => from.controls[i].id;
  const reached = new Set(found.values());
  return {
    pairs,
    open: from.controls.flatMap((control, i) => (found.has(i) || leftOut.has(i) || !isOwn(control) ? [] : [control.id])),
    contested: [...contested].flatMap(([at, all]) => {
      const still = [...all].filter((i) => !found.has(i));
      return taken.has(at) || still.length < 2 ? [] : [{ to: to.controls[at].id, from: still.map(idOf) }];
    }),
    bridged: {
      from: between(from, (i) => found.has(i)).map(idOf),
      to: between(to, (i) => reached.has(i)).map((i) => to.controls[i].id),
    },
  };
}

/** Controls that stand between two that are matched, one above and one below. */
function between(skeleton: ReturnType<typeof skeletonOf>, isMatched: (i: number) => boolean): number[] {
  const inside = new Set<number>();
  skeleton.controls.forEach((_, i) => {
    if (!isMatched(i)) return;
    const high = aboveWhere(skeleton, i, isMatched);
    if (high < 0) return;
    for (let at = skeleton.parents[i]; at !== high; at = skeleton.parents[at]) inside.add(at);
  });
  return [...inside].sort((a, b) => a - b);
}
