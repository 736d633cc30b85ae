import { z } from "zod";
import { shiftFrom } from "../curve/edit.ts";
import type { Curve } from "../curve/curve.ts";
import { curveFromKeys } from "../curve/make.ts";
import { keysOf } from "../curve/curve.ts";
import { KneaderError } from "../errors.ts";
import { layerCurves, type Shot } from "../model/shot.ts";
import type { Operation } from "./operation.ts";
import { retime } from "./retime.ts";
import { changeCurves, isWholeFigure, needSomething, outcome, scopedChannels } from "./scope.ts";

const settings = z.object({
  from: z.number().int().default(1).meta({ title: "First pose at", unit: "frame", help: "The frame of the pose before the gap." }),
  to: z.number().int().default(6).meta({ title: "Next pose at", unit: "frame", help: "The frame of the pose after it." }),
  gap: z.number().int().min(1).max(100000).default(5).meta({ title: "New gap", unit: "frames", max: 60, step: 1 }),
  ripple: z
    .boolean()
    .default(true)
    .meta({ title: "Later poses shift along", help: "Otherwise only the next pose moves and the later ones stay." }),
});

/** Change the number of frames between two neighbouring poses. */
export const setGap: Operation<z.infer<typeof settings>> = {
  id: "set-gap",
  title: "Set gap",
  group: "Timing",
  help: "Sets the frames between two neighbouring poses; everything later shifts along, or stays.",
  words: "retime spacing frames between ripple poses",
  settings,
  async run(shot, scope, s) {
    if (s.to <= s.from)
      throw new KneaderError("bad-setting", `The next pose (frame ${s.to}) must come after the first one (frame ${s.from}).`);
    const channels = scopedChannels(shot, scope);
    needSomething(channels, "Set gap");
    const shift = s.gap - (s.to - s.from);
    const summary = `Gap ${s.to - s.from} → ${s.gap} after frame ${s.from}`;
    if (shift === 0) return outcome(shot, shot, summary);
    const curves = layerCurves(shot, scope.layer);
    const held = channels.filter((key) => curves[key].times.some((t) => t > s.from + 1e-6 && t < s.to - 1e-6 && t >= s.from + s.gap));
    const move = (curve: Curve): Curve => {
      const squeezed = squeeze(curve, s.from, s.to, s.gap);
      return s.ripple ? shiftFrom(squeezed, s.to, shift) : moveOne(squeezed, s.to, shift);
    };
    const warnings = held.length > 0 ? [`Keys between the two poses were drawn closer together on ${held.length} curves.`] : [];
    if (!s.ripple) {
      const next = nextKey(shot, scope.layer, channels, s.to);
      if (s.from + s.gap >= next)
        throw new KneaderError(
          "bad-setting",
          `A gap of ${s.gap} would put the pose at frame ${s.from + s.gap}, on or past the next one at ${next}.`,
          "Let later poses shift along, or choose a smaller gap.",
        );
      const changed = Object.fromEntries(channels.map((key) => [key, move(curves[key])]));
      const poseMarks = isWholeFigure(scope)
        ? shot.poseMarks.map((mark) => (mark.frame === s.to ? { ...mark, frame: s.to + shift } : mark))
        : shot.poseMarks;
      return outcome(shot, { ...changeCurves(shot, scope.layer, changed), poseMarks }, summary, { warnings });
    }
    const after = retime(shot, scope, channels, move, (frame) => (frame >= s.to ? frame + shift : frame));
    return outcome(shot, after, summary, { warnings });
  },
};

/** Keys strictly between two poses keep their share of the way when the gap shrinks below them. */
function squeeze(curve: Curve, from: number, to: number, gap: number): Curve {
  const factor = gap / (to - from);
  if (factor >= 1 || !curve.times.some((t) => t > from + 1e-6 && t < to - 1e-6)) return curve;
  return curveFromKeys(
    keysOf(curve).map((key) =>
      key.time > from + 1e-6 && key.time < to - 1e-6 ? { ...key, time: from + (key.time - from) * factor } : key,
    ),
    curve,
  );
}

function moveOne(curve: Curve, at: number, shift: number): Curve {
  if (!curve.times.some((t) => Math.abs(t - at) < 1e-6)) return curve;
  return curveFromKeys(
    keysOf(curve).map((key) => (Math.abs(key.time - at) < 1e-6 ? { ...key, time: key.time + shift } : key)),
    curve,
  );
}

function nextKey(shot: Shot, layer: string, channels: readonly string[], after: number): number {
  const curves = layerCurves(shot, layer);
  let next = Number.POSITIVE_INFINITY;
  for (const key of channels) for (const time of curves[key].times) if (time > after + 1e-6 && time < next) next = time;
  return next;
}
