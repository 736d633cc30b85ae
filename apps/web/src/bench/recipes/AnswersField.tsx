import { operationById, type Recipe } from "@kneader/core";
import type { FieldProps } from "../work/property.ts";
import { propertiesOf, shownValues } from "./stepValues.ts";

type Answers = Readonly<Record<number, Readonly<Record<string, unknown>>>>;

/** What the steps of the recipe at hand ask for each time it is run, with what they propose. */
export function AnswersField({ title, value, values, shot, disabled, Form, onChange }: FieldProps) {
  const recipe = values.recipe as Recipe | null;
  const answers = (value ?? {}) as Answers;
  const asking = (recipe?.steps ?? []).map((step, n) => ({ step, n })).filter(({ step }) => step.on && step.asks.length > 0);
  if (asking.length === 0) return null;
  return (
    <fieldset className="recipe-answers">
      <legend>{title}</legend>
      {asking.map(({ step, n }) => {
        const all = propertiesOf(operationById(step.operation));
        const asked = Object.fromEntries(step.asks.filter((name) => name in all).map((name) => [name, all[name]]));
        const shown = { ...shownValues(step), ...answers[n] };
        const answer = (told: Record<string, unknown>) =>
          onChange({ ...answers, [n]: Object.fromEntries(step.asks.map((name) => [name, told[name]])) });
        return (
          <div key={n} role="group" aria-label={`Asked for by step ${n + 1}`}>
            <span className="quiet">
              {n + 1}. {operationById(step.operation).title}
            </span>
            <Form properties={asked} values={shown} shot={shot} disabled={disabled} onChange={answer} />
          </div>
        );
      })}
    </fieldset>
  );
}
