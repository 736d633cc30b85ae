import type { Curve } from "../curve/curve.ts";
import { clipCurve, shiftFrom } from "../curve/edit.ts";
import { ledControls } from "../constraints/ledControls.ts";
import { KneaderError } from "../errors.ts";
import { bakeRow } from "../evaluate/bakeRow.ts";
import { placeChannels } from "../figure/localValues.ts";
import { makePlayer } from "../evaluate/makePlayer.ts";
import { activePasses } from "../passes/active.ts";
import { changedBy } from "../passes/members.ts";
import { type Clip, figureWith } from "../model/clip.ts";
import { type ChannelKey, channelKey } from "../model/rig.ts";
import type { FrameRange, Shot } from "../model/shot.ts";
import { curveFromSamples } from "../curve/bakeValues.ts";

/**
 * Take channels over a range as a clip. A channel no pass touches keeps its keys exactly; where a pass plays, the motion
 * as seen is taken, with a key a frame, and so it is of controls that something leads: told under what they hang on, as
 * elsewhere nothing leads them.
 */
export function captureClip(shot: Shot, channels: readonly ChannelKey[], range: FrameRange): Clip {
  if (range.end < range.start)
    throw new KneaderError("bad-setting", `The range ends (frame ${range.end}) before it starts (${range.start}).`);
  const ties = ledControls(shot);
  const led = shot.rig.controls.filter(({ id }) => ties.has(id));
  const placed = led.flatMap(({ id }) => placeChannels.map((channel) => channelKey(id, channel)));
  const touched = new Set([...activePasses(shot).flatMap((pass) => changedBy(shot, pass)), ...placed]);
  const curves: Record<ChannelKey, Curve> = {};
  const sampled = channels.filter((key) => touched.has(key));
  const count = range.end - range.start + 1;
  const samples = sampled.map(() => new Float64Array(count));
  if (sampled.length > 0) {
    const player = makePlayer(shot);
    const baked = new Map(sampled.flatMap((key, i) => (placed.includes(key) ? [[key, samples[i]] as const] : [])));
    for (let n = 0; n < count; n++) {
      player.readValues(range.start + n);
      sampled.forEach((key, i) => {
        samples[i][n] = player.values[player.channelIndex.get(key) as number];
      });
      if (baked.size === 0) continue;
      player.pose(range.start + n);
      bakeRow(player, led, n, baked);
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
    controls: figureWith(shot.rig, Object.keys(curves)),
    figure: shot.rig.figure,
  };
}
