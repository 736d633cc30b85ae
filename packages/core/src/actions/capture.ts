import type { Curve } from "../curve/curve.ts";
import { clipCurve, shiftFrom } from "../curve/edit.ts";
import { KneaderError } from "../errors.ts";
import { makePlayer } from "../evaluate/makePlayer.ts";
import { activePasses } from "../passes/active.ts";
import { changedBy } from "../passes/members.ts";
import type { Action } from "../model/action.ts";
import { freshId } from "../model/freshId.ts";
import type { ChannelKey } from "../model/rig.ts";
import type { FrameRange, Shot } from "../model/shot.ts";
import { curveFromSamples } from "../curve/bakeValues.ts";

export interface ActionNote {
  readonly name: string;
  readonly notes: string;
  readonly tags: readonly string[];
  readonly folder: string;
}

/**
 * Take channels over a range as an action. A channel no pass touches keeps its keys exactly; where a
 * pass plays, the motion as seen is taken, with a key a frame.
 */
export function captureAction(shot: Shot, channels: readonly ChannelKey[], range: FrameRange, note: ActionNote, now: number): Action {
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
  const used = new Set(Object.keys(curves).map((key) => key.slice(0, key.lastIndexOf("."))));
  return {
    id: freshId("action"),
    ...note,
    rate: shot.rate,
    length: range.end - range.start,
    curves,
    // Every control above a used one belongs to it, so that the action can be played by itself.
    controls: shot.rig.controls.filter((control) => isAbove(shot, control.id, used)),
    figure: shot.rig.figure,
    savedAt: now,
  };
}

function isAbove(shot: Shot, id: string, used: ReadonlySet<string>): boolean {
  if (used.has(id)) return true;
  return shot.rig.controls.some((control) => control.parent === id && isAbove(shot, control.id, used));
}
