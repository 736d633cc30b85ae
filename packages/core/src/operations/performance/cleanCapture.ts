import { z } from "zod";
import { type Drift, measureRowInPieces } from "../../evaluate/drift.ts";
import { sizeOf } from "../../figure/sides.ts";
import { KneaderError } from "../../errors.ts";
import { BASE, type Shot } from "../../model/shot.ts";
import { despike } from "../clean/despike.ts";
import { simplify } from "../clean/simplify.ts";
import { smooth } from "../clean/smooth.ts";
import { untwist } from "../clean/untwist.ts";
import type { Context, Operation, Outcome, Scope } from "../operation.ts";
import { outcome, scopeRange } from "../shared/scope.ts";
import { plantEnds } from "../spaces/plantEnds.ts";
import { sayLength } from "../../model/sayLength.ts";

const settings = z.object({
  rotation: z.number().min(0).max(90).default(0.5).meta({ title: "Rotation within", unit: "degrees", max: 5, step: 0.05 }),
  move: z.number().min(0).default(0.004).meta({ title: "Position within", unit: "length", max: 0.1, step: 0.001 }),
  cutoff: z
    .number()
    .positive()
    .max(1000)
    .default(8)
    .meta({ title: "Filter above", unit: "hertz", max: 15, step: 0.5, help: "Movement quicker than so many times a second is taken out." }),
  untwist: z
    .boolean()
    .default(true)
    .meta({ title: "Untwist", help: "Whole turns and flips are taken out first, so that nothing is filtered across a jump." }),
  despike: z
    .boolean()
    .default(true)
    .meta({ title: "Despike", help: "Single frames that jump out of line are put among their neighbours." }),
  filter: z.boolean().default(true).meta({ title: "Filter", help: "A low pass run both ways, so that nothing comes late." }),
  feet: z
    .boolean()
    .default(true)
    .meta({ title: "Ground the feet", help: "Feet that stand are planted, after the filter has softened their contacts." }),
  simplify: z.boolean().default(true).meta({ title: "Simplify", help: "The fewest keys within the tolerance, last of all." }),
});
type Settings = z.infer<typeof settings>;

/** What counts as standing, for a grown person's size, and what that is (scene units there are metres). */
const PERSON = { size: 1.7, speed: 0.35, height: 0.05 };

/** The same for a figure of any size: captures come in inches, centimetres and units of their own. */
function contactsFor({ rig }: Shot): Parameters<typeof plantEnds.run>[2] {
  const larger = sizeOf(rig) / PERSON.size;
  return plantEnds.settings.parse({ speed: PERSON.speed * larger, height: PERSON.height * larger });
}

interface Step {
  readonly name: string;
  run(shot: Shot, scope: Scope, s: Settings, context: Context): Outcome | Promise<Outcome>;
}

/** In the order that works: jumps of whole turns first, single wrong frames before what would smear them, feet on what is smooth, keys last. */
const steps: readonly (Step & { readonly on: "untwist" | "despike" | "filter" | "feet" | "simplify" })[] = [
  { on: "untwist", name: "Untwist", run: (shot, scope, _s, context) => untwist.run(shot, scope, untwist.settings.parse({}), context) },
  { on: "despike", name: "Despike", run: (shot, scope, _s, context) => despike.run(shot, scope, despike.settings.parse({}), context) },
  {
    on: "filter",
    name: "Filter",
    run: (shot, scope, { cutoff }, context) => smooth.run(shot, scope, smooth.settings.parse({ method: "lowpass", cutoff }), context),
  },
  {
    on: "feet",
    name: "Ground the feet",
    run: (shot, scope, _s, context) =>
      plantEnds.run(shot, { ...scope, controls: null, channels: null, keys: null }, contactsFor(shot), context),
  },
  {
    on: "simplify",
    name: "Simplify",
    run: (shot, scope, { rotation, move }, context) => simplify.run(shot, scope, simplify.settings.parse({ rotation, move }), context),
  },
];

/** All that a capture needs before it can be worked on, in one card. */
export const cleanCapture: Operation<Settings> = {
  id: "clean-capture",
  title: "Clean a capture",
  group: "Performance",
  help: "Untwist, despike, filter, ground the feet and simplify, in the order that works; each step says what it costs.",
  guide: {
    use: "Captured or recorded motion as it comes: a key on every frame, with jitter, spikes and sliding feet. One card, and it can be edited.",
    watch:
      "Each step says how far it moves anything. What a step has no work for is said and left out. Feet are planted by ties, which can be taken out one by one.",
  },
  words: "capture mocap noise jitter despike filter plant feet slide untwist simplify tidy pipeline",
  suits: ["a key on every frame"],
  settings,
  async run(shot, scope, s, context) {
    const wanted = steps.filter(({ on }) => s[on]);
    const shots = [shot];
    const done: Outcome[] = [];
    /** What each step says, in their order; of those that were done, as far as it was measured. */
    const said: ((drifts: readonly (Drift | null)[]) => string)[] = [];
    const warnings: string[] = [];
    for (const [n, step] of wanted.entries()) {
      // Ties are for base motion; what is in a pass is cleaned without them.
      if (step.on === "feet" && scope.layer !== BASE) {
        said.push(() => "Ground the feet: left out, as a pass is cleaned and not base motion.");
        continue;
      }
      // How far each moves anything is measured at the end, of all steps at once.
      const part: Context = { ...context, firstLook: true, breathe: (share) => context.breathe((0.85 * (n + share)) / wanted.length) };
      try {
        const before = shots[shots.length - 1];
        const now = await step.run(before, scope, s, part);
        const number = done.push(now) - 1;
        shots.push(isUntouched(before, now) ? before : now.shot);
        said.push((drifts) => {
          const drift = drifts[number];
          return `${step.name}: ${now.report.summary.toLowerCase()}${drift === undefined ? "" : `, ${sayDrift(shot, drift)}`}.`;
        });
        warnings.push(...now.report.warnings.map((warning) => `${step.name}: ${warning}`));
      } catch (error) {
        if (!(error instanceof KneaderError) || error.code !== "nothing-in-scope") throw error;
        said.push(() => `${step.name}: nothing to do.`);
      }
    }
    const measured = context.firstLook
      ? null
      : await measureRowInPieces(done.length > 0 ? shots : [shot, shot], scopeRange(shot, scope), (share) =>
          context.breathe(0.85 + 0.15 * share),
        );
    const notes = said.map((one) => one(measured?.each ?? []));
    const last = done.at(-1);
    const names = wanted.map(({ name }) => name.toLowerCase());
    return outcome(shot, last?.shot ?? shot, `Cleaned: ${names.join(", ")}`, {
      notes,
      warnings,
      drift: measured?.whole ?? null,
      worstCurve: last?.report.worstCurve ?? null,
    });
  },
};

/** Has a step left all that moves as it was? Then nothing needs to be played to see that. */
function isUntouched(before: Shot, { shot, report }: Outcome): boolean {
  return report.curvesChanged === 0 && shot.constraints === before.constraints && shot.passes === before.passes;
}

function sayDrift(shot: Shot, drift: Drift | null): string {
  if (!drift || (drift.turn.amount < 5e-3 && drift.place.amount < 1e-9)) return "moves nothing";
  const { turn, place } = drift;
  return `at most ${turn.amount.toFixed(2)}°, ${sayLength(shot, place.amount)}`;
}
