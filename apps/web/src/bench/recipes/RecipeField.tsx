import { type Recipe, type RecipeStep, readRecipe, recipeToText, sayError, shippedRecipes } from "@kneader/core";
import { Input, Select } from "antd";
import { Download, FolderOpen, Save, Trash2 } from "lucide-react";
import { useRef } from "react";
import { download } from "../../export/download.ts";
import { tell } from "../notices.ts";
import type { FieldProps } from "../work/property.ts";
import { forgetRecipe, keepRecipe, useKeptRecipes } from "./keptRecipes.ts";
import { IconButton } from "./IconButton.tsx";
import { RecipeSteps } from "./RecipeSteps.tsx";
import "./recipes.css";

/** The recipe at hand: chosen among those kept and those that come along, opened from a file, changed step by step, kept. */
export function RecipeField({ value, shot, disabled, Form, onChange }: FieldProps) {
  const recipe = value as Recipe | null;
  const kept = useKeptRecipes();
  const file = useRef<HTMLInputElement>(null);
  const choose = (name: string) => onChange([...kept, ...shippedRecipes].find((one) => one.name === name) ?? null);
  const open = async (given: File | undefined) => {
    if (!given) return;
    try {
      onChange(readRecipe(await given.text()));
    } catch (error) {
      tell(`"${given.name}": ${sayError(error)}`);
    }
  };
  const keep = async () => {
    if (!recipe) return;
    await keepRecipe(recipe);
    tell(`"${recipe.name}" is kept in this browser.`);
  };
  const isKept = kept.some(({ name }) => name === recipe?.name);
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
          options={[
            ...(kept.length > 0 ? [{ label: "Kept here", options: kept.map(({ name }) => ({ value: name, label: name })) }] : []),
            { label: "Come along", options: shippedRecipes.map(({ name }) => ({ value: name, label: name })) },
          ]}
          onChange={choose}
        />
        <input
          ref={file}
          type="file"
          hidden
          accept=".json"
          aria-label="Recipe file"
          onChange={(event) => {
            void open(event.target.files?.[0]);
            event.target.value = "";
          }}
        />
        <IconButton
          label="Open a recipe"
          title="Open a recipe from a file"
          icon={<FolderOpen size={14} />}
          isReached
          onPress={() => file.current?.click()}
        />
        {recipe && (
          <>
            <IconButton
              label="Keep the recipe"
              title="Keep it in this browser under its name"
              icon={<Save size={14} />}
              isReached
              onPress={() => void keep()}
            />
            <IconButton
              label="Download the recipe"
              title="As a file, for others and for the command line"
              icon={<Download size={14} />}
              isReached
              onPress={() => download(recipeToText(recipe), `${recipe.name}.json`)}
            />
            {isKept && (
              <IconButton
                label="Forget the recipe"
                title="Forget the one that is kept under this name"
                icon={<Trash2 size={14} />}
                onPress={() => void forgetRecipe(recipe.name)}
              />
            )}
          </>
        )}
      </div>
      {recipe && (
        <>
          <Input
            size="small"
            aria-label="Name of the recipe"
            value={recipe.name}
            disabled={disabled}
            status={recipe.name.trim() ? "" : "error"}
            onChange={({ target }) => onChange({ ...recipe, name: target.value })}
          />
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
