import { mkdir, readFile } from "node:fs/promises";
import { cpus } from "node:os";
import { readRecipe, recipeToText, shippedRecipes } from "@kneader/core";
import { Piscina } from "piscina";
import { inWords } from "../files.ts";
import { inputAt } from "../overInput.ts";
import { UsageError } from "../result.ts";
import { answersFrom } from "./answersFrom.ts";
import { type Input, inputsOf } from "./inputs.ts";
import { isMadeOf, madeOf, noteMadeOf } from "./madeOf.ts";
import type { Line, Task } from "./runOne.ts";

/** Processors that are put to use where nobody says how many. */
const FREE = Math.max(1, cpus().length - 1);

export interface ManyOptions {
  /** A file, or the name of one that comes along. */
  readonly recipe: string;
  readonly inputs: readonly string[];
  readonly out: string;
  readonly jobs: number | null;
  /** As `answersFrom` reads them. */
  readonly set: readonly string[];
  /** Results may be written over the shots they are made of. */
  readonly overwrite: boolean;
  /** Hears of each shot, in the order given, as soon as it and all before it are done. */
  line(line: Line): void;
}

/**
 * Run a recipe on many shots, several at a time. What is written does not depend on how many. Shots whose
 * result is there, made of just this shot, recipe, answers and version, are skipped. Answers how many failed. Errors: what is wrong with the recipe or the names.
 */
export async function runMany({ recipe: named, inputs, out, jobs, set, overwrite, line }: ManyOptions): Promise<number> {
  const text = await recipeText(named);
  const recipe = readRecipe(text);
  const answers = await answersFrom(set, recipe);
  const all = await inputsOf(inputs, out);
  if (!overwrite) await refuseOverwriting(all);
  await mkdir(out, { recursive: true }).catch((error: unknown) => {
    throw inWords(error, `The folder "${out}" cannot be made`);
  });
  // Beside this file, as source or as built.
  const filename = new URL(import.meta.url.endsWith(".ts") ? "./runOne.ts" : "./runOne.js", import.meta.url).href;
  const pool = new Piscina<Task, Line>({
    filename,
    maxThreads: jobs ?? FREE,
    minThreads: 1,
    concurrentTasksPerWorker: 1,
    execArgv: process.execArgv,
  });
  let failed = 0;
  try {
    const done = all.map((input) => task(input));
    for (const one of done) {
      const said = await one;
      if (said.failed !== undefined) failed++;
      line(said);
    }
  } finally {
    await pool.destroy();
  }
  return failed;

  async function task(input: Input): Promise<Line> {
    const of = await madeOf(input.from, text, answers);
    if (of && (await isMadeOf(input.to, of))) return { file: input.from, written: input.to, skipped: true };
    const done = await pool.run({ recipe: text, answers, ...input });
    // Where that cannot be noted the result is there all the same, and made again the next time.
    if (of && done.failed === undefined) await noteMadeOf(input.to, of).catch(() => undefined);
    return done;
  }
}

/** Errors: `UsageError` when a result would be written over a shot that is read. */
async function refuseOverwriting(all: readonly Input[]): Promise<void> {
  const read = all.map(({ from }) => from);
  for (const { to } of all) {
    const over = await inputAt(to, read);
    if (over !== null)
      throw new UsageError(
        `"${to}" is "${over}", which is read: nothing was done. Give another folder with --out, or say --overwrite.`,
        "recipe",
      );
  }
}

/** The text of a recipe in a file, or of one that comes along, by its name. */
async function recipeText(named: string): Promise<string> {
  const shipped = shippedRecipes.find(({ name }) => name.toLowerCase() === named.toLowerCase());
  if (shipped) return recipeToText(shipped);
  try {
    return await readFile(named, "utf8");
  } catch (error) {
    const known = shippedRecipes.map(({ name }) => `"${name}"`).join(", ");
    throw inWords(error, `"${named}" cannot be read, and no recipe that comes along (${known}) is called so`);
  }
}
