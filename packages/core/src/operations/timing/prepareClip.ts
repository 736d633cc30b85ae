import { type Curve, HOLD } from "../../curve/curve.ts";
import { settle } from "../../curve/tangents.ts";
import { turnedCurve } from "../../curve/turn.ts";
import { KneaderError } from "../../errors.ts";
import type { Clip } from "../../model/clip.ts";
import type { Shot } from "../../model/shot.ts";
import { framesPerSecond } from "../../model/rate.ts";
import { mirrorOptions, type MirrorSettings } from "../shared/mirrorSettings.ts";
import { mirrorClip } from "../poses/mirrorClip.ts";

interface ClipChange extends MirrorSettings {
  readonly keys: Clip;
  readonly mirrored: boolean;
  readonly reversed: boolean;
  /** Percent of the time it took. */
  readonly takes: number;
}

/** The clip in this shot's frames, mirrored, stretched and turned round as asked. */
export function prepareClip(shot: Shot, s: ClipChange): Clip {
  const clip = s.mirrored ? mirrorClip(shot, s.keys, shot.base, mirrorOptions(shot, s)) : s.keys;
  if (Object.keys(clip.curves).length === 0)
    throw new KneaderError("no-match", "Paste keys: none of the copied controls is ever mirrored.", "Paste them as they are.");
  const stretch = (framesPerSecond(shot.rate) / framesPerSecond(clip.rate)) * (s.takes / 100);
  const length = clip.length * stretch;
  const stretched = (curve: Curve): Curve => ({
    ...curve,
    times: curve.times.map((time) => time * stretch),
    slopeIn: curve.slopeIn.map((slope) => slope / stretch),
    slopeOut: curve.slopeOut.map((slope) => slope / stretch),
  });
  const turned = (curve: Curve) => settle({ ...turnedCurve(curve, length), runIn: HOLD, runOut: HOLD });
  const curves = Object.fromEntries(
    Object.entries(clip.curves).map(([key, curve]) => {
      const timed = stretch === 1 ? curve : stretched(curve);
      return [key, s.reversed ? turned(timed) : timed];
    }),
  );
  return { ...clip, length, curves };
}
