import { basename } from "node:path";
import { idsFrom, noContext, PLAIN_RUN, readRecipe, type RecipeRun, runRecipe, sayError } from "@kneader/core";
import { bytesOf, open, replaceFile } from "../files.ts";

/** A recipe run on one file; all of it can be handed to another process. */
export interface Task {
  /** The text of the recipe. */
  readonly recipe: string;
  readonly answers: RecipeRun["answers"];
  readonly from: string;
  readonly to: string;
}

/** What became of it: one line of the report. */
export interface Line {
  readonly file: string;
  readonly written: string | null;
  readonly skipped?: true;
  readonly failed?: string;
  readonly steps?: readonly {
    readonly step: number;
    readonly title: string;
    readonly said: string;
    readonly warnings: readonly string[];
  }[];
  readonly keys?: readonly [before: number, after: number];
  /** Degrees and scene units; null where the result cannot be compared frame by frame. */
  readonly drift?: { readonly turn: number; readonly place: number } | null;
  readonly notes?: readonly string[];
}

/** Reads a shot, runs the recipe on it and writes the result beside its name. It never throws: what failed is said. */
export default async function runOne({ recipe, answers, from, to }: Task): Promise<Line> {
  try {
    idsFrom(basename(to));
    const notes: string[] = [];
    const talk = { note: (text: string) => void notes.push(text) };
    const { shot, asset } = await open(from, talk);
    const done = await runRecipe(shot, readRecipe(recipe), { ...PLAIN_RUN, answers }, noContext);
    await replaceFile(to, await bytesOf(done.shot, to, talk, asset));
    const [first, last] = [done.steps[0], done.steps[done.steps.length - 1]];
    return {
      file: from,
      written: to,
      steps: done.steps.map(({ step, title, report }) => ({ step, title, said: report.summary, warnings: report.warnings })),
      keys: [first?.report.keysBefore ?? 0, last?.report.keysAfter ?? 0],
      drift: done.drift && { turn: done.drift.turn.amount, place: done.drift.place.amount },
      notes,
    };
  } catch (error) {
    return { file: from, written: null, failed: sayError(error) };
  }
}
