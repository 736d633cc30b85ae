import { type Curve, keyOn, keysOf, Tangent } from "./curve.ts";
import { insertKeyOn, setKey } from "./edit.ts";
import { curveFromKeys } from "./make.ts";
import { repeats } from "./runOn.ts";
import { sampleCurve } from "./track.ts";

/**
 * The curve with a value at a frame from which it comes back to itself: the difference fades over so many frames, by
 * 1 − u²(3 − 2u), on the keys there are; from then on the curve is as it was. With 0 frames only the key is set. A curve that
 * repeats fades at most to its last key.
 */
export function fadingFrom(given: Curve, frame: number, over: number, value: number): Curve {
  const off = value - sampleCurve(given, frame);
  if (over > 0 && Math.abs(off) < 1e-12) return insertKeyOn(given, frame);
  if (over <= 0) return setKey(given, frame, value);
  const last = given.times[given.times.length - 1];
  const end = repeats(given.runOut) ? Math.min(frame + over, last) : frame + over;
  if (end <= frame) return setKey(given, frame, value);
  const curve = insertKeyOn(insertKeyOn(given, frame), end);
  const keys = keysOf(curve).map((key) => {
    if (key.time < frame - 1e-6 || key.time > end - 1e-6) return key;
    const u = Math.max(0, (key.time - frame) / (end - frame));
    const slope = (-6 * u * (1 - u) * off) / (end - frame);
    const isStart = key.time < frame + 1e-6;
    return {
      ...key,
      value: key.value + off * (1 - u * u * (3 - 2 * u)),
      slopeIn: key.slopeIn + (isStart ? 0 : slope),
      slopeOut: key.slopeOut + slope,
      // An end that was held level would go on level toward what comes back.
      ...(isStart && key.kindOut === Tangent.flat ? { kindOut: Tangent.auto } : {}),
    };
  });
  const made = curveFromKeys(keys, curve);
  // What follows is to stay: its tangent does not turn after what came to stand before it.
  const i = keyOn(made, end);
  if (made.slopeOut[i] === curve.slopeOut[i] || made.kindOut[i] === Tangent.stepped) return made;
  return curveFromKeys(
    keysOf(made).map((key, n) => (n === i ? { ...key, kindOut: Tangent.free, slopeOut: curve.slopeOut[i] } : key)),
    curve,
  );
}
