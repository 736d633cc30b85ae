import { typedNumber } from "../../arithmetic.ts";

/** What was typed on a gap: the lengths of so many gaps from it on, a hold to be made, or a hold to be removed. */
export type GapWish =
  | { readonly kind: "gaps"; readonly frames: readonly number[] }
  | { readonly kind: "hold"; readonly frames: number }
  | { readonly kind: "no hold" };

const LONGEST = 100000;
const isGap = (frames: number | null): frames is number => frames !== null && Number.isInteger(frames) && frames >= 1 && frames <= LONGEST;

/**
 * Read what was typed on gaps that have these lengths: one number or sum ("4", "+1") for all of them, one for
 * each ("4 3 2"), "hold 8", or 0 where the gap is a hold. Raises a sentence for the user.
 */
export function readGapText(text: string, present: readonly number[], isHold: boolean): GapWish {
  const hold = /^h(?:old)?\s*(\d+)$/i.exec(text.trim());
  if (hold) {
    if (!isGap(Number(hold[1]))) throw new Error(refusal(hold[1], present));
    return { kind: "hold", frames: Number(hold[1]) };
  }
  if (isHold && text.trim() === "0") return { kind: "no hold" };
  const words = text
    .trim()
    .split(/[\s,;·]+/)
    .filter(Boolean);
  if (words.length > 1 && words.every((word) => /^\d+$/.test(word))) {
    const frames = words.map(Number);
    const wrong = words.find((_, i) => !isGap(frames[i]));
    if (wrong !== undefined) throw new Error(refusal(wrong, present));
    if (present.length > 1 && frames.length !== present.length)
      throw new Error(`${frames.length} gaps were typed and ${present.length} are picked. Type one number for all, or one for each.`);
    return { kind: "gaps", frames };
  }
  const frames = present.map((length) => typedNumber(text, length));
  const wrong = frames.findIndex((length) => !isGap(length));
  if (wrong >= 0) throw new Error(refusal(text, present));
  return { kind: "gaps", frames: frames as number[] };
}

function refusal(text: string, present: readonly number[]): string {
  const stays = present.length === 1 ? `The gap stays ${present[0]}` : "The gaps stay as they are";
  return `A gap is a whole number of frames from 1 to 100 000; "${text.trim()}" is not. ${stays}.`;
}
