import { type Curve, type Key, keysOf } from "../../curve/curve.ts";
import { openRounds } from "../../curve/loop.ts";
import { curveFromKeys } from "../../curve/make.ts";

/** What becomes of the keys a curve has in the span into which others are put. */
export type Place = "merge" | "replace" | "whole";

/**
 * Keys put into a curve. Merging keeps what is there except at the same frames; replacing takes out what
 * the span from the first to the last new key held; "whole" everything. Where a new end falls on a key that
 * was there, the side that looks outward stays as it was. Put in a round, rounds become keys first.
 */
export function joinKeys(given: Curve | undefined, keys: readonly Key[], place: Place): Curve {
  if (!given || place === "whole" || keys.length === 0) return curveFromKeys(keys, place === "whole" ? {} : given);
  const [first, last] = [keys[0].time, keys[keys.length - 1].time];
  const present = openRounds(openRounds(given, first), last);
  const there = keysOf(present);
  const at = (time: number) => there.find((key) => Math.abs(key.time - time) < 1e-6);
  const [before, after] = [at(first), at(last)];
  const hasEarlier = there[0].time < first - 1e-6;
  const hasLater = there[there.length - 1].time > last + 1e-6;
  const laid = keys.map((key, i) => {
    let joined = key;
    if (i === 0 && before && hasEarlier) joined = { ...joined, slopeIn: before.slopeIn, weightIn: before.weightIn, kindIn: before.kindIn };
    if (i === keys.length - 1 && after && hasLater)
      joined = { ...joined, slopeOut: after.slopeOut, weightOut: after.weightOut, kindOut: after.kindOut };
    return joined;
  });
  return curveFromKeys(woven(there, laid, place === "merge"), present);
}

/** Two rising rows of keys as one. Of keys at one time the laid one stays; within their span the others only in a merge. */
function woven(there: readonly Key[], laid: readonly Key[], merge: boolean): Key[] {
  const [first, last] = [laid[0].time, laid[laid.length - 1].time];
  const keys: Key[] = [];
  let n = 0;
  for (const key of there) {
    while (n < laid.length && laid[n].time < key.time - 1e-6) keys.push(laid[n++]);
    if (n < laid.length && laid[n].time <= key.time + 1e-6) continue;
    if (merge || key.time < first - 1e-6 || key.time > last + 1e-6) keys.push(key);
  }
  while (n < laid.length) keys.push(laid[n++]);
  return keys;
}
