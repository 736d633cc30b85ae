import { type Recipe, recipeToText, sayError } from "@kneader/core";
import { Button, Dropdown } from "antd";
import { Download, ListChecks, MoreHorizontal, Save, Share2, Trash2 } from "lucide-react";
import { useLocation, useNavigate } from "react-router";
import { download } from "../../export/download.ts";
import { FOR_MANY, takeRecipe } from "../../many/many.ts";
import type { Order } from "../../many/runOnShot.ts";
import { shareRecipe, unshareRecipe, useSharedRecipes } from "../../storage/sharedRecipes.ts";
import { useShared } from "../../storage/sharedShelf.ts";
import { mention, tell } from "../notices.ts";
import { IconButton } from "./IconButton.tsx";
import { forgetRecipe, keepRecipe, useKeptRecipes } from "./keptRecipes.ts";

async function tried(work: Promise<void>, said: string): Promise<void> {
  try {
    await work;
    mention(said);
  } catch (error) {
    tell(sayError(error));
  }
}

/** What can be done with the recipe at hand besides running it. */
export function RecipeTools({ recipe, answers }: { recipe: Recipe; answers: Order["answers"] }) {
  const { name } = recipe;
  const navigate = useNavigate();
  const isForMany = useLocation().pathname === FOR_MANY;
  const isKept = useKeptRecipes().some((one) => one.name === name);
  const isShared = useSharedRecipes().some(({ card }) => card.name === name);
  const canShare = useShared(({ shelf }) => shelf !== null && !shelf.readOnly);
  const deeds: Record<string, () => unknown> = {
    many() {
      takeRecipe(recipe, answers);
      return navigate(FOR_MANY);
    },
    share: () => tried(shareRecipe(recipe), `"${name}" is on the shared shelf.`),
    unshare: () => tried(unshareRecipe(name), `"${name}" is no longer on the shared shelf; it lies in its bin.`),
    forget: () => tried(forgetRecipe(name), `"${name}" is no longer kept in this browser.`),
  };
  return (
    <>
      <IconButton
        label="Keep the recipe"
        title="Keep it in this browser under its name"
        icon={<Save size={14} />}
        isReached
        onPress={() => void tried(keepRecipe(recipe), `"${name}" is kept in this browser.`)}
      />
      <IconButton
        label="Download the recipe"
        title="As a file, for others and for the command line"
        icon={<Download size={14} />}
        isReached
        onPress={() => download(recipeToText(recipe), `${name}.json`)}
      />
      <Dropdown
        trigger={["click"]}
        menu={{
          items: [
            { key: "many", label: "Run on many shots …", icon: <ListChecks size={14} />, disabled: isForMany },
            {
              key: "share",
              label: isShared ? "Put in place of the shared one" : "Put on the shared shelf",
              icon: <Share2 size={14} />,
              disabled: !canShare,
              title: canShare ? undefined : "There is no shared shelf that can be changed",
            },
            { key: "unshare", label: "Take off the shared shelf", icon: <Trash2 size={14} />, disabled: !isShared || !canShare },
            { key: "forget", label: "Forget the kept one", icon: <Trash2 size={14} />, disabled: !isKept },
          ],
          onClick: ({ key }) => void deeds[key](),
        }}
      >
        <Button size="small" type="text" aria-label="More for the recipe" icon={<MoreHorizontal size={14} />} />
      </Dropdown>
    </>
  );
}
