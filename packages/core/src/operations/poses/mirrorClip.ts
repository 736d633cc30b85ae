import { type Curve, type Key, keyAt, keyBefore, keyOn, keysOf, Tangent } from "../../curve/curve.ts";
import { curveFromKeys, curveKeeping } from "../../curve/make.ts";
import { unionOfTimes } from "../../curve/timeRows.ts";
import { sampleCurve } from "../../curve/track.ts";
import { makeMirrorer, type Mirrorer, type MirrorOptions } from "../../figure/mirror.ts";
import { layoutOf } from "../../figure/rigLayout.ts";
import { type Clip, controlsFor } from "../../model/clip.ts";
import {
  type ChannelKey,
  channelKey,
  type Control,
  moveChannels,
  rotateChannels,
  scaleChannels,
  splitChannelKey,
} from "../../model/rig.ts";
import type { Curves, Shot } from "../../model/shot.ts";

/**
 * The mirror image of a clip: what the left did the right does. Where mirroring a control is a matter of signs its curves
 * are taken over with them, key by key; elsewhere by the rule of a `Mirrorer` at each of its keys, slopes by how the
 * mirrored values change when the pose goes on as it does there. Channels that are not in the clip stand as `beside` has
 * them (frames of the shot; at rest where it has none). Controls that are not mirrored are left out.
 */
export function mirrorClip(shot: Shot, clip: Clip, beside: Curves = shot.base, options: MirrorOptions = {}): Clip {
  const mirrorer = makeMirrorer(shot.rig, options);
  const curves: Record<ChannelKey, Curve> = {};
  const pairs = pairsOf(shot, clip, options.leftOut).map((pair) => ({ ...pair, signs: signsOf(mirrorer, pair.target, pair.channels) }));
  const unsigned = pairs.filter(({ signs }) => !signs);
  const workedOut = unsigned.flatMap(({ source, channels }) =>
    channels.flatMap((channel) => clip.curves[channelKey(source.id, channel)]?.times ?? []),
  );
  const { channelIndex, rest } = layoutOf(shot.rig);
  const only = unsigned.map(({ target }) => target.id);
  const images = imagesOf(makeMirrorer(shot.rig, { ...options, only }), playedIn(shot, clip, beside), rest, unionOfTimes(workedOut));
  for (const { target, source, channels, signs } of pairs) {
    if (signs) {
      for (const channel of channels) {
        const curve = clip.curves[channelKey(source.id, channel)];
        if (curve) curves[channelKey(target.id, channel)] = signs[channel] === -1 ? negated(curve) : curve;
      }
      continue;
    }
    const own = channels.map((channel) => clip.curves[channelKey(source.id, channel)]).filter((curve) => curve !== undefined);
    const times = unionOfTimes(own.map((curve) => curve.times));
    for (const channel of channels) {
      const to = channelKey(target.id, channel);
      const at = channelIndex.get(to) as number;
      const like = clip.curves[channelKey(source.id, channel)] ?? own[0];
      curves[to] = curveFromKeys(
        Array.from(times, (time) => {
          const { values, slopeIn, slopeOut } = images(time);
          const model = keyOn(like, time) >= 0 ? keyAt(like, keyOn(like, time)) : freeKey(time);
          return { ...model, time, value: values[at], slopeIn: slopeIn[at], slopeOut: slopeOut[at] };
        }),
        like,
      );
    }
  }
  return { ...clip, curves, controls: controlsFor(shot.rig, Object.keys(curves)) };
}

/** With which sign each channel is taken over, where that is all there is to it. */
function signsOf(mirrorer: Mirrorer, { id, mirror }: Control, channels: readonly string[]): Readonly<Record<string, 1 | -1>> | null {
  if (typeof mirror === "object") return Object.fromEntries(channels.map((channel) => [channel, mirror.flips.includes(channel) ? -1 : 1]));
  if (channels.every((channel) => /^(move|rotate)[XYZ]$/.test(channel))) return mirrorer.signs(id);
  return channels.some((channel) => /^scale[XYZ]$/.test(channel)) ? null : {};
}

function negated(curve: Curve): Curve {
  return curveKeeping(
    keysOf(curve).map((key) => ({ ...key, value: -key.value, slopeIn: -key.slopeIn, slopeOut: -key.slopeOut })),
    curve,
  );
}

/** The image of the clip's pose at a time, and how fast its values change before and after it (per frame); laid out as `layoutOf` says. */
interface Image {
  readonly values: Float64Array;
  readonly slopeIn: Float64Array;
  readonly slopeOut: Float64Array;
}

/** The largest change (degrees, units) by which slopes are found: mirrored values are smooth in the pose. */
const STEP = 1e-3;

/** Images at the times given, each worked out once; angles stay near those of the time before. */
function imagesOf(mirrorer: Mirrorer, played: readonly Played[], rest: Float64Array, times: Float64Array): (time: number) => Image {
  const known = new Map<number, Image>();
  const slopes = [rest.slice().fill(0), rest.slice().fill(0)];
  let near: Float64Array | null = null;
  for (const time of times) {
    const pose = rest.slice();
    for (const { place, curve, from } of played) {
      pose[place] = sampleCurve(curve, from + time);
      slopes[0][place] = slopeOf(curve, from + time, "in");
      slopes[1][place] = slopeOf(curve, from + time, "out");
    }
    const values = mirrorer.values(pose, near ?? pose);
    near = values;
    const slopeIn = changeAlong(mirrorer, pose, values, slopes[0]);
    const isSmooth = slopes[1].every((slope, i) => slope === slopes[0][i]);
    known.set(time, { values, slopeIn, slopeOut: isSmooth ? slopeIn : changeAlong(mirrorer, pose, values, slopes[1]) });
  }
  return (time) => known.get(time) as Image;
}

/** How fast the image changes when the pose goes on with given slopes: by central differences. */
function changeAlong(mirrorer: Mirrorer, pose: Float64Array, image: Float64Array, slopes: Float64Array): Float64Array {
  const most = slopes.reduce((large, slope) => Math.max(large, Math.abs(slope)), 0);
  if (most === 0) return slopes.slice();
  const by = STEP / most;
  const moved = (sign: number) =>
    mirrorer.values(
      pose.map((value, i) => value + sign * by * slopes[i]),
      image,
    );
  const [more, less] = [moved(1), moved(-1)];
  return more.map((value, i) => (value - less[i]) / (2 * by));
}

/** A curve that is played while a clip is mirrored: which channel it moves, and the frame it has at the clip's start. */
interface Played {
  readonly place: number;
  readonly curve: Curve;
  readonly from: number;
}

function playedIn(shot: Shot, clip: Clip, beside: Curves): Played[] {
  const { channelIndex } = layoutOf(shot.rig);
  const of = (curves: Curves, from: number) =>
    Object.entries(curves).flatMap(([key, curve]) => {
      const place = channelIndex.get(key);
      return place === undefined || curve.times.length === 0 ? [] : [{ place, curve, from }];
    });
  return [...of(Object.fromEntries(Object.entries(beside).filter(([key]) => !(key in clip.curves))), clip.from), ...of(clip.curves, 0)];
}

function freeKey(time: number): Key {
  return { time, value: 0, slopeIn: 0, slopeOut: 0, weightIn: 1 / 3, weightOut: 1 / 3, kindIn: Tangent.free, kindOut: Tangent.free };
}

/** What goes where: angles and moves of a control go together, scales and attributes by themselves. */
function pairsOf(
  shot: Shot,
  clip: Clip,
  leftOut: readonly string[] = [],
): { target: Control; source: Control; channels: readonly string[] }[] {
  const byControl = new Map<string, string[]>();
  for (const key of Object.keys(clip.curves)) {
    const { control, channel } = splitChannelKey(key);
    byControl.set(control, [...(byControl.get(control) ?? []), channel]);
  }
  return shot.rig.controls.flatMap((target) => {
    if (target.mirror === "left out" || leftOut.includes(target.id)) return [];
    const source = shot.rig.controls.find(({ id }) => id === target.partner);
    const had = source && byControl.get(source.id);
    if (!source || !had) return [];
    const groups = [rotateChannels, moveChannels, scaleChannels] as readonly (readonly string[])[];
    const together = groups.filter((three) => had.some((channel) => three.includes(channel)));
    const alone = had.filter((channel) => !groups.some((three) => three.includes(channel))).map((channel) => [channel]);
    return [...together, ...alone].map((channels) => ({ target, source, channels: channels.filter((c) => target.channels.includes(c)) }));
  });
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
