import { type Curve, keyOn, Tangent } from "../../curve/curve.ts";
import { clipCurve, insertKeyOn, setTangents } from "../../curve/edit.ts";
import { constantCurve } from "../../curve/make.ts";
import { keyedAtEnds, sealRange } from "../../curve/sealRange.ts";
import { silenced } from "../../curve/silenced.ts";
import { KneaderError } from "../../errors.ts";
import { type ChannelKey, restValue, splitChannelKey } from "../../model/rig.ts";
import type { FrameRange, Pass, Shot } from "../../model/shot.ts";
import { passKind } from "../../passes/kinds.ts";
import { tremorPass } from "../../passes/tremor.ts";
import { joinCurve } from "../shared/joinCurve.ts";

/** Refuse to bake a part of what reads other frames: what they read would change with it. */
export function refuseReaders(playing: readonly Pass[], part: FrameRange): void {
  const reader = playing.find(({ kind }) => passKind(kind)?.reads !== "keys" && kind !== tremorPass.id);
  if (reader)
    throw new KneaderError(
      "bad-setting",
      `Bake passes: "${reader.name}" works with other frames and cannot be baked into base motion for frames ${part.start} to ${part.end} alone.`,
      "Bake into a new pass, or clear the range.",
    );
}

/**
 * The shot with baked curves in base motion over a part of it, where the passes have no weight; at the whole frames outside it
 * plays as it did. `baked` has a key on every frame of the part.
 */
export function bakedPart(shot: Shot, playing: readonly Pass[], baked: Readonly<Record<ChannelKey, Curve>>, part: FrameRange): Shot {
  const { start, end } = part;
  const base: Record<ChannelKey, Curve> = { ...shot.base };
  for (const [key, curve] of Object.entries(baked)) {
    const laid = clipCurve(curve, start, end);
    const given = shot.base[key] ?? constantCurve(restValue(splitChannelKey(key).channel), shot.range.start);
    const outside = [start - 1, end + 1].filter((frame) => frame >= shot.range.start && frame <= shot.range.end);
    const wide = keyedAtEnds(outside.reduce(insertKeyOn, given), part);
    const joined = sealRange(wide, joinCurve(wide, laid, "replace"), part);
    // Before and after it the passes come and go at once: so does what stands for them.
    const holds = [keyOn(joined, start - 1), keyOn(joined, end)].filter((i) => i >= 0);
    base[key] = setTangents(joined, holds, Tangent.stepped, "out");
  }
  const passes = shot.passes.map((pass) =>
    playing.includes(pass) ? { ...pass, weight: silenced(pass.weight, part, shot.range.start) } : pass,
  );
  return { ...shot, base, passes };
}
