import { type Recipe, type RecipeStep, readRecipe, sayError, shippedRecipes } from "@kneader/core";
import { Input, Select } from "antd";
import { FolderOpen } from "lucide-react";
import { useRef } from "react";
import type { Order } from "../../many/runOnShot.ts";
import { useSharedShelf } from "../../pantry/SharedLock.tsx";
import { getSharedRecipe, useSharedRecipes } from "../../storage/sharedRecipes.ts";
import { mention, tell } from "../notices.ts";
import { useWork } from "../work/workStore.ts";
import type { FieldProps } from "../work/property.ts";
import { keepRecipe, useKeptRecipes } from "./keptRecipes.ts";
import { IconButton } from "./IconButton.tsx";
import { RecipeSteps } from "./RecipeSteps.tsx";
import { RecipeTools } from "./RecipeTools.tsx";
import "./recipes.css";

const SHARED = "shared ";
const optionsOf = (names: readonly string[], prefix = "") => names.map((name) => ({ value: prefix + name, label: name }));

/** The recipe at hand: chosen among those kept, shared and shipped, opened from a file, changed step by step. */
export function RecipeField({ value, values, shot, disabled, Form, onChange }: FieldProps) {
  const recipe = value as Recipe | null;
  const kept = useKeptRecipes();
  const shared = useSharedRecipes();
  useSharedShelf();
  const file = useRef<HTMLInputElement>(null);
  const groups = [
    { label: "Kept here", options: optionsOf(kept.map(({ name }) => name)) },
    {
      label: "Shared shelf",
      options: optionsOf(
        shared.map(({ card }) => card.name),
        SHARED,
      ),
    },
    { label: "Come along", options: optionsOf(shippedRecipes.map(({ name }) => name)) },
  ].filter(({ options }) => options.length > 0);
  /** Whatever is no recipe is told; what is at hand stays then. */
  const take = async (read: () => Promise<Recipe>, where = "") => {
    try {
      onChange(await read());
    } catch (error) {
      tell(`${where}${sayError(error)}`);
    }
  };
  const choose = (chosen: string) => {
    if (chosen.startsWith(SHARED)) return void take(() => getSharedRecipe(chosen.slice(SHARED.length)));
    onChange([...kept, ...shippedRecipes].find(({ name }) => name === chosen) ?? null);
  };
  const keep = async (named: Recipe) => {
    try {
      await keepRecipe(named);
      mention(`"${named.name}" is kept in this browser.`);
    } catch (error) {
      tell(sayError(error));
    }
  };
  const open = (given: File | undefined) => given && void take(async () => readRecipe(await given.text()), `"${given.name}": `);
  return (
    <fieldset className="recipe" aria-label="Recipe">
      <div className="recipe-head">
        <Select
          size="small"
          showSearch
          aria-label="Recipe"
          placeholder="Choose a recipe"
          value={recipe?.name}
          disabled={disabled}
          options={groups}
          onChange={choose}
        />
        <input
          ref={file}
          type="file"
          hidden
          accept=".json"
          aria-label="Recipe file"
          onChange={(event) => {
            open(event.target.files?.[0]);
            event.target.value = "";
          }}
        />
        <IconButton
          label="Open a recipe"
          title="Open a recipe from a file"
          icon={<FolderOpen size={14} />}
          disabled={disabled}
          isReached
          onPress={() => file.current?.click()}
        />
        {recipe && <RecipeTools recipe={recipe} answers={(values.answers ?? {}) as Order["answers"]} />}
      </div>
      {recipe && (
        <>
          <Input
            size="small"
            data-own-enter
            aria-label="Name of the recipe"
            title="Enter keeps the recipe under this name"
            onPressEnter={(event) => {
              event.stopPropagation();
              event.currentTarget.blur();
              if (recipe.name.trim()) void keep(recipe);
            }}
            value={recipe.name}
            disabled={disabled}
            status={recipe.name.trim() ? "" : "error"}
            onChange={({ target }) => onChange({ ...recipe, name: target.value })}
          />
          {values.fresh === true && (
            <button
              type="button"
              className="link-button"
              onClick={() => {
                const { settings, set } = useWork.getState();
                set({ ...settings, fresh: false });
              }}
            >
              Try it on this shot all the same
            </button>
          )}
          <RecipeSteps
            steps={recipe.steps}
            shot={shot}
            disabled={disabled}
            Form={Form}
            onChange={(steps: RecipeStep[]) => onChange(steps.length > 0 ? { ...recipe, steps } : null)}
          />
        </>
      )}
    </fieldset>
  );
}
