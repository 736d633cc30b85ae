import { z } from "zod";
import type { Curve } from "../../curve/curve.ts";
import { sampleInto } from "../../curve/track.ts";
import { driftFor } from "../shared/driftFor.ts";
import { type ChannelKey, isFine, splitChannelKey } from "../../model/rig.ts";
import { type Curves, layerCurves, type Shot } from "../../model/shot.ts";
import { type FitChannels, fitChannels } from "./fitChannels.ts";
import { fitInSpace } from "./fitInSpace.ts";
import { tremblingKeys } from "./trembling.ts";
import { EVERYTHING, type Operation, type Report } from "../operation.ts";
import { changeCurves, needSomething, outcome, scopedChannels } from "../shared/scope.ts";
import { countedWord } from "../../words.ts";

const settings = z.object({
  rotation: z.number().min(0).max(90).default(0.5).meta({
    title: "Rotation within",
    unit: "degrees",
    max: 5,
    step: 0.05,
    help: "No rotate curve leaves the original by more than this at any frame; shapes of a mesh by no more than as many percent.",
  }),
  move: z.number().min(0).default(0.004).meta({
    title: "Position within",
    unit: "length",
    max: 0.1,
    step: 0.001,
    help: "The same for move and scale curves.",
  }),
  measure: z
    .enum(["curve", "space"])
    .default("curve")
    .meta({
      title: "Tolerance on",
      labels: { curve: "Each curve", space: "Hands, feet, head, tail in space" },
      help: "In space is what an audience sees: the ends of the figure stay within a distance, however the curves share it.",
    }),
  space: z
    .number()
    .positive()
    .default(0.01)
    .meta({
      title: "Ends within",
      unit: "length",
      max: 0.1,
      step: 0.001,
      when: { measure: "space" },
      help: "The furthest any end of the figure may be from where it was, at any frame.",
    }),
  strength: z
    .number()
    .min(0)
    .max(400)
    .default(100)
    .meta({ title: "Strength", unit: "percent", widget: "dial", max: 200, step: 5, help: "Multiplies both tolerances." }),
  together: z
    .enum(["control", "figure", "curve"])
    .default("control")
    .meta({
      title: "Keys at the same frames",
      labels: { control: "Across each control", figure: "Across the figure", curve: "Each curve alone" },
      help: "Together, poses stay poses; alone, the fewest keys.",
    }),
  tangents: z
    .enum(["unbroken", "broken"])
    .default("unbroken")
    .meta({ title: "Tangents", labels: { unbroken: "Unbroken", broken: "May break" }, help: "Broken tangents need fewer keys." }),
  extremes: z.boolean().default(true).meta({
    title: "Keys on peaks and valleys",
    help: "Every peak and valley that stands out by more than four times the tolerance has a key on it. Off, or across the figure, there are fewer keys still.",
  }),
  keep: z
    .array(z.coerce.number())
    .max(500)
    .default([])
    .meta({ title: "Keys kept at frames", widget: "frames", help: "These frames have a key whatever happens." }),
});
type Settings = z.infer<typeof settings>;

/** Fewest keys within a stated tolerance of the original at every frame. */
export const simplify: Operation<Settings> = {
  id: "simplify",
  title: "Simplify",
  group: "Clean",
  help: "Keeps the fewest keys whose curves stay within a tolerance of the original at every frame.",
  guide: {
    use: "Recorded or captured motion has a key on every frame and cannot be edited. This leaves the few keys that make the motion, so that it can be shaped again.",
    watch:
      "Raise the tolerance until only the real peaks and valleys are left, then play. The worst place is one click away. Keys that sit on noise are noise: smooth or despike first.",
  },
  words: "reduce keys thin clean captured noise fewer less decimate up tidy optimise",
  suits: ["a key on every frame"],
  byControl: true,
  settings,
  async run(shot, scope, s, context) {
    const channels = scopedChannels(shot, scope);
    needSomething(channels, "Simplify");
    const how: FitChannels = {
      together: s.together,
      broken: s.tangents === "broken",
      extremes: s.extremes,
      keep: s.keep,
      toleranceOf: (key) => toleranceFor(key, s),
      breathe: (share) => context.breathe(0.8 * share),
      fitter: context.fitter,
    };
    const inSpace = s.measure === "space" ? await fitInSpace(shot, scope, channels, how, (s.space * s.strength) / 100) : null;
    const { changed, left } = inSpace ?? (await fitChannels(shot, scope, channels, how));
    const curves = layerCurves(shot, scope.layer);
    let worst: Report["worstCurve"] = null;
    for (const key of Object.keys(changed)) {
      const off = worstOff(curves[key], changed[key]);
      if (worst === null || off.amount > worst.amount) worst = { channel: key, ...off };
    }
    const after = changeCurves(shot, scope.layer, changed);
    const drift = await driftFor(shot, after, scope, context);
    const between = left.filter((key) => !curves[key].times.every(Number.isInteger));
    const notes = [...(inSpace?.notes ?? []), ...sayLeft(left.length - between.length, "stepped"), ...sayLeft(between.length, "between")];
    const noise = context.firstLook ? null : noiseLeft(curves, changed, s);
    if (noise) notes.push(noise);
    const summary = `Simplified ${Object.keys(changed).length} of ${countedWord(channels.length, "curve")}`;
    const bounds = inSpace ? "place" : "curve";
    const warnings = inSpace?.warnings ?? [];
    const doFirst = [...(between.length > 0 ? BETWEEN_FIRST : []), ...(noise ? NOISE_FIRST : [])];
    return outcome(shot, after, summary, { drift, worstCurve: worst, bounds, warnings, notes, ...(doFirst.length > 0 && { doFirst }) });
  },
};

/** That some curves are left as they are, and why. */
function sayLeft(count: number, why: "stepped" | "between"): string[] {
  if (count === 0) return [];
  const curves = why === "stepped" ? countedWord(count, "stepped curve") : `${countedWord(count, "curve")} with keys between frames`;
  return [`${curves} ${count === 1 ? "stays as it is" : "stay as they are"}.`];
}

/** What is better done first where keys stand between frames. */
const BETWEEN_FIRST = ["snap-frames"];

/** What is better done first where keys are left on noise. */
const NOISE_FIRST = ["smooth", "despike"];
/** So many keys and so large a share of them must stand on noise before it is said. */
const MANY = 40;
const LARGE = 1 / 3;

/** That many of the keys left stand on noise; null where they do not, or where that is not known. */
function noiseLeft(before: Curves, changed: Readonly<Record<ChannelKey, Curve>>, s: Settings): string | null {
  if (s.measure === "space") return null;
  let keys = 0;
  let noisy = 0;
  for (const [key, curve] of Object.entries(changed)) {
    if (curve.times.length < 2) continue;
    keys += curve.times.length;
    noisy += tremblingKeys(before[key], curve, toleranceFor(key, s));
  }
  if (noisy < MANY || noisy < LARGE * keys) return null;
  return `${Math.round((100 * noisy) / keys)} % of the keys left stand where the curve trembles by more than a quarter of the tolerance.`;
}

function toleranceFor(key: ChannelKey, s: Settings): number {
  const base = isFine(splitChannelKey(key).channel) ? s.rotation : s.move;
  return (base * s.strength) / 100;
}

/** Where two curves are furthest apart at the whole frames of the first. */
function worstOff(before: Curve, after: Curve): { frame: number; amount: number } {
  const start = Math.ceil(before.times[0]);
  const count = Math.max(0, Math.floor(before.times[before.times.length - 1]) - start + 1);
  const were = sampleInto(before, start, 1, new Float64Array(count));
  const are = sampleInto(after, start, 1, new Float64Array(count));
  let worst = { frame: before.times[0], amount: 0 };
  for (let n = 0; n < count; n++) {
    const amount = Math.abs(were[n] - are[n]);
    if (amount > worst.amount) worst = { frame: start + n, amount };
  }
  return worst;
}

/** The shot with every curve of base fitted within tolerances: for makers of shots. */
export async function simplified(shot: Shot, given: Partial<Settings>): Promise<Shot> {
  const scope = EVERYTHING;
  return (await simplify.run(shot, scope, settings.parse(given), { breathe: () => undefined, firstLook: true })).shot;
}
