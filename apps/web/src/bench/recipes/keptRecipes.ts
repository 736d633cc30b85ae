import { type Recipe, recipeToText, readRecipe } from "@kneader/core";
import { useQuery } from "@tanstack/react-query";
import { queryClient } from "../../app/queryClient.ts";
import { recipeStore } from "../../storage/stores.ts";

const KEY = ["recipes"];

/** Recipes kept in this browser, by name; what can no longer be read is left out. */
async function all(): Promise<Recipe[]> {
  const texts = await recipeStore.all<string>();
  return [...texts.values()]
    .flatMap((text) => {
      try {
        return [readRecipe(text)];
      } catch {
        return [];
      }
    })
    .sort((a, b) => a.name.localeCompare(b.name));
}

export function useKeptRecipes(): readonly Recipe[] {
  return useQuery({ queryKey: KEY, queryFn: all }).data ?? [];
}

/** Kept under its name, in place of one that is called so. */
export async function keepRecipe(recipe: Recipe): Promise<void> {
  await recipeStore.setItem(recipe.name, recipeToText(recipe));
  await queryClient.invalidateQueries({ queryKey: KEY });
}

export async function forgetRecipe(name: string): Promise<void> {
  await recipeStore.removeItem(name);
  await queryClient.invalidateQueries({ queryKey: KEY });
}
