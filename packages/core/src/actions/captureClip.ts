import type { Curve } from "../curve/curve.ts";
import { clipCurve, shiftFrom } from "../curve/edit.ts";
import { KneaderError } from "../errors.ts";
import { makePlayer } from "../evaluate/makePlayer.ts";
import { activePasses } from "../passes/active.ts";
import { changedBy } from "../passes/members.ts";
import { type Clip, controlsFor } from "../model/clip.ts";
import type { ChannelKey } from "../model/rig.ts";
import type { FrameRange, Shot } from "../model/shot.ts";
import { curveFromSamples } from "../curve/bakeValues.ts";

/**
 * Take channels over a range as a clip. A channel no pass touches keeps its keys exactly; where a
 * pass plays, the motion as seen is taken, with a key a frame.
 */
export function captureClip(shot: Shot, channels: readonly ChannelKey[], range: FrameRange): Clip {
  if (range.end < range.start)
    throw new KneaderError("bad-setting", `The range ends (frame ${range.end}) before it starts (${range.start}).`);
  const touched = new Set(activePasses(shot).flatMap((pass) => changedBy(shot, pass)));
  const curves: Record<ChannelKey, Curve> = {};
  const sampled = channels.filter((key) => touched.has(key));
  const count = range.end - range.start + 1;
  const samples = sampled.map(() => new Float64Array(count));
  if (sampled.length > 0) {
    const player = makePlayer(shot);
    for (let n = 0; n < count; n++) {
      player.readValues(range.start + n);
      sampled.forEach((key, i) => {
        samples[i][n] = player.values[player.channelIndex.get(key) as number];
      });
    }
  }
  sampled.forEach((key, i) => {
    curves[key] = curveFromSamples(0, samples[i]);
  });
  for (const key of channels) {
    const curve = shot.base[key];
    if (touched.has(key) || !curve) continue;
    curves[key] = shiftFrom(clipCurve(curve, range.start, range.end), Number.NEGATIVE_INFINITY, -range.start);
  }
  if (Object.keys(curves).length === 0)
    throw new KneaderError("nothing-in-scope", "Save action: nothing in scope has a key.", "Pick controls that move, or widen the scope.");
  return {
    rate: shot.rate,
    from: range.start,
    length: range.end - range.start,
    whole: false,
    curves,
    controls: controlsFor(shot.rig, Object.keys(curves)),
    figure: shot.rig.figure,
  };
}
