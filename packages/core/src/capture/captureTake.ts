import { fitClip, type FitOptions, type Fitted } from "../actions/fitClip.ts";
import { sampleCurve } from "../curve/track.ts";
import { constantCurve, linearCurve, linearFrame } from "../curve/make.ts";
import type { Curve } from "../curve/curve.ts";
import type { Player } from "../figure/player.ts";
import type { Clip } from "../model/clip.ts";
import { rateFromFps } from "../model/rate.ts";
import { type ChannelKey, channelKey, type Rig, splitChannelKey } from "../model/rig.ts";
import type { Take } from "../model/take.ts";
import { type CaptureFrame, type HeaderMessage, keysOfHeader, rigOf } from "./messages.ts";

/** Frames of a device as a clip at its own rate: a key at every frame that came, straight over those that did not. */
export function clipOfFrames(header: HeaderMessage, frames: readonly CaptureFrame[]): Clip {
  const first = frames[0].sequence;
  const times = linearFrame(Float64Array.from(frames, ({ sequence }) => sequence - first));
  const curve = (n: number): Curve => {
    const values = Float64Array.from(frames, (frame) => frame.values[n]);
    return values.length === 1 ? constantCurve(values[0]) : linearCurve(times, values);
  };
  return {
    rate: rateFromFps(header.rate),
    from: first,
    length: frames[frames.length - 1].sequence - first,
    whole: true,
    curves: Object.fromEntries(keysOfHeader(header).map((key, n) => [key, curve(n)])),
    controls: controlsOf(header),
    figure: null,
  };
}

const known = new WeakMap<HeaderMessage, Rig>();

/** The same list of controls each time, so that what is worked out for it is worked out once. */
function controlsOf(header: HeaderMessage): Rig["controls"] {
  let rig = known.get(header);
  if (!rig) {
    rig = rigOf(header);
    known.set(header, rig);
  }
  return rig.controls;
}

/** How a frame of a device is told on a rig: by channel of the rig the number it is, in a frame's order, times a factor. */
type Plain = readonly { readonly key: ChannelKey; readonly at: number; readonly times: number }[];

const plainWays = new WeakMap<HeaderMessage, WeakMap<Rig, Plain | null>>();

/**
 * One frame of a device in the channels of a rig, matched as actions are. Where each channel is just one of the device's,
 * that is found once and the rest is quick; else the frame is fitted by itself.
 */
export function poseOfFrame(header: HeaderMessage, frame: CaptureFrame, rig: Rig): Record<ChannelKey, number> {
  const ways = plainWays.get(header) ?? new WeakMap<Rig, Plain | null>();
  plainWays.set(header, ways);
  const known = ways.get(rig);
  if (known) return Object.fromEntries(known.map(({ key, at, times }) => [key, frame.values[at] * times]));
  const fitted = fitClip(clipOfFrames(header, [frame]), rig);
  const pose = Object.fromEntries(Object.entries(fitted.clip.curves).map(([key, curve]) => [key, sampleCurve(curve, 0)]));
  if (known === undefined) ways.set(rig, plainWay(header, fitted));
  return pose;
}

/** Null where some control is told anew, so that its channels depend on more than one of the device's. */
function plainWay(header: HeaderMessage, { match, ratio, retold, rested, clip }: Fitted): Plain | null {
  if (retold.length > 0 || rested.length > 0) return null;
  const place = new Map(keysOfHeader(header).map((key, n) => [key, n]));
  const from = new Map(match.pairs.map((pair) => [pair.to, pair.from]));
  const plain = Object.keys(clip.curves).map((key) => {
    const { control, channel } = splitChannelKey(key);
    const at = place.get(channelKey(from.get(control) ?? "", channel));
    return at === undefined ? null : { key, at, times: channel.startsWith("move") ? ratio : 1 };
  });
  return plain.some((one) => one === null) ? null : (plain as Plain);
}

/** Where frames of a device stand in a shot: at which frame its first is, and how many frames of the shot it takes from one to the next. */
export interface InShot {
  readonly first: number;
  readonly step: number;
}

/**
 * A capture as a take on a rig: by channel how far it is from the motion below, at each whole frame of the shot that it
 * covers; of all controls or some (by id). Answers with it what was matched.
 */
export function takeOfCapture(
  header: HeaderMessage,
  frames: readonly CaptureFrame[],
  below: Player,
  { first, step }: InShot,
  given: { readonly id: string; readonly name: string; readonly controls: readonly string[] | null; readonly options?: FitOptions },
): { take: Take; fitted: Fitted } | null {
  if (frames.length < 2) return null;
  const { rig } = below.shot;
  const fitted = fitClip(clipOfFrames(header, frames), rig, given.options);
  const wanted = given.controls && new Set(given.controls);
  const curves = Object.entries(fitted.clip.curves).filter(
    ([key]) => below.channelIndex.has(key) && (!wanted || wanted.has(splitChannelKey(key).control)),
  );
  const start = Math.ceil(first - 1e-9);
  const end = Math.floor(first + fitted.clip.length * step + 1e-9);
  if (curves.length === 0 || end < start) return null;
  const values = Object.fromEntries(curves.map(([key]) => [key, new Array<number>(end - start + 1)]));
  for (let frame = start; frame <= end; frame++) {
    below.readValues(frame);
    for (const [key, curve] of curves)
      values[key][frame - start] = sampleCurve(curve, (frame - first) / step) - below.values[below.channelIndex.get(key) as number];
  }
  return { take: { id: given.id, name: given.name, start, values }, fitted };
}
