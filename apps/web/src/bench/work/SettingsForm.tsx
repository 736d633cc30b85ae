import type { Action, Clip, Shot } from "@kneader/core";
import { Button, Input, Select, Slider, Switch, Tooltip } from "antd";
import { useCards } from "../../pantry/useActions.ts";
import { pantry } from "../../storage/pantry.ts";
import { Plus } from "lucide-react";
import { clock } from "../clock.ts";
import { sayClip } from "../copied.ts";
import { NumberField } from "../NumberField.tsx";
import { Dial } from "./Dial.tsx";
import { OrderField } from "./OrderField.tsx";

/** What JSON Schema and the operation's own metadata say of one setting. */
export interface Property {
  type?: string;
  title?: string;
  help?: string;
  unit?: string;
  widget?: string;
  enum?: string[];
  labels?: Record<string, string>;
  minimum?: number;
  maximum?: number;
  max?: number;
  step?: number;
  /** Only shown while other settings have these values. */
  when?: Record<string, unknown>;
  default?: unknown;
}

interface FormProps {
  properties: Readonly<Record<string, Property>>;
  values: Readonly<Record<string, unknown>>;
  shot: Shot;
  disabled: boolean;
  onChange(values: Record<string, unknown>): void;
}

/** The work card's fields, made from what the operation says about its settings. */
export function SettingsForm({ properties, values, shot, disabled, onChange }: FormProps) {
  const set = (name: string, value: unknown) => onChange({ ...values, [name]: value });
  const entries = Object.entries(properties).filter(([, { when = {} }]) =>
    Object.entries(when).every(([name, wanted]) => values[name] === wanted),
  );
  const dial = entries.find(([, property]) => property.widget === "dial");
  const fields = (list: typeof entries) =>
    list.map(([name, property]) => (
      <Field
        key={name}
        name={name}
        property={property}
        value={values[name]}
        shot={shot}
        disabled={disabled}
        onChange={(value) => set(name, value)}
      />
    ));
  if (!dial) return <div className="settings">{fields(entries)}</div>;
  const [name, { title, max = 200, step = 5 }] = dial;
  const numbers = entries.filter(([other, property]) => other !== name && property.type === "number");
  return (
    <div className="settings">
      <div className="settings-dialled">
        <div className="settings-rows">{fields(numbers)}</div>
        <Dial label={title ?? name} value={Number(values[name] ?? 100)} max={max} step={step} onChange={(value) => set(name, value)} />
      </div>
      {fields(entries.filter((entry) => entry !== dial && !numbers.includes(entry)))}
    </div>
  );
}

interface FieldProps {
  name: string;
  property: Property;
  value: unknown;
  shot: Shot;
  disabled: boolean;
  onChange(value: unknown): void;
}

function Field({ name, property, value, shot, disabled, onChange }: FieldProps) {
  const title = property.title ?? name;
  const label = (
    <Tooltip title={property.help}>
      <span className="setting-title">{title}</span>
    </Tooltip>
  );
  if (property.widget === "action") return <ActionField title={title} value={value as Action | undefined} onChange={onChange} />;
  if (property.type === "boolean")
    return (
      <label className="setting inline">
        {label}
        <Switch size="small" aria-label={title} checked={value === true} disabled={disabled} onChange={onChange} />
      </label>
    );
  if (property.enum)
    return (
      <div className="setting">
        {label}
        <Select
          size="small"
          aria-label={title}
          value={value as string}
          disabled={disabled}
          options={property.enum.map((item) => ({ value: item, label: property.labels?.[item] ?? item }))}
          onChange={onChange}
        />
      </div>
    );
  if (property.widget === "clip")
    return (
      <div className="setting">
        {label}
        <span className="clip-said">{value ? sayClip(value as Clip) : "nothing yet: copy keys first (Ctrl C)"}</span>
      </div>
    );
  if (property.widget === "order") return <OrderField title={title} value={value as string[]} shot={shot} onChange={onChange} />;
  if (property.widget === "control")
    return (
      <div className="setting">
        {label}
        <Select
          size="small"
          showSearch
          optionFilterProp="label"
          aria-label={title}
          value={(value as string) || undefined}
          placeholder="found by itself"
          allowClear
          disabled={disabled}
          options={shot.rig.controls.map(({ id, name }) => ({ value: id, label: name }))}
          onChange={(id: string | undefined) => onChange(id ?? "")}
        />
      </div>
    );
  if (property.widget === "frames")
    return (
      <div className="setting frames-setting">
        {label}
        <Select
          size="small"
          mode="tags"
          aria-label={title}
          value={((value as unknown[] | undefined) ?? []).map(String)}
          disabled={disabled}
          tokenSeparators={[",", " "]}
          onChange={(frames: string[]) => onChange(frames.map(Number).filter(Number.isFinite))}
          open={false}
          suffixIcon={null}
          placeholder="none"
        />
        <Tooltip title="Add the frame at the playhead">
          <Button
            size="small"
            type="text"
            aria-label="Keep the frame at the playhead"
            disabled={disabled}
            icon={<Plus size={14} />}
            onClick={() => onChange([...new Set([...((value as number[] | undefined) ?? []), clock.frame])].sort((a, b) => a - b))}
          />
        </Tooltip>
      </div>
    );
  if (property.type === "array")
    return (
      <div className="setting">
        {label}
        <Select
          size="small"
          mode="tags"
          aria-label={title}
          value={value as string[]}
          disabled={disabled}
          onChange={onChange}
          open={false}
          suffixIcon={null}
          placeholder="type and press Enter"
        />
      </div>
    );
  if (property.type === "string")
    return (
      <div className="setting">
        {label}
        {property.widget === "lines" ? (
          <Input.TextArea
            aria-label={title}
            rows={2}
            value={value as string}
            disabled={disabled}
            onChange={(event) => onChange(event.target.value)}
          />
        ) : (
          <Input
            size="small"
            aria-label={title}
            value={value as string}
            disabled={disabled}
            onChange={(event) => onChange(event.target.value)}
          />
        )}
      </div>
    );
  const unit = unitOf(property.unit, shot);
  const number = Number(value ?? property.default ?? 0) * unit.factor;
  const low = property.minimum !== undefined && property.minimum > -1e6 ? property.minimum * unit.factor : Number.NEGATIVE_INFINITY;
  const high = property.maximum !== undefined && property.maximum < 1e6 ? property.maximum * unit.factor : Number.POSITIVE_INFINITY;
  const most = property.max === undefined ? null : property.max * unit.factor;
  const step = (property.step ?? 1) * unit.factor;
  return (
    <div className="setting number-setting">
      {label}
      <NumberField
        label={title}
        value={number}
        decimals={step < 0.1 ? 2 : step < 1 ? 1 : 0}
        suffix={unit.suffix}
        min={low}
        max={high}
        disabled={disabled}
        onCommit={(next) => onChange(next / unit.factor)}
      />
      {most !== null && (
        <Slider
          aria-label={`${title} slider`}
          ariaLabelForHandle={`${title} slider`}
          min={Number.isFinite(low) ? low : 0}
          max={most}
          step={step}
          value={Math.min(most, number)}
          disabled={disabled}
          tooltip={{ open: false }}
          onChange={(next) => onChange(next / unit.factor)}
        />
      )}
    </div>
  );
}

/** Lengths are shown in millimetres where the shot knows its unit. */
function unitOf(unit: string | undefined, shot: Shot): { factor: number; suffix: string } {
  if (unit === "degrees") return { factor: 1, suffix: "°" };
  if (unit === "percent") return { factor: 1, suffix: " %" };
  if (unit === "length") return shot.unitMetres ? { factor: shot.unitMetres * 1000, suffix: " mm" } : { factor: 1, suffix: " units" };
  return { factor: 1, suffix: "" };
}

function ActionField({ title, value, onChange }: { title: string; value: Action | undefined; onChange(value: unknown): void }) {
  const cards = useCards() ?? [];
  return (
    <div className="setting">
      <span className="setting-title">{title}</span>
      <Select
        size="small"
        showSearch
        aria-label={title}
        placeholder="Choose from the pantry"
        value={value?.card.id}
        options={cards.map((card) => ({ value: card.id, label: card.name }))}
        onChange={async (id) => onChange(await pantry.get(id))}
      />
    </div>
  );
}
