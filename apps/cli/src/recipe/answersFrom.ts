import { type Recipe, type RecipeRun, settingsSchema } from "@kneader/core";
import { didYouMean } from "../arguments/didYouMean.ts";
import { type Taken, valueFrom } from "../arguments/values.ts";
import { needOperation } from "../commands/operations.ts";
import { UsageError } from "../result.ts";

interface Told {
  readonly step: number;
  readonly operation: string;
  readonly asks: readonly string[];
  readonly settings: Readonly<Record<string, Taken>>;
}

/**
 * What steps are told beyond the recipe: `STEP.NAME=VALUE`, the step by its number (from 1) or its operation, or `NAME=VALUE`
 * where one step alone has such a setting, or asks for it. Errors: `UsageError`, and those of reading a file that is named.
 */
export async function answersFrom(set: readonly string[], { steps }: Recipe): Promise<RecipeRun["answers"]> {
  const told = steps.map(({ operation, asks }, step): Told => {
    const { properties = {} } = settingsSchema(needOperation(operation, "recipe")) as { properties?: Record<string, Taken> };
    return { step, operation, asks, settings: properties };
  });
  const answers: Record<number, Record<string, unknown>> = {};
  for (const text of set) {
    const [, of, name, value] = /^(?:([^.=]+)\.)?([^.=]+)=(.*)$/s.exec(text) ?? [];
    if (name === undefined) throw new UsageError(`--set needs STEP.NAME=VALUE, not "${text}".`, "recipe");
    const { step, settings } = of === undefined ? stepWith(name, told) : stepOf(of, told);
    const names = Object.keys(settings);
    if (!(name in settings))
      throw new UsageError(`Step ${step + 1} (${told[step].operation}) has no setting "${name}".${didYouMean(name, names)}`, "recipe");
    answers[step] = { ...answers[step], [name]: await valueFrom(value, name, settings[name], "recipe") };
  }
  return answers;
}

function stepOf(of: string, told: readonly Told[]): Told {
  const found = /^\d+$/.test(of) ? told.filter(({ step }) => step === Number(of) - 1) : told.filter(({ operation }) => operation === of);
  if (found.length === 1) return found[0];
  const names = told.map(({ operation }) => operation);
  if (found.length > 1) throw new UsageError(`"${of}" is done in ${found.length} steps: say which by its number.`, "recipe");
  throw new UsageError(
    `The recipe has no step "${of}".${didYouMean(of, names) || ` It has: ${names.map((name, i) => `${i + 1} ${name}`).join(", ")}.`}`,
    "recipe",
  );
}

function stepWith(name: string, told: readonly Told[]): Told {
  const all = told.filter(({ settings }) => name in settings);
  const asking = all.filter(({ asks }) => asks.includes(name));
  const found = asking.length > 0 ? asking : all;
  if (found.length === 1) return found[0];
  if (found.length > 1)
    throw new UsageError(
      `"${name}" is a setting of ${found.map(({ operation, step }) => `${step + 1} ${operation}`).join(", ")}: say which step.`,
      "recipe",
    );
  throw new UsageError(
    `No step of the recipe has a setting "${name}".${didYouMean(
      name,
      told.flatMap(({ settings }) => Object.keys(settings)),
    )}`,
    "recipe",
  );
}
