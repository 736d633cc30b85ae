import { z } from "zod";
import { countedWord } from "../../words.ts";
import type { Operation } from "../operation.ts";
import { outcome } from "../shared/scope.ts";
import { type FindOperation, recipeFromJson, RUNS_RECIPES } from "./recipe.ts";
import { runSteps } from "./runRecipe.ts";

const settings = z.object({
  recipe: z.unknown().default(null).meta({ title: "Recipe", widget: "recipe" }),
  answers: z
    // By the number of the step, from 0, and the name of the setting.
    .record(z.string(), z.record(z.string(), z.unknown()))
    .default({})
    .meta({
      title: "Asked for",
      widget: "answers",
      help: "What the recipe asks for each time it is run.",
    }),
  // Made of what was done to this very shot: it would do all that a second time.
  fresh: z.boolean().default(false).meta({ title: "Made here", hidden: true }),
});
type Settings = z.infer<typeof settings>;

/** The operation that does all steps of a recipe at once; `find` knows the operations they are. */
export function recipeOperation(find: FindOperation): Operation<Settings> {
  return {
    id: RUNS_RECIPES,
    title: "Recipe",
    group: "Recipes",
    help: "Does the steps of a recipe, one on the result of the other, as one step. Six come along; others are made of what was done.",
    guide: {
      use: "What was done to one shot is done to another: steps are switched, put in order and changed here, and who each is for is found anew.",
      watch:
        "One made of what was just done is not tried on the same shot, as it would do all that a second time: Enter in its name keeps it.",
    },
    words: "recipe batch again macro script steps automate list pipeline",
    settings,
    leaves: ["layer"],
    // Its steps leave locked channels alone themselves, and say what becomes of rounds.
    named: true,
    stacks: true,
    saysRounds: true,
    saysScope: () => "who each step says",
    waits({ recipe, fresh }) {
      if (!recipe) return "Choose a recipe, open a file, or make one of steps in the history.";
      return fresh ? "It is made of what was done here, so nothing of it is tried here: keep it with Enter in its name." : null;
    },
    async run(shot, scope, { recipe, answers }, context) {
      const read = recipeFromJson(recipe, find);
      const told = { picked: scope.controls ?? [], range: scope.range, answers, shown: true };
      const { shot: after, steps, drift } = await runSteps(shot, read, told, context, find);
      const about = (text: string, step: number, title: string) => `${step}. ${title}: ${text}`;
      return outcome(shot, after, `Did "${read.name}": ${countedWord(steps.length, "step")}`, {
        drift,
        notes: steps.map(({ step, title, report }) => about(report.summary, step, title)),
        warnings: steps.flatMap(({ step, title, report }) => report.warnings.map((text) => about(text, step, title))),
      });
    },
  };
}
