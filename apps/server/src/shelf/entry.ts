import { type ActionCard, readAction, readRecipe, recipeToText, withAbout, writeAction } from "@kneader/core";

/** What a file of the shelf holds. */
export interface Entry {
  readonly kind: "action" | "recipe";
  readonly card: ActionCard;
  /** The file's bytes under another card. */
  bytes(card: ActionCard): Uint8Array;
}

/** Where recipes are put. */
const RECIPES = "Recipes";

const isRecipe = (text: string): boolean => /"format"\s*:\s*"kneader-recipe"/.test(text.slice(0, 400));

/** Read an action or a recipe, whichever it is. Errors: those of reading one. */
export function readEntry(bytes: Uint8Array): Entry {
  const text = new TextDecoder().decode(bytes);
  if (isRecipe(text)) {
    const recipe = readRecipe(text);
    const card = { id: "", name: recipe.name, notes: recipe.notes, tags: [], folder: RECIPES, savedAt: 0 };
    return { kind: "recipe", card, bytes: ({ name }) => new TextEncoder().encode(recipeToText({ ...recipe, name })) };
  }
  const { card, clip } = withAbout(readAction(bytes));
  return { kind: "action", card, bytes: (next) => writeAction(withAbout({ card: next, clip })) };
}
