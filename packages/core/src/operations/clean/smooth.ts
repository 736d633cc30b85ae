import { z } from "zod";
import { extremesOf } from "../../curve/extremes.ts";
import { butterworth } from "../../curve/filter/butterworth.ts";
import { gaussian } from "../../curve/filter/gaussian.ts";
import { savitzkyGolay } from "../../curve/filter/savitzkyGolay.ts";
import { sampleAt, wholeFrames, withValues } from "../../curve/values.ts";
import { driftFor } from "../shared/driftFor.ts";
import { framesPerSecond } from "../../model/rate.ts";
import { eachCurve } from "../shared/eachCurve.ts";
import type { Operation } from "../operation.ts";
import { outcome } from "../shared/scope.ts";
import { countedWord } from "../../words.ts";

const settings = z.object({
  method: z
    .enum(["polynomial", "bell", "lowpass"])
    .default("polynomial")
    .meta({
      title: "Method",
      labels: { polynomial: "Polynomial, keeps peaks", bell: "Bell, softest", lowpass: "Low pass, by frequency" },
      help: "Savitzky–Golay, Gaussian, or a Butterworth low pass run both ways.",
    }),
  width: z.number().min(1).max(60).default(3).meta({
    title: "Frames each side",
    unit: "frames",
    max: 20,
    step: 1,
    help: "So many frames before and after count; for the first two methods.",
  }),
  cutoff: z
    .number()
    .positive()
    .max(1000)
    .default(6)
    .meta({ title: "Cut-off", unit: "hertz", max: 12, step: 0.5, help: "Faster movement is taken out; for the low pass." }),
  strength: z.number().min(0).max(200).default(100).meta({ title: "Strength", unit: "percent", widget: "dial", max: 200, step: 5 }),
  extremes: z
    .boolean()
    .default(false)
    .meta({ title: "Keep the peaks and valleys", help: "Keys on turning points that stand out keep their values." }),
});
type Settings = z.infer<typeof settings>;

/** Take jitter out of curves; keys stay where they are in time. */
export const smooth: Operation<Settings> = {
  id: "smooth",
  title: "Smooth",
  group: "Clean",
  help: "Takes jitter out of the curves. Keys stay at their frames; the ends of each curve keep their values.",
  guide: {
    use: "Takes the shiver out of captured motion before it is thinned, or calms a nervous curve.",
    watch:
      "Contacts soften too: a foot that strikes the ground arrives later. Keep the peaks where it matters, and mark a range where it does not.",
  },
  words: "jitter noise filter savitzky golay gaussian butterworth soften clean wobble shake calm capture mocap",
  suits: ["a key on every frame"],
  byControl: true,
  settings,
  async run(shot, scope, s, context) {
    const cutoff = s.cutoff / framesPerSecond(shot.rate);
    const filtered = (samples: Float64Array): Float64Array => {
      if (s.method === "bell") return gaussian(samples, s.width / 2);
      if (s.method === "lowpass") return butterworth(samples, cutoff);
      return savitzkyGolay(samples, Math.round(s.width), Math.min(3, 2 * Math.round(s.width)));
    };
    const { after, changed } = await eachCurve(shot, scope, "Smooth", context, (curve, keys) => {
      const last = curve.times.length - 1;
      if (last < 2) return curve;
      const { start, samples } = wholeFrames(curve);
      const soft = filtered(samples);
      const kept = s.extremes ? new Set(extremesOf(samples, 0.02 * spread(samples)).map((i) => start + i)) : null;
      return withValues(curve, keys, (i) => {
        const value = curve.values[i];
        if (i === 0 || i === last || kept?.has(curve.times[i])) return value;
        const place = curve.times[i] - start;
        return value + (s.strength / 100) * (sampleAt(soft, place) - sampleAt(samples, place));
      });
    });
    const drift = await driftFor(shot, after, scope, context);
    return outcome(shot, after, `Smoothed ${countedWord(changed.length, "curve")}`, { drift });
  },
};

function spread(samples: Float64Array): number {
  let low = samples[0];
  let high = samples[0];
  for (const value of samples) {
    if (value < low) low = value;
    if (value > high) high = value;
  }
  return high - low;
}
