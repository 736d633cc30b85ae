import type { Control } from "../model/rig.ts";
import { countedWord, listed } from "../words.ts";

/** What to tell of a file that holds no constraints and spaces: whose motion is baked into it. */
export function sayBaked(led: readonly Control[]): string {
  const names = listed(led.map(({ name }) => name));
  return `Constraints, spaces and carriers are baked into the motion of ${countedWord(led.length, "control")}: ${names}.`;
}
