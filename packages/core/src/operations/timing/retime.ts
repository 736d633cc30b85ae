import { constraintKind } from "../../constraints/kinds.ts";
import type { Curve } from "../../curve/curve.ts";
import { type ChannelKey, channelKeysOf } from "../../model/rig.ts";
import { layerCurves, type Pass, type Shot } from "../../model/shot.ts";
import { mapCurves } from "../../model/shotFields.ts";
import { computedKind } from "../../passes/kinds.ts";
import type { Scope } from "../operation.ts";
import { changeCurves, channelsMeant, isWholeFigure } from "../shared/scope.ts";

/**
 * Change when things happen. For the figure as a whole the passes, their ranges, the follows and the shot's
 * end go along (`frame` says where a frame goes); otherwise only the channels given. Locked ones stay, and so do set
 * and camera unless everything in the shot is meant.
 */
export function retime(
  shot: Shot,
  scope: Scope,
  channels: readonly ChannelKey[],
  curve: (curve: Curve) => Curve,
  frame: (frame: number) => number,
): Shot {
  if (!isWholeFigure(scope)) {
    const curves = layerCurves(shot, scope.layer);
    return changeCurves(shot, scope.layer, Object.fromEntries(channels.map((key) => [key, curve(curves[key])])));
  }
  const locked = new Set(shot.locked);
  const moves = new Set(channelsMeant(shot, scope));
  const scenery = new Set(channelKeysOf(shot.rig).filter((key) => !moves.has(key)));
  const moved = mapCurves(shot, (c, where) => {
    const key = where.slice(where.lastIndexOf("/") + 1);
    if (locked.has(key) || scenery.has(key)) return c;
    // A single key at the first frame stands for a value all along.
    return c.times.length > 1 || c.times[0] !== shot.range.start ? curve(c) : c;
  });
  return {
    ...moved,
    range: { start: shot.range.start, end: Math.max(shot.range.start, frame(shot.range.end)) },
    poseMarks: shot.poseMarks.map((mark) => ({ ...mark, frame: frame(mark.frame) })),
    passes: moved.passes.map((pass, i) => retimedPass(pass, shot.passes[i], frame)),
    constraints: moved.constraints.map((one) => {
      const settings = constraintKind(one.kind)?.retimed?.(one.settings, frame) as typeof one.settings | undefined;
      return settings ? { ...one, settings } : one;
    }),
  };
}

function retimedPass(moved: Pass, before: Pass, frame: (frame: number) => number): Pass {
  const range = moved.range && { ...moved.range, start: frame(moved.range.start), end: frame(moved.range.end) };
  const kind = computedKind(moved.kind);
  // What a computed pass says of frames is not a value like others: the pass itself knows what goes along.
  return kind ? { ...kind.retimed({ ...moved, curves: before.curves }, frame), range } : { ...moved, range };
}
