import { KneaderError } from "../../errors.ts";

/** A place written as three numbers with blanks between. Errors: `bad-setting`, beginning with the title of the operation. */
export function readPlace(title: string, text: string): [number, number, number] {
  const numbers = text
    .trim()
    .split(/[\s,;]+/)
    .map(Number);
  if (numbers.length !== 3 || !numbers.every(Number.isFinite))
    throw new KneaderError("bad-setting", `${title}: "${text}" is no place.`, "Write X Y Z, such as 0 1.2 3, or choose a control.");
  return [numbers[0], numbers[1], numbers[2]];
}
