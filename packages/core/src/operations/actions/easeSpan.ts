import { type Curve, type Key, keysOf } from "../../curve/curve.ts";
import { insertKeyOn } from "../../curve/edit.ts";
import { curveKeeping } from "../../curve/make.ts";
import { sampleCurve } from "../../curve/track.ts";
import { channelUnit, splitChannelKey } from "../../model/rig.ts";

/**
 * A curve that takes over from another at its start, or gives over to it at its end: it begins with the value the other
 * has, and what differs is gone after so many frames, along the smooth step 3x² − 2x³. Whole turns count for nothing.
 */
export function easeSpan(curve: Curve, other: Curve, key: string, { easeIn, easeOut, end, start }: EaseTold): Curve {
  let eased = curve;
  const turns = channelUnit(splitChannelKey(key).channel) === "degrees";
  const apart = (time: number) => {
    const off = sampleCurve(other, time) - sampleCurve(curve, time);
    return turns ? off - 360 * Math.round(off / 360) : off;
  };
  if (easeIn > 0) eased = offset(eased, apart(start), start, start + easeIn, 1);
  if (easeOut > 0) eased = offset(eased, apart(end), end, end - easeOut, -1);
  return eased;
}

export interface EaseTold {
  readonly start: number;
  readonly end: number;
  /** Frames. */
  readonly easeIn: number;
  readonly easeOut: number;
}

/** Add so much at `full`, less and less toward `none`, where nothing is left of it. */
function offset(curve: Curve, amount: number, full: number, none: number, way: 1 | -1): Curve {
  if (Math.abs(amount) < 1e-12) return curve;
  const span = none - full;
  const [low, high] = [Math.min(full, none), Math.max(full, none)];
  // Keys where it begins and ends, and one in the middle, where the smooth step is steepest.
  const keyed = [full, full + span / 2, none].reduce((now, time) => insertKeyOn(now, time), curve);
  const keys = keysOf(keyed).map((key): Key => {
    if (key.time < low - 1e-6 || key.time > high + 1e-6) return key;
    const x = Math.min(1, Math.max(0, (none - key.time) / span));
    const slope = (-amount * 6 * x * (1 - x)) / span;
    return { ...key, value: key.value + amount * x * x * (3 - 2 * x), slopeIn: key.slopeIn + slope, slopeOut: key.slopeOut + slope };
  });
  // Beyond the end that is moved the curve goes on with the value it has there.
  const beyond = keys.map((key) =>
    (way > 0 ? key.time < low - 1e-6 : key.time > high + 1e-6) ? { ...key, value: key.value + amount } : key,
  );
  return curveKeeping(beyond);
}
