import { figureControls, type RecipeStep, sayWhen, sayWho, type Shot } from "@kneader/core";
import { Select } from "antd";

interface StepScopeProps {
  step: RecipeStep;
  shot: Shot;
  disabled: boolean;
  onChange(more: Partial<RecipeStep>): void;
}

const WHENS: readonly RecipeStep["when"][] = [
  { kind: "whole" },
  { kind: "range" },
  { kind: "share", from: 0, to: 0.5 },
  { kind: "share", from: 0.5, to: 1 },
  { kind: "from", moment: "take-off", flight: 1 },
  { kind: "from", moment: "landing", flight: 1 },
];

/** Whom a step is for and when, as queries that fit other shots; what a file says otherwise is listed too. */
export function StepScope({ step, shot, disabled, onChange }: StepScopeProps) {
  const parts = [...new Set(figureControls(shot.rig).map(({ part }) => part))].filter(Boolean);
  const whos: RecipeStep["who"][] = [{}, { picked: true }, { moves: true }, ...parts.map((part) => ({ part }))];
  const options = <Value,>(all: readonly Value[], own: Value, say: (one: Value) => string) =>
    (all.some((one) => JSON.stringify(one) === JSON.stringify(own)) ? all : [...all, own]).map((one) => ({
      value: JSON.stringify(one),
      label: say(one),
    }));
  return (
    <div className="step-scope">
      <label>
        <span className="setting-title">For</span>
        <Select
          size="small"
          aria-label="Whom the step is for"
          value={JSON.stringify(step.who)}
          disabled={disabled}
          options={options(whos, step.who, sayWho)}
          onChange={(who: string) => onChange({ who: JSON.parse(who) })}
        />
      </label>
      <label>
        <span className="setting-title">When</span>
        <Select
          size="small"
          aria-label="When the step works"
          value={JSON.stringify(step.when)}
          disabled={disabled}
          options={options(WHENS, step.when, sayWhen)}
          onChange={(when: string) => onChange({ when: JSON.parse(when) })}
        />
      </label>
    </div>
  );
}
