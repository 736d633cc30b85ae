import { type Curve, keysOf, Tangent } from "./curve.ts";
import { insertKeysOn } from "./edit.ts";
import { curveKeeping } from "./make.ts";

/**
 * A strength or weight that is 0 from the first to the last frame of a span, and at the whole frames outside it what it was:
 * it goes and comes back at once. `first` is the first frame that is played.
 */
export function silenced(given: Curve, { start, end }: { readonly start: number; readonly end: number }, first: number): Curve {
  const wide = insertKeysOn(given, start > first ? [start - 1, start, end + 1] : [start, end + 1]);
  const keys = keysOf(wide)
    .filter(({ time }) => time <= start + 1e-6 || time > end + 1 - 1e-6)
    .map((own) => {
      if (Math.abs(own.time - start) < 1e-6) return { ...own, value: 0, kindIn: Tangent.flat, kindOut: Tangent.stepped };
      return Math.abs(own.time - start + 1) < 1e-6 ? { ...own, kindOut: Tangent.stepped } : own;
    });
  return curveKeeping(keys, wide);
}
