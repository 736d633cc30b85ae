import { z } from "zod";
import { type Curve, type Key, keysOf, makeKey, Tangent } from "../../curve/curve.ts";
import { curveFromKeys } from "../../curve/make.ts";
import { keyedAtEnds, sealRange } from "../../curve/sealRange.ts";
import { sampleCurve } from "../../curve/track.ts";
import { freedKey } from "../../curve/turn.ts";
import { driftFor } from "../shared/driftFor.ts";
import { KneaderError } from "../../errors.ts";
import { eachCurve } from "../shared/eachCurve.ts";
import type { Operation } from "../operation.ts";
import { outcome } from "../shared/scope.ts";
import { countedWord } from "../../words.ts";

const settings = z.object({
  every: z.number().int().min(1).max(1000).default(4).meta({ title: "A key every", unit: "frames", max: 24, step: 1 }),
  frames: z.string().max(4000).default("").meta({ title: "Or at frames", help: "Such as 1 13 25 40; when given, they are used instead." }),
  kind: z.enum(["auto", "smooth", "linear", "stepped"]).default("auto").meta({ title: "Tangent" }),
});

/** Put keys at even distances, or at given frames, in place of those there are. */
export const resample: Operation<z.infer<typeof settings>> = {
  id: "resample",
  title: "Resample",
  group: "Clean",
  help: "Puts a key at every few frames, or at the frames given, with the curve's value there; the other keys go. Outside a marked range nothing changes.",
  guide: {
    use: "Gives curves keys at even distances, for an even base to sculpt on, or at frames you choose.",
    watch: "What happens between the new keys is lost if it was quicker than they are. The report says by how much.",
  },
  words: "bake sample every frame even spacing dense key each rate",
  byControl: true,
  settings,
  async run(shot, scope, s, context) {
    const asked = framesOf(s.frames);
    const { after, changed } = await eachCurve(shot, scope, "Resample", context, (given) => {
      if (given.times.length < 2) return given;
      const curve = scope.range ? keyedAtEnds(given, scope.range) : given;
      const first = Math.max(curve.times[0], scope.range?.start ?? Number.NEGATIVE_INFINITY);
      const last = Math.min(curve.times[curve.times.length - 1], scope.range?.end ?? Number.POSITIVE_INFINITY);
      if (last <= first) return given;
      const inside = asked ? asked.filter((frame) => frame > first && frame < last) : evenly(first, last, s.every);
      const frames = [...new Set([first, ...inside, last])].sort((a, b) => a - b);
      const next = resampled(curve, frames, s.kind);
      return scope.range ? sealRange(curve, next, { start: first, end: last }) : next;
    });
    const drift = await driftFor(shot, after, scope, context);
    return outcome(shot, after, `Resampled ${countedWord(changed.length, "curve")}`, { drift });
  },
};

function framesOf(text: string): number[] | null {
  const parts = text.split(/[\s,;]+/).filter(Boolean);
  if (parts.length === 0) return null;
  const frames = parts.map(Number);
  const wrong = frames.findIndex((frame) => !Number.isFinite(frame));
  if (wrong >= 0)
    throw new KneaderError(
      "bad-setting",
      `Resample: "${parts[wrong]}" is not a frame.`,
      "Write frames with blanks between, such as 1 13 25.",
    );
  return frames;
}

function evenly(first: number, last: number, every: number): number[] {
  const frames: number[] = [];
  for (let frame = first + every; frame < last - 1e-6; frame += every) frames.push(frame);
  return frames;
}

function resampled(curve: Curve, frames: readonly number[], kind: "auto" | "smooth" | "linear" | "stepped"): Curve {
  const fresh = frames.map((frame): Key => makeKey(frame, sampleCurve(curve, frame), Tangent[kind]));
  const outside = keysOf(curve)
    .filter((key) => key.time < frames[0] || key.time > frames[frames.length - 1])
    .map(freedKey);
  return curveFromKeys([...outside, ...fresh], curve);
}
