import { type Control, figureControls, type Rig } from "../model/rig.ts";
import { wordsOf } from "./partners.ts";

/** Words by which feet and hands are known. */
const words = { feet: ["foot", "feet", "ankle", "hoof", "paw"], hands: ["hand", "wrist", "palm"] } as const;

export type Ends = keyof typeof words;

/** The feet or the hands of a rig: of each limb the uppermost control that is called so. */
export function limbEnds(rig: Rig, ends: Ends): Control[] {
  const isEnd = ({ name }: Control) => wordsOf(name).some((word) => (words[ends] as readonly string[]).includes(word));
  const inside = new Set<string>();
  const found: Control[] = [];
  for (const control of figureControls(rig)) {
    const isBelow = control.parent !== null && inside.has(control.parent);
    if (!isBelow && !isEnd(control)) continue;
    inside.add(control.id);
    if (!isBelow) found.push(control);
  }
  return found;
}
