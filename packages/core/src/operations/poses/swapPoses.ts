import { z } from "zod";
import { type Curve, keyAt, keyOn, keysOf } from "../../curve/curve.ts";
import { insertKeyOn } from "../../curve/edit.ts";
import { curveFromKeys } from "../../curve/make.ts";
import { sampleCurve } from "../../curve/track.ts";
import { KneaderError } from "../../errors.ts";
import { type FrameRange, layerCurves } from "../../model/shot.ts";
import type { Operation } from "../operation.ts";
import { gapAt, poseNear, posesThere } from "./gapAt.ts";
import { changeCurves, isWholeFigure, needSomething, outcome, scopedChannels } from "../shared/scope.ts";
import { countedWord } from "../../words.ts";

const settings = z.object({
  one: z.number().int().default(1).meta({ title: "Pose of frame", unit: "frame", step: 1 }),
  other: z.number().int().default(1).meta({ title: "And of frame", unit: "frame", step: 1 }),
});

/** Let two poses change places. */
export const swapPoses: Operation<z.infer<typeof settings>> = {
  id: "swap-poses",
  title: "Swap poses",
  group: "Poses",
  help: "Two poses change places in time. A curve without a key at one of them gets one, if it has to change there.",
  guide: {
    use: "Tries two poses the other way round.",
    watch: "Each takes the time of the other; gaps stay.",
  },
  movesPoses: true,
  ofLayerAlone: true,
  words: "exchange order trade places",
  suits: ["picked poses"],
  leaves: ["range"],
  settings,
  situation(at) {
    const poses = posesThere(at);
    const [first, second] = at.pickedPoses ?? [];
    const here = poseNear(poses, at.frame);
    const gap = gapAt(poses, here);
    if (first !== undefined) return { one: first, other: second ?? (here === first ? nextOf(gapAt(poses, first), first) : here) };
    return { one: here, other: nextOf(gap, here) };
  },
  async run(shot, scope, { one, other }) {
    const channels = scopedChannels(shot, scope);
    needSomething(channels, "Swap poses");
    if (one === other) throw new KneaderError("bad-setting", `Swap poses: both are the pose of frame ${one}.`, "Choose two frames.");
    const curves = layerCurves(shot, scope.layer);
    const changed: Record<string, Curve> = {};
    for (const key of channels) {
      const curve = curves[key];
      const keyed = keyOn(curve, one) >= 0 || keyOn(curve, other) >= 0;
      if (!keyed && Math.abs(sampleCurve(curve, one) - sampleCurve(curve, other)) < 1e-9) continue;
      changed[key] = swapped(insertKeyOn(insertKeyOn(curve, one), other), one, other);
    }
    const frame = (at: number) => (at === one ? other : at === other ? one : at);
    const poseMarks = isWholeFigure(scope) ? shot.poseMarks.map((mark) => ({ ...mark, frame: frame(mark.frame) })) : shot.poseMarks;
    const after = { ...changeCurves(shot, scope.layer, changed), poseMarks };
    return outcome(shot, after, `Swapped the poses of frames ${one} and ${other} on ${countedWord(Object.keys(changed).length, "curve")}`);
  },
};

/** The other end of a gap. */
const nextOf = (gap: FrameRange | null, frame: number): number => (gap ? (gap.start === frame ? gap.end : gap.start) : frame);

/** The keys at two frames with each other's value and tangents. */
function swapped(curve: Curve, one: number, other: number): Curve {
  const [a, b] = [keyOn(curve, one), keyOn(curve, other)];
  const keys = keysOf(curve);
  keys[a] = { ...keyAt(curve, b), time: keys[a].time };
  keys[b] = { ...keyAt(curve, a), time: keys[b].time };
  return curveFromKeys(keys, curve);
}
