import { type Curve, keyOn } from "./curve.ts";
import { insertKeyOn } from "./edit.ts";
import { keeping } from "./make.ts";
import { someKeys } from "./someKeys.ts";

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
  const sealed = someKeys(
    after,
    after.times.map((_, i) => i),
  );
  for (let i = 0; i <= last; i++) {
    const time = after.times[i];
    const outerIn = time < start + 1e-6 || i === 0;
    const outerOut = time > end - 1e-6 || i === last;
    if (!outerIn && !outerOut) continue;
    const at = keyOn(before, time);
    const from = at >= 0 ? at : i === 0 ? 0 : before.times.length - 1;
    if (outerIn || time > end + 1e-6) {
      sealed.slopeIn[i] = before.slopeIn[from];
      sealed.weightIn[i] = before.weightIn[from];
      sealed.kindIn[i] = before.kindIn[from];
    }
    if (outerOut || time < start - 1e-6) {
      sealed.slopeOut[i] = before.slopeOut[from];
      sealed.weightOut[i] = before.weightOut[from];
      sealed.kindOut[i] = before.kindOut[from];
    }
  }
  return keeping({ ...sealed, runIn: before.runIn, runOut: before.runOut });
}
