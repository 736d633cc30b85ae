import type { FrameRange, Shot } from "../model/shot.ts";
import { changedSpan } from "./changedSpan.ts";
import { type Drift, measureDrift } from "./drift.ts";

/** As `measureDrift`, looking only where the two shots may differ: quick where little of a long shot was changed. */
export function measureChangedDrift(before: Shot, after: Shot, range: FrameRange): Drift {
  const span = changedSpan(before, after);
  if (span === "all") return measureDrift(before, after, range);
  const [start, end] = [Math.ceil(range.start), Math.max(Math.ceil(range.start), Math.floor(range.end))];
  const from = Math.min(end, Math.max(start, span ? Math.floor(span.start) : start));
  const to = Math.max(from, Math.min(end, span ? Math.ceil(span.end) : start));
  const part = measureDrift(before, after, { start: from, end: to });
  const wide = (column: Float64Array) => {
    const all = new Float64Array(end - start + 1);
    all.set(column, from - start);
    return all;
  };
  const at = (place: Drift["turn"]) => (place.amount > 0 ? place : { ...place, frame: start });
  return {
    turn: at(part.turn),
    place: at(part.place),
    turnPerFrame: wide(part.turnPerFrame),
    placePerFrame: wide(part.placePerFrame),
    start,
  };
}
