import type { Control, Rig } from "../model/rig.ts";

/** Pairs of words that mean left and right, as they stand in names. */
const pairs: readonly [string, string][] = [
  ["left", "right"],
  ["l", "r"],
  ["lt", "rt"],
  ["lf", "rf"],
];

/** "LeftUpLeg" → left, up, leg; "hand_L" → hand, l; "LHipJoint" → l, hip, joint. */
export function wordsOf(name: string): string[] {
  return name
    .replace(/([a-z0-9])([A-Z])/g, "$1 $2")
    .replace(/([A-Z])([A-Z][a-z])/g, "$1 $2")
    .split(/[^A-Za-z0-9]+/)
    .filter(Boolean)
    .map((word) => word.toLowerCase());
}

/** The side that a name speaks of, if it does. */
export function sideOf(name: string): "left" | "right" | null {
  const words = wordsOf(name);
  for (const [left, right] of pairs) {
    if (words.includes(left)) return "left";
    if (words.includes(right)) return "right";
  }
  return null;
}

/** The name's words with the side swapped, or null when it names no side. */
function swapped(list: readonly string[]): string | null {
  for (const [left, right] of pairs) {
    const at = list.findIndex((word) => word === left || word === right);
    if (at >= 0) return list.map((word, i) => (i === at ? (word === left ? right : left) : word)).join(" ");
  }
  return null;
}

/**
 * Find every control's partner from its name, in any common left/right habit. A control that names
 * no side is its own partner; one that names a side but has no counterpart gets null.
 */
export function findPartners(controls: readonly Control[]): Control[] {
  const byWords = new Map(controls.map((control) => [wordsOf(control.name).join(" "), control.id]));
  return controls.map((control) => {
    const other = swapped(wordsOf(control.name));
    return { ...control, partner: other === null ? control.id : (byWords.get(other) ?? null) };
  });
}

/** Controls that name a side but have nobody on the other one. */
export function withoutPartner(rig: Rig): Control[] {
  return rig.controls.filter((control) => control.partner === null && swapped(wordsOf(control.name)) !== null);
}
