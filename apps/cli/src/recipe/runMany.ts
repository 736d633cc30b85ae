import { mkdir, readFile } from "node:fs/promises";
import { cpus } from "node:os";
import { catalogue, KneaderError, readRecipe, type RecipeRun, settingsSchema, shippedRecipes, recipeToText } from "@kneader/core";
import { Piscina } from "piscina";
import { inWords } from "../files.ts";
import { type Input, inputsOf, isNewer } from "./inputs.ts";
import type { Line, Task } from "./runOne.ts";

/** Processors that are put to use where nobody says how many. */
const FREE = Math.max(1, cpus().length - 1);

export interface ManyOptions {
  /** A file, or the name of one that comes along. */
  readonly recipe: string;
  readonly inputs: readonly string[];
  readonly out: string;
  readonly jobs: number | null;
  /** `step.setting=value`, steps counted from 1. */
  readonly set: readonly string[];
  /** Hears of each shot, in the order given, as soon as it and all before it are done. */
  line(line: Line): void;
}

/**
 * Run a recipe on many shots, several at a time. What is written does not depend on how many. Shots whose result is newer
 * than they and the recipe are skipped. Answers how many failed. Errors: what is wrong with the recipe or the names.
 */
export async function runMany({ recipe: named, inputs, out, jobs, set, line }: ManyOptions): Promise<number> {
  const { text, file } = await recipeText(named);
  const recipe = readRecipe(text);
  const answers = answersFrom(
    set,
    recipe.steps.map(({ operation }) => operation),
  );
  const all = await inputsOf(inputs, out);
  await mkdir(out, { recursive: true }).catch((error: unknown) => {
    throw inWords(error, `The folder "${out}" cannot be made`);
  });
  const filename = new URL("./runOne.ts", import.meta.url).href;
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
    if (await isNewer(input, file)) return { file: input.from, written: input.to, skipped: true };
    return pool.run({ recipe: text, answers, ...input });
  }
}

/** The text of a recipe in a file, or of one that comes along, by its name. */
async function recipeText(named: string): Promise<{ text: string; file: string | null }> {
  const shipped = shippedRecipes.find(({ name }) => name.toLowerCase() === named.toLowerCase());
  if (shipped) return { text: recipeToText(shipped), file: null };
  try {
    return { text: await readFile(named, "utf8"), file: named };
  } catch (error) {
    const known = shippedRecipes.map(({ name }) => `"${name}"`).join(", ");
    throw inWords(error, `"${named}" cannot be read, and no recipe that comes along (${known}) is called so`);
  }
}

function answersFrom(set: readonly string[], operations: readonly string[]): RecipeRun["answers"] {
  const answers: Record<number, Record<string, unknown>> = {};
  for (const text of set) {
    const [, number, name, value] = /^(\d+)\.([^=]+)=(.*)$/.exec(text) ?? [];
    const step = Number(number) - 1;
    if (name === undefined || !(step in operations))
      throw new KneaderError("bad-setting", `--set needs STEP.NAME=VALUE with one of ${operations.length} steps, not "${text}".`);
    const operation = catalogue.find(({ id }) => id === operations[step]);
    const { properties = {} } = (operation ? settingsSchema(operation) : {}) as { properties?: Record<string, { type?: string }> };
    answers[step] = { ...answers[step], [name]: valueFrom(value, properties[name]?.type) };
  }
  return answers;
}

function valueFrom(text: string, type: string | undefined): unknown {
  if (type === "string") return text;
  try {
    return JSON.parse(text);
  } catch {
    return text;
  }
}
