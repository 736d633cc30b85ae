import type { ActionCard } from "../model/action.ts";

/** What a card says that people change. */
const LABELS = ["name", "folder", "tags", "notes"] as const;

const same = (a: ActionCard, b: ActionCard, label: (typeof LABELS)[number]) => JSON.stringify(a[label]) === JSON.stringify(b[label]);

/**
 * The card `stands` with what was changed from `seen` to `wanted`, and whether one of those labels
 * has become another meanwhile. Labels that were not changed stay as they stand.
 */
export function relabelled(stands: ActionCard, wanted: ActionCard, seen: ActionCard): { card: ActionCard; clashes: boolean } {
  const changed = LABELS.filter((label) => !same(wanted, seen, label));
  return {
    card: { ...stands, ...Object.fromEntries(changed.map((label) => [label, wanted[label]])) },
    clashes: changed.some((label) => !same(stands, seen, label) && !same(stands, wanted, label)),
  };
}
