import { operationById, type RecipeStep, sayWhen, sayWho, type Shot } from "@kneader/core";
import { Select, Switch } from "antd";
import { ChevronDown, ChevronRight, MoveDown, MoveUp, Trash2 } from "lucide-react";
import { useState } from "react";
import type { FieldProps } from "../work/property.ts";
import { IconButton } from "./IconButton.tsx";
import { StepScope } from "./StepScope.tsx";
import { propertiesOf, shownValues } from "./stepValues.ts";

interface StepsProps {
  steps: readonly RecipeStep[];
  shot: Shot;
  disabled: boolean;
  Form: FieldProps["Form"];
  onChange(steps: RecipeStep[]): void;
}

/** The steps of a recipe: switched, put in order, taken out; one of them opened, with whom it is for, when, and its settings. */
export function RecipeSteps({ steps, shot, disabled, Form, onChange }: StepsProps) {
  const [opened, setOpened] = useState<number | null>(null);
  const change = (n: number, more: Partial<RecipeStep>) => onChange(steps.map((step, i) => (i === n ? { ...step, ...more } : step)));
  const move = (n: number, by: number) => {
    const other = n + by;
    const moved = [...steps];
    [moved[n], moved[other]] = [moved[other], moved[n]];
    setOpened(opened === n ? other : opened === other ? n : opened);
    onChange(moved);
  };
  const remove = (n: number) => {
    setOpened(null);
    onChange(steps.filter((_, i) => i !== n));
  };
  return (
    <ol className="recipe-steps">
      {steps.map((step, n) => (
        <li key={n} className={step.on ? "" : "off"}>
          <div className="recipe-step">
            <Switch
              size="small"
              aria-label={`Step ${n + 1} is done`}
              tabIndex={-1}
              checked={step.on}
              disabled={disabled}
              onChange={(on) => change(n, { on })}
            />
            <button type="button" className="step-title" aria-expanded={opened === n} onClick={() => setOpened(opened === n ? null : n)}>
              {opened === n ? <ChevronDown size={13} /> : <ChevronRight size={13} />}
              <b>{operationById(step.operation).title}</b>
              <span className="quiet">
                {sayWho(step.who)}, {sayWhen(step.when)}
              </span>
            </button>
            <IconButton
              label={`Step ${n + 1} earlier`}
              title="Earlier"
              icon={<MoveUp size={12} />}
              disabled={disabled || n === 0}
              onPress={() => move(n, -1)}
            />
            <IconButton
              label={`Step ${n + 1} later`}
              title="Later"
              icon={<MoveDown size={12} />}
              disabled={disabled || n === steps.length - 1}
              onPress={() => move(n, 1)}
            />
            <IconButton
              label={`Take step ${n + 1} out`}
              title="Take it out"
              icon={<Trash2 size={12} />}
              disabled={disabled}
              onPress={() => remove(n)}
            />
          </div>
          {opened === n && (
            <div className="recipe-opened" ref={inSight}>
              <StepScope step={step} shot={shot} disabled={disabled} onChange={(more) => change(n, more)} />
              <StepSettings step={step} shot={shot} disabled={disabled} Form={Form} onChange={(more) => change(n, more)} />
            </div>
          )}
        </li>
      ))}
    </ol>
  );
}

/** What was just opened is what is looked at. */
const inSight = (opened: HTMLDivElement | null): void => opened?.scrollIntoView({ block: "nearest" });

interface SettingsProps {
  step: RecipeStep;
  shot: Shot;
  disabled: boolean;
  Form: FieldProps["Form"];
  onChange(more: Partial<RecipeStep>): void;
}

/** The operation's own settings; what is not said stays as the operation proposes it for each shot. Some may be asked for each time. */
function StepSettings({ step, shot, disabled, Form, onChange }: SettingsProps) {
  const properties = propertiesOf(operationById(step.operation));
  const shown = shownValues(step);
  const set = (values: Record<string, unknown>) => {
    const said = Object.entries(values).filter(([name, value]) => name in step.settings || value !== shown[name]);
    onChange({ settings: Object.fromEntries(said) });
  };
  // What is asked for is proposed as it is shown here.
  const ask = (asks: string[]) =>
    onChange({ asks, settings: { ...step.settings, ...Object.fromEntries(asks.map((name) => [name, shown[name]])) } });
  return (
    <>
      <Form properties={properties} values={shown} shot={shot} disabled={disabled} onChange={set} />
      {Object.keys(properties).length > 0 && (
        <label className="step-asks">
          <span className="setting-title">Asked for each time</span>
          <Select
            size="small"
            mode="multiple"
            aria-label="Asked for each time"
            placeholder="nothing"
            value={step.asks}
            disabled={disabled}
            options={Object.entries(properties).map(([name, { title }]) => ({ value: name, label: title ?? name }))}
            onChange={ask}
          />
        </label>
      )}
    </>
  );
}
