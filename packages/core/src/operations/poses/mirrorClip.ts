import { type Curve, type Key, keyAt, keyOn, Tangent } from "../../curve/curve.ts";
import { curveFromKeys } from "../../curve/make.ts";
import { unionOfTimes } from "../../curve/timeRows.ts";
import { sampleCurve } from "../../curve/track.ts";
import { makeMirrorer, type PoseValues } from "../../figure/mirror.ts";
import { type Clip, controlsFor } from "../../model/clip.ts";
import { type ChannelKey, channelKey, type Control, moveChannels, rotateChannels, splitChannelKey } from "../../model/rig.ts";
import type { Shot } from "../../model/shot.ts";

/** How far beside a key its slope is looked at, in frames. */
const BESIDE = 1e-4;

/**
 * The mirror image of a clip, by the rule of a `Mirrorer` at each of its keys: what the left did the right
 * does. Channels of the figure that are not in the clip stand as base motion has them. Free handles take the
 * slope of the mirrored motion. Controls that are never mirrored are left out.
 */
export function mirrorClip(shot: Shot, clip: Clip): Clip {
  const mirrorer = makeMirrorer(shot.rig);
  let near: PoseValues | null = null;
  const known = new Map<number, PoseValues>();
  const imageAt = (time: number): PoseValues => {
    const found = known.get(time);
    if (found) return found;
    const pose = poseAt(shot, clip, time);
    const image = mirrorer.pose(pose, near ?? pose);
    known.set(time, image);
    return image;
  };
  const all = unionOfTimes(Object.values(clip.curves).map(({ times }) => times));
  for (const time of all) near = imageAt(time);
  const curves: Record<ChannelKey, Curve> = {};
  for (const { target, source, channels } of pairsOf(shot, clip)) {
    const own = channels.map((channel) => clip.curves[channelKey(source.id, channel)]).filter((curve) => curve !== undefined);
    const times = unionOfTimes(own.map((curve) => curve.times));
    for (const channel of channels) {
      const to = channelKey(target.id, channel);
      const like = clip.curves[channelKey(source.id, channel)] ?? own[0];
      curves[to] = curveFromKeys(
        Array.from(times, (time) => {
          near = imageAt(time);
          const value = near[to];
          const model = keyOn(like, time) >= 0 ? keyAt(like, keyOn(like, time)) : freeKey(time);
          return {
            ...model,
            time,
            value,
            slopeIn: (value - imageAt(time - BESIDE)[to]) / BESIDE,
            slopeOut: (imageAt(time + BESIDE)[to] - value) / BESIDE,
          };
        }),
      );
    }
  }
  return { ...clip, curves, controls: controlsFor(shot.rig, Object.keys(curves)) };
}

function freeKey(time: number): Key {
  return { time, value: 0, slopeIn: 0, slopeOut: 0, weightIn: 1 / 3, weightOut: 1 / 3, kindIn: Tangent.free, kindOut: Tangent.free };
}

/** What goes where: angles and moves of a control go together, attributes by themselves. */
function pairsOf(shot: Shot, clip: Clip): { target: Control; source: Control; channels: readonly string[] }[] {
  const byControl = new Map<string, string[]>();
  for (const key of Object.keys(clip.curves)) {
    const { control, channel } = splitChannelKey(key);
    byControl.set(control, [...(byControl.get(control) ?? []), channel]);
  }
  return shot.rig.controls.flatMap((target) => {
    const source = shot.rig.controls.find(({ id }) => id === target.partner);
    const had = source && byControl.get(source.id);
    if (!source || !had) return [];
    const together = [rotateChannels, moveChannels].filter((three) =>
      had.some((channel) => (three as readonly string[]).includes(channel)),
    );
    const alone = had.filter((channel) => !/^(move|rotate)[XYZ]$/.test(channel)).map((channel) => [channel]);
    return [...together, ...alone].map((channels) => ({ target, source, channels: channels.filter((c) => target.channels.includes(c)) }));
  });
}

function poseAt(shot: Shot, clip: Clip, time: number): PoseValues {
  const values: PoseValues = {};
  for (const key in shot.base) values[key] = sampleCurve(shot.base[key], clip.from + time);
  for (const key in clip.curves) values[key] = sampleCurve(clip.curves[key], time);
  return values;
}
