import { z } from "zod";
import { KneaderError } from "../../errors.ts";
import { sayIssue } from "../../formats/sayIssue.ts";
import { sayJsonError } from "../../formats/sayJsonError.ts";
import { checkSettings } from "../checkSettings.ts";
import type { Operation } from "../operation.ts";
import { whenSchema } from "./when.ts";
import { whoSchema } from "./who.ts";

/** Answers an operation by its id; throws where there is none. */
export type FindOperation = (id: string) => Operation;

/** The operation that runs recipes; none holds another. */
export const RUNS_RECIPES = "run-recipe";

const RECIPE_FORMAT = "kneader-recipe";
const RECIPE_VERSION = 1;
const MOST_STEPS = 200;

const stepSchema = z.strictObject({
  /** Id of an operation. */
  operation: z.string().min(1),
  on: z.boolean().default(true),
  /** Left out, with a note, on shots where there is nothing or nobody for it; otherwise the recipe fails there. */
  optional: z.boolean().default(false),
  who: whoSchema,
  when: whenSchema,
  /** "base", "top" for the topmost pass, or the name of a pass. */
  layer: z.string().min(1).default("base"),
  settings: z.record(z.string(), z.unknown()).default({}),
  /** Names of the settings that are asked for when it is run. */
  asks: z.array(z.string().min(1)).max(50).default([]),
});

const recipeSchema = z.strictObject({
  format: z.literal(RECIPE_FORMAT),
  version: z.number().int().min(1),
  name: z.string().trim().min(1).max(200),
  notes: z.string().max(10_000).default(""),
  steps: z.array(stepSchema).min(1).max(MOST_STEPS),
});

export type RecipeStep = z.infer<typeof stepSchema>;
/** A list of steps that is done again on other shots. */
export type Recipe = z.infer<typeof recipeSchema>;

/** A step said in short, its defaults left out. */
export function recipeStep(operation: string, more: Partial<RecipeStep> = {}): RecipeStep {
  return stepSchema.parse({ operation, ...more });
}

export function makeRecipe(name: string, steps: readonly RecipeStep[], notes = ""): Recipe {
  return { format: RECIPE_FORMAT, version: RECIPE_VERSION, name, notes, steps: [...steps] };
}

/**
 * A recipe from the text of a file. Errors: `json-syntax`, `newer-version`, `bad-setting` with the step and the place in
 * it: what is not written as it should be, an operation or a setting nobody knows.
 */
export function recipeFromText(text: string, find: FindOperation): Recipe {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch (error) {
    throw new KneaderError("json-syntax", `The recipe is not written as it should be: ${sayJsonError(text, error)}.`);
  }
  return recipeFromJson(json, find);
}

export function recipeFromJson(json: unknown, find: FindOperation): Recipe {
  const { format, version } = (typeof json === "object" && json !== null ? json : {}) as Record<string, unknown>;
  if (format !== RECIPE_FORMAT)
    throw new KneaderError("json-syntax", "This is no recipe.", 'A recipe says so: its format is "kneader-recipe".');
  if (typeof version === "number" && version > RECIPE_VERSION)
    throw new KneaderError(
      "newer-version",
      `The recipe was made by a newer Kneader (version ${version}; this one knows ${RECIPE_VERSION}).`,
      "Update Kneader.",
    );
  const read = recipeSchema.safeParse(json);
  if (!read.success) throw new KneaderError("bad-setting", `The recipe: ${inSteps(sayIssue(read.error, "", "it"))}.`);
  for (const [n, step] of read.data.steps.entries()) checkStep(step, n, find);
  return read.data;
}

export function recipeToText(recipe: Recipe): string {
  return `${JSON.stringify(recipe, null, 2)}\n`;
}

/** "steps.2.who.part should be text" → "step 3, who.part should be text". */
function inSteps(said: string): string {
  return said.replace(/^steps\.(\d+)\.?/, (_, n) => `step ${Number(n) + 1}, `);
}

/** An error's words with the step before them; what an operation says begins with its title already. */
export function inStep(step: RecipeStep, n: number, message: string, find: FindOperation): string {
  const title = known(step.operation, find)?.title ?? "";
  return `${stepName(step, n, find)}: ${message.startsWith(`${title}: `) ? message.slice(title.length + 2) : message}`;
}

/** "Step 3" with the operation's title where it is known. */
function stepName(step: RecipeStep, n: number, find: FindOperation): string {
  const operation = known(step.operation, find);
  return operation ? `Step ${n + 1}, ${operation.title}` : `Step ${n + 1}`;
}

function known(id: string, find: FindOperation): Operation | null {
  try {
    return find(id);
  } catch {
    return null;
  }
}

/** Errors: `bad-setting` for an operation or settings nobody knows. */
function checkStep(step: RecipeStep, n: number, find: FindOperation): void {
  const operation = known(step.operation, find);
  if (!operation)
    throw new KneaderError(
      "bad-setting",
      `Step ${n + 1} of the recipe is "${step.operation}", which is no operation.`,
      "Switch it off or take it out.",
    );
  if (operation.id === RUNS_RECIPES || operation.makes)
    throw new KneaderError("bad-setting", `${stepName(step, n, find)}: this cannot be a step of a recipe.`, "Take it out.");
  const shape = operation.settings;
  const names = shape instanceof z.ZodObject ? Object.keys(shape.shape) : null;
  const odd = names && [...Object.keys(step.settings), ...step.asks].find((name) => !names.includes(name));
  if (odd) throw new KneaderError("bad-setting", `${stepName(step, n, find)}: it has no setting "${odd}".`, `It has ${names?.join(", ")}.`);
  try {
    checkSettings(operation, Object.fromEntries(Object.entries(step.settings).filter(([name]) => !step.asks.includes(name))));
  } catch (error) {
    if (step.asks.length === 0 && error instanceof KneaderError)
      throw new KneaderError("bad-setting", inStep(step, n, error.message, find), error.remedy);
  }
}
