import { figureControls, splitChannelKey } from "../../model/rig.ts";
import { BASE, layerOf, type Shot } from "../../model/shot.ts";
import type { Made } from "../history.ts";
import type { Scope } from "../operation.ts";
import { type FindOperation, makeRecipe, type Recipe, type RecipeStep, recipeStep, RUNS_RECIPES } from "./recipe.ts";
import type { When } from "./when.ts";
import type { Who } from "./who.ts";

/** What was done, and the shot before it. */
export interface Done {
  readonly made: Made;
  readonly before: Shot;
}

/**
 * A recipe of what was done to a shot: scopes become queries that fit other shots. Answers also what could not be carried
 * over: of picked keys the controls are kept, what was done by hand is left out.
 */
export function recipeOfSteps(name: string, steps: readonly Done[], find: FindOperation): { recipe: Recipe; left: string[] } {
  const left: string[] = [];
  const made: RecipeStep[] = [];
  for (const {
    made: { operation: id, scope, settings },
    before: shot,
  } of steps) {
    const operation = find(id);
    if (operation.group === "By hand" || operation.id === RUNS_RECIPES || operation.makes) {
      left.push(`${operation.title} cannot be a step and is left out.`);
      continue;
    }
    if (scope.keys) left.push(`${operation.title}: of the keys that were picked only their controls are kept.`);
    made.push(
      recipeStep(id, {
        who: whoOf(shot, scope),
        when: whenOf(shot, scope),
        layer: scope.layer === BASE ? BASE : (layerOf(shot, scope.layer)?.name ?? "top"),
        settings: (settings ?? {}) as Record<string, unknown>,
      }),
    );
  }
  return { recipe: makeRecipe(name, made), left };
}

/** The shortest query that means just these controls. */
function whoOf(shot: Shot, { controls, channels, keys }: Scope): Who {
  const picked =
    controls ?? (channels || keys ? [...(channels ?? []), ...Object.keys(keys ?? {})].map((key) => splitChannelKey(key).control) : null);
  if (picked === null) return {};
  const ids = new Set(picked);
  const all = figureControls(shot.rig);
  const meant = all.filter(({ id }) => ids.has(id));
  if (meant.length === all.length) return {};
  const parts = new Set(meant.map(({ part }) => part));
  const [part] = parts;
  if (parts.size === 1 && part && all.filter((one) => one.part === part).length === meant.length) return { part };
  return { names: meant.map(({ name }) => name) };
}

function whenOf(shot: Shot, { range }: Scope): When {
  const { start, end } = shot.range;
  if (!range || (range.start <= start && range.end >= end) || end <= start) return { kind: "whole" };
  const share = (frame: number) => Math.min(1, Math.max(0, Number(((frame - start) / (end - start)).toFixed(4))));
  return { kind: "share", from: share(range.start), to: share(range.end) };
}
