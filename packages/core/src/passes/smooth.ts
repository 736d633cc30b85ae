import { z } from "zod";
import { gaussian } from "../curve/filter/gaussian.ts";
import { belowSamples, curvesOf, wholeRange } from "./belowSamples.ts";
import type { MotionPassKind } from "./passKind.ts";
import { retimedSettings } from "./settingAt.ts";

const settings = z.object({
  reach: z
    .number()
    .min(0.1)
    .max(60)
    .default(2)
    .meta({ title: "Frames each side", unit: "frames", max: 12, step: 0.5, help: "How far around a frame counts; further is smoother." }),
});

/** Takes jitter out of what is below, as a bell-shaped mean over time. */
export const smoothPass: MotionPassKind = {
  id: "smooth",
  title: "Smooth",
  help: "Takes jitter out of what is below it; the keys stay.",
  reads: "motion",
  joins: () => "replaces",
  madeBy: "smooth-pass",
  offer: {
    words: "filter jitter soft",
    guide: {
      use: "Smooths what is below without touching a key, and can be turned down again.",
      watch: "It softens contacts too. Give the pass a range, or leave feet out of it.",
    },
  },
  own: { name: "Smooth", channels: [] },
  settings,
  compute(pass, below, members) {
    const { reach } = settings.parse(pass.settings);
    const { start, count } = wholeRange(below.shot);
    const samples = belowSamples(below, members, start, count);
    return curvesOf(start, count, new Map([...samples].map(([key, values]) => [key, gaussian(values, reach)])));
  },
  retimed: retimedSettings,
  checked: (pass) => pass,
};
