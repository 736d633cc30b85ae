import { z } from "zod";
import type { Curve } from "../../curve/curve.ts";
import { openRounds } from "../../curve/loop.ts";
import { warpTimes } from "../../curve/warpTimes.ts";
import { KneaderError } from "../../errors.ts";
import { layerCurves, type Shot } from "../../model/shot.ts";
import type { Operation } from "../operation.ts";
import { gapAt, posesThere } from "../poses/gapAt.ts";
import { retime } from "./retime.ts";
import { changeCurves, isWholeFigure, needSomething, outcome, scopedChannels } from "../shared/scope.ts";
import { countedWord } from "../../words.ts";

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
  guide: {
    use: "This one from four frames to three: the number between two poses is the timing.",
    watch: "Later poses shift along unless you say that they stay. The number in the pose tray does the same by dragging.",
  },
  words: "retime spacing frames between ripple poses",
  leaves: ["range"],
  settings,
  situation(at) {
    const poses = posesThere(at);
    const [first, second] = [...(at.pickedPoses ?? [])].sort((a, b) => a - b);
    const gap = gapAt(poses, at.pickedGaps?.[0] ?? first ?? at.frame);
    // Without two poses nothing is to be set; what is shown stands at the playhead all the same.
    const from = (second === undefined ? gap?.start : first) ?? Math.round(at.frame);
    const to = second ?? gap?.end ?? from + 1;
    return { from, to, gap: Math.max(1, to - from) };
  },
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
    // Keys strictly between the two poses keep their share of the way when the gap shrinks below them.
    const closer = Math.min(1, s.gap / (s.to - s.from));
    const to = (time: number): number => {
      if (time <= s.from + 1e-6) return time;
      if (time < s.to - 1e-6) return s.from + (time - s.from) * closer;
      return s.ripple || time < s.to + 1e-6 ? time + shift : time;
    };
    const move = (curve: Curve): Curve => warpTimes(openRounds(curve, s.to), to);
    const warnings =
      held.length > 0 ? [`Keys between the two poses were drawn closer together on ${countedWord(held.length, "curve")}.`] : [];
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

function nextKey(shot: Shot, layer: string, channels: readonly string[], after: number): number {
  const curves = layerCurves(shot, layer);
  let next = Number.POSITIVE_INFINITY;
  for (const key of channels) for (const time of curves[key].times) if (time > after + 1e-6 && time < next) next = time;
  return next;
}
