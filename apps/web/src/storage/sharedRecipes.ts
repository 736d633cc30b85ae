import { type Recipe, readRecipe, recipeToText } from "@kneader/core";
import { askShared, type Listed, lookAtShared, problemOf, useShared } from "./sharedShelf.ts";

/** Recipes of the shared shelf, as the server keeps them. */

const NONE: readonly Listed[] = [];
export const useSharedRecipes = (): readonly Listed[] => useShared((state) => state.shelf?.recipes ?? NONE);

const listedAs = (name: string): Listed | undefined => useShared.getState().shelf?.recipes.find(({ card }) => card.name === name);

/** The recipe of that name. Errors: it cannot be read, or is gone. */
export async function getSharedRecipe(name: string): Promise<Recipe> {
  const listed = listedAs(name);
  const answer = listed && (await askShared(`/${listed.id}`));
  if (!answer) throw new Error(`"${name}" is no longer on the shared shelf.`);
  if (!answer.ok) throw await problemOf(answer);
  return readRecipe(await answer.text());
}

/** Put a recipe on the shared shelf, in place of one of its name when that is still what was seen. Errors: why it was refused. */
export async function shareRecipe(recipe: Recipe): Promise<void> {
  const listed = listedAs(recipe.name);
  const body = recipeToText(recipe);
  const answer = listed
    ? await askShared(`/${listed.id}`, { method: "PUT", headers: { "if-match": listed.etag }, body })
    : await askShared("", { method: "POST", body });
  if (answer.status === 412) throw await changedMeanwhile(recipe.name, "kept there");
  if (!answer.ok) throw await problemOf(answer);
  await lookAtShared();
}

/** Throw one away; the server keeps it in the shelf's bin. Errors: why it was refused. */
export async function unshareRecipe(name: string): Promise<void> {
  const listed = listedAs(name);
  if (!listed) return;
  const answer = await askShared(`/${listed.id}`, { method: "DELETE", headers: { "if-match": listed.etag } });
  if (answer.status === 412) throw await changedMeanwhile(name, "thrown away");
  if (!answer.ok && answer.status !== 404) throw await problemOf(answer);
  await lookAtShared();
}

async function changedMeanwhile(name: string, deed: string): Promise<Error> {
  await lookAtShared();
  return new Error(`"${name}" was changed by somebody else just now, and is not ${deed}. Look at it first, or give yours another name.`);
}
