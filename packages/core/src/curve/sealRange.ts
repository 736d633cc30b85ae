import { type Curve, type Key, keyOn, keysOf } from "./curve.ts";
import { insertKeyOn } from "./edit.ts";
import { curveKeeping } from "./make.ts";

interface Span {
  readonly start: number;
  readonly end: number;
}

/** The curve with keys at the ends of a span, where they lie among its keys; it plays as it did. */
export function keyedAtEnds(curve: Curve, { start, end }: Span): Curve {
  const [first, last] = [curve.times[0], curve.times[curve.times.length - 1]];
  const on = (next: Curve, time: number) => (time > first && time < last ? insertKeyOn(next, time) : next);
  return on(on(curve, start), end);
}

/**
 * `after` with tangents pointing as they do in `before` outside a span, the outer sides at its ends included. Both
 * have keys at its ends (see `keyedAtEnds`), and `after` has the same keys outside it.
 */
export function sealRange(before: Curve, after: Curve, { start, end }: Span): Curve {
  const last = after.times.length - 1;
  const keys = keysOf(after).map((key, i): Key => {
    const at = keyOn(before, key.time);
    const outerIn = key.time < start + 1e-6 || i === 0;
    const outerOut = key.time > end - 1e-6 || i === last;
    if (!outerIn && !outerOut) return key;
    const from = at >= 0 ? at : i === 0 ? 0 : before.times.length - 1;
    const sealed = { ...key };
    if (outerIn || key.time > end + 1e-6)
      Object.assign(sealed, { slopeIn: before.slopeIn[from], weightIn: before.weightIn[from], kindIn: before.kindIn[from] });
    if (outerOut || key.time < start - 1e-6)
      Object.assign(sealed, { slopeOut: before.slopeOut[from], weightOut: before.weightOut[from], kindOut: before.kindOut[from] });
    return sealed;
  });
  return curveKeeping(keys, before);
}
