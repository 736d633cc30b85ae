import type { Shot } from "../model/shot.ts";
import { operationById } from "../operations/catalogue.ts";
import type { Context } from "../operations/operation.ts";
import { type Done, recipeOfSteps } from "../operations/recipes/fromSteps.ts";
import { type Recipe, recipeFromText } from "../operations/recipes/recipe.ts";
import { type RecipeOutcome, type RecipeRun, runSteps } from "../operations/recipes/runRecipe.ts";

/*
 * Recipes with all operations there are for their steps.
 */

/** A recipe from the text of a file. Errors: see `recipeFromText`. */
export const readRecipe = (text: string): Recipe => recipeFromText(text, operationById);

/** Do a recipe's steps on a shot. Errors: see `runSteps`. */
export const runRecipe = (shot: Shot, recipe: Recipe, run: RecipeRun, context: Context): Promise<RecipeOutcome> =>
  runSteps(shot, recipe, run, context, operationById);

/** A recipe of what was done to a shot, and what could not be carried over. */
export const recipeFromSteps = (name: string, steps: readonly Done[]): { recipe: Recipe; left: string[] } =>
  recipeOfSteps(name, steps, operationById);
