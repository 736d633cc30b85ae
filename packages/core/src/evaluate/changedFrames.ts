import type { Curve } from "../curve/curve.ts";
import type { Curves, Shot } from "../model/shot.ts";
import { changedSpan, curveSpan, keyColumns } from "./changedSpan.ts";

/**
 * By frame from `start` on: 1 where two states of a shot may differ there or before the next frame, 0 where every control is
 * where it was, to the last bit. Null where that is not told. Finer than `changedSpan`: also between keys that were changed.
 */
export function changedFrames(before: Shot, after: Shot, start: number, count: number): Uint8Array | null {
  const span = changedSpan(before, after);
  if (span === "all") return null;
  const frames = new Uint8Array(count);
  if (!span) return frames;
  const mark = (from: number, to: number) => {
    frames.fill(1, Math.max(0, Math.floor(from) - start), Math.max(0, Math.min(count, Math.ceil(to) - start + 1)));
  };
  markCurves(before.base, after.base, mark);
  for (const [n, pass] of after.passes.entries()) markCurves(before.passes[n].curves, pass.curves, mark);
  return frames;
}

type MarkFrames = (from: number, to: number) => void;

/** The same channels are there in both, or the span would be "all". */
function markCurves(before: Curves, after: Curves, mark: MarkFrames): void {
  for (const key in after) if (before[key] !== after[key]) markCurve(before[key], after[key], mark);
}

function markCurve(was: Curve, is: Curve, mark: MarkFrames): void {
  const count = is.times.length;
  if (was.times.length !== count) {
    const span = curveSpan(was, is);
    if (span && span !== "all") mark(span.start, span.end);
    return;
  }
  const differs = new Uint8Array(count);
  for (const name of keyColumns) {
    const [a, b] = [was[name], is[name]];
    if (a !== b) for (let i = 0; i < count; i++) if (a[i] !== b[i]) differs[i] = 1;
  }
  for (let i = differs.indexOf(1); i >= 0; i = differs.indexOf(1, i)) {
    const from = i > 0 ? Math.min(was.times[i - 1], is.times[i - 1]) : Number.NEGATIVE_INFINITY;
    while (i < count && differs[i] === 1) i++;
    mark(from, i < count ? Math.max(was.times[i], is.times[i]) : Number.POSITIVE_INFINITY);
  }
}
