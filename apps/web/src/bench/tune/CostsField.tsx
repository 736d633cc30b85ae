import { type Cost, costs } from "@kneader/core";
import { Switch, Tooltip } from "antd";
import { type KeyboardEvent, useState } from "react";
import { NumberField } from "../NumberField.tsx";
import type { FieldProps } from "../work/property.ts";
import "./tune.css";

type Weights = Readonly<Record<string, number>>;

/** What a cost that is switched on weighs where nothing was said before. */
const PLAIN = 1;
const STEP = 0.1;

/** What is bad: a switch a cost, and its weight. */
export function CostsField({ title, value, disabled, onChange }: FieldProps) {
  const weights = (value as Weights | undefined) ?? {};
  const [at, setAt] = useState(0);
  const set = (id: string, weight: number) => onChange({ ...weights, [id]: Math.max(0, Math.round(weight * 100) / 100) });
  const key = (event: KeyboardEvent) => {
    const switches = [...event.currentTarget.querySelectorAll<HTMLElement>("[role=switch]")];
    const on = switches.indexOf(event.target as HTMLElement);
    if (on < 0) return;
    const { id } = costs[on];
    const weight = weights[id] ?? 0;
    const go = (n: number) => {
      setAt(n);
      switches[n]?.focus();
    };
    if (event.key === "ArrowDown") go(Math.min(costs.length - 1, on + 1));
    else if (event.key === "ArrowUp") go(Math.max(0, on - 1));
    else if (event.key === "ArrowRight") set(id, weight + STEP);
    else if (event.key === "ArrowLeft") set(id, weight - STEP);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <fieldset className="costs" aria-label={title}>
      <ul onKeyDown={key}>
        {costs.map((cost, n) => (
          <CostLine
            key={cost.id}
            cost={cost}
            weight={weights[cost.id] ?? 0}
            disabled={disabled}
            isReached={n === at}
            onWeight={(weight) => set(cost.id, weight)}
          />
        ))}
      </ul>
    </fieldset>
  );
}

interface LineProps {
  cost: Cost;
  weight: number;
  disabled: boolean;
  isReached: boolean;
  onWeight(weight: number): void;
}

function CostLine({ cost, weight, disabled, isReached, onWeight }: LineProps) {
  return (
    <li className={weight > 0 ? "" : "off"}>
      <Switch
        size="small"
        aria-label={cost.title}
        title="Arrows left and right change its weight, up and down go to the others"
        tabIndex={isReached ? 0 : -1}
        checked={weight > 0}
        disabled={disabled}
        onChange={(on) => onWeight(on ? PLAIN : 0)}
      />
      <Tooltip title={cost.help}>
        <span className="cost-title">{cost.title}</span>
      </Tooltip>
      <NumberField
        label={`Weight of ${cost.title.toLowerCase()}`}
        value={weight}
        decimals={1}
        min={0}
        max={100}
        tabIndex={-1}
        disabled={disabled}
        onCommit={onWeight}
      />
    </li>
  );
}
