import { figureControls, type RecipeStep, sayWhen, type Shot } from "@kneader/core";
import { Select, Switch } from "antd";
import type { ReactNode } from "react";
import { NumberField } from "../NumberField.tsx";
import { layersFor, sayWord, whoOf, wordsFor, wordsOf } from "./whoWords.ts";

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

function Line({ title, children }: { title: string; children: ReactNode }) {
  return (
    <div className="step-line">
      <span className="setting-title">{title}</span>
      {children}
    </div>
  );
}

/** Whom a step is for, when, and on which layer, as queries that fit other shots. */
export function StepScope({ step, shot, disabled, onChange }: StepScopeProps) {
  const parts = [...new Set(figureControls(shot.rig).map(({ part }) => part))].filter(Boolean);
  const words = wordsOf(step.who);
  const { when } = step;
  const whens = WHENS.some((one) => JSON.stringify(one) === JSON.stringify(when)) ? WHENS : [...WHENS, when];
  return (
    <div className="step-scope">
      <Line title="For">
        <Select
          size="small"
          mode="tags"
          aria-label="Whom the step is for"
          placeholder="the whole figure; or type a name, * for any letters"
          value={words}
          disabled={disabled}
          options={[...new Set([...wordsFor(parts), ...words])].map((word) => ({ value: word, label: sayWord(word) }))}
          optionFilterProp="label"
          onChange={(next: string[]) => onChange({ who: whoOf(next) })}
        />
      </Line>
      <Line title="When">
        <Select
          size="small"
          aria-label="When the step works"
          value={JSON.stringify(when)}
          disabled={disabled}
          options={whens.map((one) => ({ value: JSON.stringify(one), label: sayWhen(one) }))}
          onChange={(next: string) => onChange({ when: JSON.parse(next) })}
        />
        {when.kind === "share" && (
          <>
            <Share
              label="From this share of the shot"
              value={when.from}
              disabled={disabled}
              onChange={(from) => onChange({ when: { ...when, from } })}
            />
            <Share
              label="To this share of the shot"
              value={when.to}
              disabled={disabled}
              onChange={(to) => onChange({ when: { ...when, to } })}
            />
          </>
        )}
        {when.kind === "from" && (
          <NumberField
            label="Which flight of the shot"
            value={when.flight}
            decimals={0}
            min={1}
            max={100}
            disabled={disabled}
            onCommit={(flight) => onChange({ when: { ...when, flight: Math.round(flight) } })}
          />
        )}
      </Line>
      <Line title="On">
        <Select
          size="small"
          aria-label="The layer the step works in"
          value={step.layer}
          disabled={disabled}
          options={layersFor(shot, step.layer)}
          onChange={(layer: string) => onChange({ layer })}
        />
      </Line>
      <label className="step-line">
        <Switch
          size="small"
          aria-label="Left out where there is nothing for it"
          checked={step.optional}
          disabled={disabled}
          onChange={(optional) => onChange({ optional })}
        />
        <span>Left out on shots where there is nothing for it</span>
      </label>
    </div>
  );
}

interface ShareProps {
  label: string;
  value: number;
  disabled: boolean;
  onChange(share: number): void;
}

function Share({ label, value, disabled, onChange }: ShareProps) {
  const set = (percent: number) => onChange(percent / 100);
  return (
    <NumberField
      label={label}
      title={label}
      value={value * 100}
      decimals={0}
      suffix=" %"
      min={0}
      max={100}
      disabled={disabled}
      onCommit={set}
    />
  );
}
