import { type Operation, operationById, type RecipeStep, settingsSchema } from "@kneader/core";
import type { Property } from "../work/property.ts";

export function propertiesOf(operation: Operation): Record<string, Property> {
  return (settingsSchema(operation).properties ?? {}) as Record<string, Property>;
}

/** A step's settings as they are shown: what the recipe says, and the operation's defaults for the rest. */
export function shownValues(step: RecipeStep): Record<string, unknown> {
  const defaults = Object.fromEntries(
    Object.entries(propertiesOf(operationById(step.operation))).map(([name, property]) => [name, property.default]),
  );
  return { ...defaults, ...step.settings };
}
