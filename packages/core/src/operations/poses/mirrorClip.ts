import { type Curve, keyOn, Tangent, THIRD } from "../../curve/curve.ts";
import { keeping } from "../../curve/make.ts";
import { settle } from "../../curve/tangents.ts";
import { isSameRow, placesOf, unionOfTimes } from "../../curve/timeRows.ts";
import { atOnce } from "../../inPieces.ts";
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
import { mirrorImages, type Played } from "./mirrorImages.ts";

/**
 * The mirror image of a clip: what the left did the right does. Where mirroring a control is a matter of signs its curves
 * are taken over with them, key by key; elsewhere by the rule of a `Mirrorer` at each of its keys, slopes by how the
 * mirrored values change when the pose goes on as it does there. Channels that are not in the clip stand as `beside` has
 * them (frames of the shot; at rest where it has none). Controls that are not mirrored are left out.
 */
export function mirrorClip(shot: Shot, clip: Clip, beside: Curves = shot.base, options: MirrorOptions = {}): Clip {
  return atOnce(mirrorSteps(shot, clip, beside, options));
}

/** The same in pieces: yields the share done. */
export function* mirrorSteps(shot: Shot, clip: Clip, beside: Curves, options: MirrorOptions): Generator<number, Clip> {
  const mirrorer = makeMirrorer(shot.rig, options);
  const curves: Record<ChannelKey, Curve> = {};
  const unsigned: Unsigned[] = [];
  const order: ChannelKey[] = [];
  for (const { target, source, channels } of pairsOf(shot, clip, options.leftOut)) {
    const signs = signsOf(mirrorer, target, channels);
    const own = channels.map((channel) => clip.curves[channelKey(source.id, channel)]);
    const keyed = own.filter((curve) => curve !== undefined);
    const times = unionOfTimes(keyed.map((curve) => curve.times));
    channels.forEach((channel, n) => {
      const to = channelKey(target.id, channel);
      order.push(to);
      if (!signs) unsigned.push({ to, target, times, like: own[n] ?? keyed[0], ...likeAt(own[n] ?? keyed[0], times) });
      else if (own[n]) curves[to] = signs[channel] === -1 ? negated(own[n]) : own[n];
    });
  }
  yield* workedOut(shot, clip, beside, options, unsigned, curves);
  const known = Object.fromEntries(order.filter((key) => key in curves).map((key) => [key, curves[key]]));
  return { ...clip, curves: known, controls: controlsFor(shot.rig, Object.keys(known)) };
}

/** A channel whose image is worked out pose by pose: where its keys are, what they are like, and the curve it comes from. */
interface Unsigned extends Pick<Curve, "times" | "weightIn" | "weightOut" | "kindIn" | "kindOut"> {
  readonly to: ChannelKey;
  readonly target: Control;
  readonly like: Curve;
}

/** The images of channels that are no matter of signs, put into `curves`. */
function* workedOut(
  shot: Shot,
  clip: Clip,
  beside: Curves,
  options: MirrorOptions,
  unsigned: readonly Unsigned[],
  curves: Record<ChannelKey, Curve>,
): Generator<number, void> {
  const { channelIndex, rest } = layoutOf(shot.rig);
  const all = unionOfTimes(unsigned.map(({ times }) => times));
  // Only a free tangent points where it is told.
  const sloped = new Uint8Array(all.length);
  for (const { times, kindIn, kindOut } of unsigned)
    placesOf(times, all, (at, n) => {
      if (kindIn[n] === Tangent.free || kindOut[n] === Tangent.free) sloped[at] = 1;
    });
  const mirrorer = makeMirrorer(shot.rig, { ...options, only: unsigned.map(({ target }) => target.id) });
  const wanted = unsigned.map(({ to }) => channelIndex.get(to) as number);
  const images = yield* mirrorImages(mirrorer, playedIn(shot, clip, beside), rest, all, wanted, sloped);
  unsigned.forEach(({ to, times, like, weightIn, weightOut, kindIn, kindOut }, n) => {
    const [values, slopeIn, slopeOut] = [images[n].values, images[n].slopeIn, images[n].slopeOut].map((column) =>
      partOf(column, all, times),
    );
    curves[to] = settle({ times, values, slopeIn, slopeOut, weightIn, weightOut, kindIn, kindOut, runIn: like.runIn, runOut: like.runOut });
  });
}

/** Of a column at some times what it has at a few of them. */
function partOf(column: Float64Array, all: Float64Array, times: Float64Array): Float64Array {
  if (isSameRow(times, all)) return column;
  const part = new Float64Array(times.length);
  placesOf(times, all, (at, n) => {
    part[n] = column[at];
  });
  return part;
}

/** With which sign each channel is taken over, where that is all there is to it. */
function signsOf(mirrorer: Mirrorer, { id, mirror }: Control, channels: readonly string[]): Readonly<Record<string, 1 | -1>> | null {
  if (typeof mirror === "object") return Object.fromEntries(channels.map((channel) => [channel, mirror.flips.includes(channel) ? -1 : 1]));
  if (channels.every((channel) => /^(move|rotate)[XYZ]$/.test(channel))) return mirrorer.signs(id);
  return channels.some((channel) => /^scale[XYZ]$/.test(channel)) ? null : {};
}

function negated(curve: Curve): Curve {
  const negative = (column: Float64Array) => column.map((number) => -number);
  return keeping({ ...curve, values: negative(curve.values), slopeIn: negative(curve.slopeIn), slopeOut: negative(curve.slopeOut) });
}

/** What the keys of a curve are like at some times; where it has none they are free. */
function likeAt(like: Curve, times: Float64Array): Pick<Curve, "weightIn" | "weightOut" | "kindIn" | "kindOut"> {
  if (isSameRow(like.times, times)) return like;
  const weights = () => new Float64Array(times.length).fill(THIRD);
  const kinds = () => new Uint8Array(times.length).fill(Tangent.free);
  const found = { weightIn: weights(), weightOut: weights(), kindIn: kinds(), kindOut: kinds() };
  times.forEach((time, n) => {
    const at = keyOn(like, time);
    if (at < 0) return;
    found.weightIn[n] = like.weightIn[at];
    found.weightOut[n] = like.weightOut[at];
    found.kindIn[n] = like.kindIn[at];
    found.kindOut[n] = like.kindOut[at];
  });
  return found;
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
