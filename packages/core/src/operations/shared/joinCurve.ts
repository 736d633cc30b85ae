import { type Curve, HOLD, keyOn } from "../../curve/curve.ts";
import { openRounds } from "../../curve/loop.ts";
import { someKeys } from "../../curve/someKeys.ts";
import { settle } from "../../curve/tangents.ts";

/** What becomes of the keys a curve has in the span into which others are put. */
export type Place = "merge" | "replace" | "whole";

/**
 * The keys of one curve put into another. Merging keeps what is there except at the same frames; replacing takes out what
 * the span from the first to the last new key held; "whole" everything. Where a new end falls on a key that
 * was there, the side that looks outward stays as it was. Put in a round, rounds become keys first.
 */
export function joinCurve(given: Curve | undefined, laid: Curve, place: Place): Curve {
  const count = laid.times.length;
  if (!given || place === "whole" || count === 0) {
    const { runIn, runOut } = (place === "whole" ? undefined : given) ?? { runIn: HOLD, runOut: HOLD };
    return settle({ ...laid, runIn, runOut });
  }
  const [first, last] = [laid.times[0], laid.times[count - 1]];
  const there = openRounds(openRounds(given, first), last);
  const both = oneAfterTheOther(there, laid);
  const [before, after] = [keyOn(there, first), keyOn(there, last)];
  const own = there.times.length;
  if (before >= 0 && there.times[0] < first - 1e-6) copySide(both, before, own, "in");
  if (after >= 0 && there.times[own - 1] > last + 1e-6) copySide(both, after, own + count - 1, "out");
  return settle(someKeys(both, woven(there.times, laid.times, place === "merge")));
}

/** The columns of both, the keys of the first before those of the other. */
function oneAfterTheOther(a: Curve, b: Curve): Curve {
  const [own, count] = [a.times.length, a.times.length + b.times.length];
  const joined = <Column extends Float64Array | Uint8Array>(column: Column, x: Column, y: Column): Column => {
    column.set(x);
    column.set(y, own);
    return column;
  };
  const numbers = (x: Float64Array, y: Float64Array) => joined(new Float64Array(count), x, y);
  return {
    ...a,
    times: numbers(a.times, b.times),
    values: numbers(a.values, b.values),
    slopeIn: numbers(a.slopeIn, b.slopeIn),
    slopeOut: numbers(a.slopeOut, b.slopeOut),
    weightIn: numbers(a.weightIn, b.weightIn),
    weightOut: numbers(a.weightOut, b.weightOut),
    kindIn: joined(new Uint8Array(count), a.kindIn, b.kindIn),
    kindOut: joined(new Uint8Array(count), a.kindOut, b.kindOut),
  };
}

function copySide({ slopeIn, slopeOut, weightIn, weightOut, kindIn, kindOut }: Curve, from: number, to: number, side: "in" | "out"): void {
  const columns = side === "in" ? [slopeIn, weightIn, kindIn] : [slopeOut, weightOut, kindOut];
  for (const column of columns) column[to] = column[from];
}

/**
 * Two rising rows of times as one, by their places when the second row comes after the first. Of keys at one time the
 * laid one stays; within their span the others only in a merge.
 */
function woven(there: Float64Array, laid: Float64Array, merge: boolean): Int32Array {
  const [first, last] = [laid[0], laid[laid.length - 1]];
  const places = new Int32Array(there.length + laid.length);
  let count = 0;
  let n = 0;
  for (let i = 0; i < there.length; i++) {
    const time = there[i];
    for (; n < laid.length && laid[n] < time - 1e-6; n++) places[count++] = there.length + n;
    if (n < laid.length && laid[n] <= time + 1e-6) continue;
    if (merge || time < first - 1e-6 || time > last + 1e-6) places[count++] = i;
  }
  for (; n < laid.length; n++) places[count++] = there.length + n;
  return places.subarray(0, count);
}
