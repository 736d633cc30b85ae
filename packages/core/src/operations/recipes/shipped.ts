import { makeRecipe, type Recipe, recipeStep } from "./recipe.ts";

/** Recipes that come along. */
export const shippedRecipes: readonly Recipe[] = [
  makeRecipe(
    "Clean a capture",
    [recipeStep("clean-capture")],
    "Untwist, despike, filter, ground the feet, simplify: what a capture needs before it can be worked on.",
  ),
  makeRecipe(
    "Finish and loop a walk",
    [
      recipeStep("other-half"),
      recipeStep("close-cycle", { settings: { span: 4 } }),
      recipeStep("run-on", { settings: { kind: "travel", rounds: 3 } }),
    ],
    "Half a walk gets its other half, mirrored; the cycle is closed and goes on three rounds more.",
  ),
  makeRecipe(
    "On twos with the camera",
    [recipeStep("stepping", { settings: { pattern: "2", ride: true } })],
    "The figure on twos, riding along with a camera that moves on every frame.",
  ),
  makeRecipe(
    "Overlap",
    [recipeStep("overlap", { who: { names: ["tail*", "tassel*", "ear*", "hair*"] } })],
    "What hangs loose follows through: tail, ears, hair, a tassel.",
  ),
  makeRecipe("Planted feet", [recipeStep("plant")], "Feet that stand are held where they stand."),
  makeRecipe(
    "Hand over to a game engine",
    [
      recipeStep("bake-down", { optional: true, settings: { what: "all", keys: "every", afterwards: "removed" } }),
      recipeStep("resample", { settings: { every: 1, kind: "linear" } }),
      recipeStep("untwist", { optional: true }),
    ],
    "Ties, passes and timing become plain keys, every curve has one on every frame, and none jumps by whole turns.",
  ),
];
