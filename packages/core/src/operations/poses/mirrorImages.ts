import { type Curve, keyBefore, keyOn, Tangent } from "../../curve/curve.ts";
import { sampleCurve } from "../../curve/track.ts";
import type { Mirrorer } from "../../figure/mirror.ts";

/** A curve that is played while a clip is mirrored: which channel it moves, and the frame it has at the clip's start. */
export interface Played {
  readonly place: number;
  readonly curve: Curve;
  readonly from: number;
}

/** Of one channel of the image: its value at each time, and how fast it changes before and after it (per frame). */
export interface ImageColumns {
  readonly values: Float64Array;
  readonly slopeIn: Float64Array;
  readonly slopeOut: Float64Array;
}

/** The largest change (degrees, units) by which slopes are found: mirrored values are smooth in the pose. */
const STEP = 1e-3;
/** Poses from one breath to the next. */
const BREATH = 256;

/**
 * The images of a pose that is played, at rising times: of the channels at `wanted` (places as `layoutOf` says), in their
 * order. Angles stay near those of the time before. Slopes are worked out where `sloped` is not 0, and are 0 elsewhere.
 * In pieces: yields the share done.
 */
export function* mirrorImages(
  mirrorer: Mirrorer,
  played: readonly Played[],
  rest: Float64Array,
  times: Float64Array,
  wanted: readonly number[],
  sloped: Uint8Array,
): Generator<number, ImageColumns[]> {
  const column = () => new Float64Array(times.length);
  const images = wanted.map((): ImageColumns => ({ values: column(), slopeIn: column(), slopeOut: column() }));
  const put = (to: "values" | "slopeIn" | "slopeOut", n: number, numbers: Float64Array) => {
    for (let w = 0; w < wanted.length; w++) images[w][to][n] = numbers[wanted[w]];
  };
  const pose = rest.slice();
  const [before, after] = [rest.slice().fill(0), rest.slice().fill(0)];
  // The image of a time and that of the one before take turns.
  let [image, near] = [rest.slice(), rest.slice()];
  for (let n = 0; n < times.length; n++) {
    if (n % BREATH === BREATH - 1) yield n / times.length;
    const time = times[n];
    for (const { place, curve, from } of played) pose[place] = sampleCurve(curve, from + time);
    [image, near] = [near, image];
    mirrorer.values(pose, n === 0 ? pose : near, image);
    put("values", n, image);
    if (sloped[n] === 0) continue;
    for (const { place, curve, from } of played) {
      before[place] = slopeOf(curve, from + time, "in");
      after[place] = slopeOf(curve, from + time, "out");
    }
    const slopeIn = changeAlong(mirrorer, pose, image, before);
    put("slopeIn", n, slopeIn);
    const isSmooth = after.every((slope, i) => slope === before[i]);
    put("slopeOut", n, isSmooth ? slopeIn : changeAlong(mirrorer, pose, image, after));
  }
  return images;
}

/** How fast the image changes when the pose goes on with given slopes: by central differences. */
function changeAlong(mirrorer: Mirrorer, pose: Float64Array, image: Float64Array, slopes: Float64Array): Float64Array {
  const most = slopes.reduce((large, slope) => Math.max(large, Math.abs(slope)), 0);
  if (most === 0) return slopes;
  const by = STEP / most;
  const moved = (sign: number) =>
    mirrorer.values(
      pose.map((value, i) => value + sign * by * slopes[i]),
      image,
    );
  const [more, less] = [moved(1), moved(-1)];
  return more.map((value, i) => (value - less[i]) / (2 * by));
}

/** Between keys the slope is found over this much of a frame. */
const BESIDE = 1e-4;

function slopeOf(curve: Curve, time: number, side: "in" | "out"): number {
  const at = keyOn(curve, time);
  if (at >= 0) return side === "in" ? curve.slopeIn[at] : curve.slopeOut[at];
  const before = keyBefore(curve.times, time);
  if (before >= 0 && curve.kindOut[before] === Tangent.stepped) return 0;
  return (sampleCurve(curve, time + BESIDE) - sampleCurve(curve, time - BESIDE)) / (2 * BESIDE);
}
