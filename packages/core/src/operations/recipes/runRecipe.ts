import { type ErrorCode, KneaderError } from "../../errors.ts";
import { type Drift, measureDriftInPieces } from "../../evaluate/drift.ts";
import { BASE, type FrameRange, type Shot } from "../../model/shot.ts";
import { checkSettings } from "../checkSettings.ts";
import type { Context, Operation, Report, Scope } from "../operation.ts";
import { outcome } from "../shared/scope.ts";
import { runOperation } from "../runOperation.ts";
import { type FindOperation, inStep, type Recipe, type RecipeStep } from "./recipe.ts";
import { findWhen } from "./when.ts";
import { findWho } from "./who.ts";

/** Errors that say that a step has nothing or nobody to work on. */
const IDLE: readonly ErrorCode[] = ["nothing-in-scope", "no-match"];

/** What is said when a recipe is run. */
export interface RecipeRun {
  readonly picked: readonly string[];
  readonly range: FrameRange | null;
  /** Answers to what steps ask, by the number of the step (from 0) and the name of the setting. */
  readonly answers: Readonly<Record<number, Readonly<Record<string, unknown>>>>;
  /** Was what is asked for shown with what is proposed? Then it is that where nothing else was said. */
  readonly shown?: boolean;
}

export const PLAIN_RUN: RecipeRun = { picked: [], range: null, answers: {} };

interface StepReport {
  /** Counted from 1. */
  readonly step: number;
  readonly title: string;
  readonly report: Report;
}

export interface RecipeOutcome {
  readonly shot: Shot;
  readonly steps: readonly StepReport[];
  /** From the shot as it was, where both can be compared at the same frames; null when the figure or its timing is another. */
  readonly drift: Drift | null;
}

/**
 * Do the steps that are on, one on the result of the other. Errors: those of the steps, with the step's number and title
 * before them; `cancelled`. Pure: the same in page, worker and Node.
 */
export async function runSteps(shot: Shot, recipe: Recipe, run: RecipeRun, context: Context, find: FindOperation): Promise<RecipeOutcome> {
  let now = shot;
  const steps: StepReport[] = [];
  const wanted = recipe.steps.map((step, n) => ({ step, n })).filter(({ step }) => step.on);
  for (const [k, { step, n }] of wanted.entries()) {
    const breathe = (share: number) => context.breathe((k + share) / wanted.length);
    try {
      const operation = find(step.operation);
      const { shot: after, report } = await runStep(now, operation, step, run.answers[n] ?? {}, run, { breathe, fitter: context.fitter });
      now = after;
      steps.push({ step: n + 1, title: operation.title, report });
    } catch (error) {
      if (!(error instanceof KneaderError) || error.code === "cancelled") throw error;
      if (step.optional && IDLE.includes(error.code)) {
        const title = find(step.operation).title;
        const why = error.message.startsWith(`${title}: `) ? error.message.slice(title.length + 2) : error.message;
        steps.push({ step: n + 1, title, report: outcome(now, now, `Left out: ${why}`).report });
        continue;
      }
      throw new KneaderError(error.code, inStep(step, n, error.message, find), error.remedy);
    }
  }
  return { shot: now, steps, drift: comparable(shot, now) ? await driftOver(shot, now, steps, context) : null };
}

/** How far the whole is from what was; a single step over the whole range has measured that itself. */
async function driftOver(before: Shot, after: Shot, steps: readonly StepReport[], context: Context): Promise<Drift> {
  const { start, end } = before.range;
  const [only] = steps;
  const known = steps.length === 1 ? only.report.drift : null;
  const frames = Math.floor(end) - Math.ceil(start) + 1;
  if (known && known.start === Math.ceil(start) && known.turnPerFrame.length === frames) return known;
  return measureDriftInPieces(before, after, before.range, () => context.breathe(1));
}

async function runStep(
  shot: Shot,
  operation: Operation,
  step: RecipeStep,
  answers: Readonly<Record<string, unknown>>,
  run: RecipeRun,
  context: Context,
) {
  const missing = step.asks.find((name) => !(name in answers) && !(name in step.settings));
  if (missing && !run.shown)
    throw new KneaderError("bad-setting", `it asks for "${missing}", and nothing was said.`, "Say it when the recipe is run.");
  const controls = operation.leaves?.includes("controls") ? null : findWho(shot, step.who, run.picked);
  const scope: Scope = {
    controls,
    channels: null,
    keys: null,
    range: findWhen(shot, step.when, run.range),
    layer: layerOf(shot, step.layer),
  };
  // What an operation proposes where one stands goes before its plain defaults, and what the recipe says before both.
  const at = { shot, scope, frame: scope.range?.start ?? shot.range.start, copiedPose: null, copiedKeys: null, poseShare: 0.5 };
  const settings = { ...operation.situation?.(at), ...step.settings, ...answers };
  return runOperation(operation, shot, scope, checkSettings(operation, settings), context);
}

function layerOf(shot: Shot, layer: string): string {
  if (layer === BASE) return BASE;
  const found = layer === "top" ? shot.passes[shot.passes.length - 1] : shot.passes.find(({ name }) => name === layer);
  if (!found) throw new KneaderError("no-match", layer === "top" ? "the shot has no pass." : `the shot has no pass called "${layer}".`);
  return found.id;
}

function comparable(before: Shot, after: Shot): boolean {
  const ids = (shot: Shot) => shot.rig.controls.map(({ id }) => id).join();
  return ids(before) === ids(after) && before.range.start === after.range.start && before.range.end === after.range.end;
}
