import { type Curve, type Key, keyOn, keysOf } from "../../curve/curve.ts";
import { insertKeyOn, insertKeysOn } from "../../curve/edit.ts";
import { openRounds } from "../../curve/loop.ts";
import { curveKeeping } from "../../curve/make.ts";
import { sampleCurve } from "../../curve/track.ts";
import { freedKey } from "../../curve/turn.ts";
import type { FrameRange } from "../../model/shot.ts";

/** Values nearer than this are the same. */
const SAME = 1e-9;

/**
 * A curve with other keys in a span, in place of what it had there. The motion outside stays what it was: where the new
 * keys go on from it, up to the span; where they begin elsewhere, up to a key put one frame outside it.
 */
export function inSpan(given: Curve, put: Curve, { start, end }: FrameRange): Curve {
  const present = openRounds(openRounds(given, start), end);
  // Where it is keyed only in between it holds up to the ends of the span, and not beyond.
  const laid = keysOf(
    insertKeysOn(put, [...(present.times[0] < start ? [start] : []), ...(present.times[present.times.length - 1] > end ? [end] : [])]),
  );
  const [first, last] = [laid[0], laid[laid.length - 1]];
  const goesOn = (key: Key, time: number) =>
    Math.abs(key.time - time) < 1e-6 && Math.abs(key.value - sampleCurve(present, time)) < SAME * (1 + Math.abs(key.value));
  const [joinsBefore, joinsAfter] = [goesOn(first, start), goesOn(last, end)];
  const guards = [joinsBefore ? start : start - 1, joinsAfter ? end : end + 1];
  let kept = present;
  if (present.times[0] < guards[0] - 1e-6) kept = insertKeyOn(kept, guards[0]);
  if (present.times[present.times.length - 1] > guards[1] + 1e-6) kept = insertKeyOn(kept, guards[1]);
  const keys = keysOf(kept);
  const before = keys.filter(({ time }) => time < start - 1e-6);
  const after = keys.filter(({ time }) => time > end + 1e-6);
  const inside = laid.map((key): Key => {
    const there = (key === first && joinsBefore && before.length > 0) || (key === last && joinsAfter && after.length > 0);
    const at = there ? keyOn(kept, key.time) : -1;
    if (at < 0) return key;
    const own = keys[at];
    const outer = { ...key };
    if (key === first && joinsBefore && before.length > 0)
      Object.assign(outer, { slopeIn: own.slopeIn, weightIn: own.weightIn, kindIn: freedKey(own).kindIn });
    if (key === last && joinsAfter && after.length > 0)
      Object.assign(outer, { slopeOut: own.slopeOut, weightOut: own.weightOut, kindOut: freedKey(own).kindOut });
    return outer;
  });
  // Tangents of both point where they did, whatever stands beside them now.
  return curveKeeping([...before, ...inside, ...after], present);
}
