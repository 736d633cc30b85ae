import { z } from "zod";
import { type Curve, keysOf, Tangent } from "../curve/curve.ts";
import { curveFrom, curveFromKeys } from "../curve/make.ts";
import { sampleTrack, trackOf } from "../curve/track.ts";
import { warpTimes } from "../curve/warpTimes.ts";
import { KneaderError } from "../errors.ts";
import { channelKey } from "../model/rig.ts";
import type { FrameRange } from "../model/shot.ts";
import type { TimedPassKind } from "./passKind.ts";

const NAME = "Warp";

/** Under this key the warp curve stands in `pass.curves`: by frame, the frame of the motion below that plays there. */
export const WARP_FRAME = channelKey(NAME, "frame");

const same = (frame: number) => frame;

/** A warp that changes nothing yet, pinned at the ends of a range. */
export function straightWarp({ start, end }: FrameRange): Curve {
  return curveFrom(
    [
      [start, start],
      [end, end],
    ],
    Tangent.auto,
  );
}

/** Plays what is below at the frame its curve says; before and after the curve's keys time runs as it did. */
export const warpPass: TimedPassKind = {
  id: "warp",
  title: "Time-warp",
  help: "Plays the motion below at other frames, as its curve says; the keys stay where they are.",
  reads: "time",
  madeBy: "time-warp",
  own: { name: NAME, channels: ["frame"] },
  settings: z.object({}),
  reader(pass) {
    const curve = pass.curves[WARP_FRAME];
    if (!curve || curve.times.length < 2) return () => same;
    const track = trackOf(curve);
    const first = curve.times[0];
    const last = curve.times[curve.times.length - 1];
    const read = (frame: number) => (frame <= first || frame >= last ? frame : sampleTrack(track, frame));
    return () => read;
  },
  retimed(pass, to) {
    const curve = pass.curves[WARP_FRAME];
    if (!curve) return pass;
    return { ...pass, curves: { ...pass.curves, [WARP_FRAME]: movedWarp(curve, to) } };
  },
  checked(pass) {
    const curve = pass.curves[WARP_FRAME];
    if (!curve || curve.times.length < 2)
      throw new KneaderError(
        "bad-setting",
        `${pass.name}: a warp needs a key at each end of its range.`,
        "Remove the pass if it is not wanted.",
      );
    const pinned = pinEnds(curve);
    refuseBackward(pass.name, pinned);
    return pinned === curve ? pass : { ...pass, curves: { ...pass.curves, [WARP_FRAME]: pinned } };
  },
};

/** A warp whose frames, those it is at and those it plays, went elsewhere: its handles turn with both. */
function movedWarp(curve: Curve, to: (frame: number) => number): Curve {
  const timed = warpTimes(curve, to);
  const keys = keysOf(timed).map((key) => ({ ...key, value: to(key.value) }));
  const steeper = (i: number, j: number) => {
    const before = timed.values[j] - timed.values[i];
    return before === 0 ? 1 : (keys[j].value - keys[i].value) / before;
  };
  keys.forEach((key, i) => {
    if (i > 0) key.slopeIn *= steeper(i - 1, i);
    if (i + 1 < keys.length) key.slopeOut *= steeper(i, i + 1);
  });
  return curveFromKeys(keys, timed);
}

/** First and last key play their own frame, so that nothing jumps where the warp begins and ends. */
function pinEnds(curve: Curve): Curve {
  const { times, values } = curve;
  const last = times.length - 1;
  if (values[0] === times[0] && values[last] === times[last]) return curve;
  return curveFromKeys(
    keysOf(curve).map((key, i) => (i === 0 || i === last ? { ...key, value: key.time } : key)),
    curve,
  );
}

/** A warp may stand still but not run backward: looked at eight times a frame, at least sixteen times a segment. */
function refuseBackward(name: string, curve: Curve): void {
  const track = trackOf(curve);
  const { times } = curve;
  for (let i = 0; i + 1 < times.length; i++) {
    const steps = Math.max(16, Math.ceil((times[i + 1] - times[i]) * 8));
    let before = sampleTrack(track, times[i]);
    for (let n = 1; n <= steps; n++) {
      const frame = times[i] + ((times[i + 1] - times[i]) * n) / steps;
      const now = n === steps ? curve.values[i + 1] : sampleTrack(track, frame);
      if (now < before - 1e-6)
        throw new KneaderError(
          "bad-setting",
          `${name} would run backward between frames ${round(times[i])} and ${round(times[i + 1])}: frame ${round(before)} would play before ${round(now)}.`,
          "The warp stays as it was. Use Reverse to play a range backward.",
        );
      before = now;
    }
  }
}

const round = (value: number) => Math.round(value * 10) / 10;

/** The same warp over another range: its shape is stretched to the new ends. */
export function warpOver(curve: Curve, range: FrameRange): Curve {
  const first = curve.times[0];
  const length = curve.times[curve.times.length - 1] - first;
  if (!(length > 0)) return straightWarp(range);
  const scale = (range.end - range.start) / length;
  const to = (frame: number) => range.start + (frame - first) * scale;
  return curveFromKeys(
    keysOf(curve).map((key) => ({ ...key, time: to(key.time), value: to(key.value) })),
    curve,
  );
}
