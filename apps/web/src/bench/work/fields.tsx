import { type Clip, figureControls, IN_PARENT, IN_WORLD, type Shot } from "@kneader/core";
import { Button, Input, Select, Slider, Switch, Tooltip } from "antd";
import { Plus } from "lucide-react";
import type { ComponentType } from "react";
import { clock } from "../clock.ts";
import { sayClip } from "../copied.ts";
import { tell } from "../notices.ts";
import { FlightsField } from "../flight/FlightsField.tsx";
import { TakesField } from "../record/TakesField.tsx";
import { AnswersField } from "../recipes/AnswersField.tsx";
import { RecipeField } from "../recipes/RecipeField.tsx";
import { ClosenessField } from "../tune/ClosenessField.tsx";
import { CloserPartsField } from "../tune/CloserPartsField.tsx";
import { CostsField } from "../tune/CostsField.tsx";
import { PaintedField } from "../tune/PaintedField.tsx";
import { FieldSetting } from "../field/FieldSetting.tsx";
import { NumberField } from "../NumberField.tsx";
import { ActionSetting, BandSetting, FolderSetting } from "./actionFields.tsx";
import { MappingField } from "./MappingField.tsx";
import { OrderField } from "./OrderField.tsx";
import type { FieldProps, Property } from "./property.ts";
import { Setting } from "./Setting.tsx";
import { lengthScale, scaledLength } from "./lengthScale.ts";

function SwitchSetting({ title, property, value, disabled, onChange }: FieldProps) {
  return (
    <label className="setting inline">
      <Tooltip title={property.help}>
        <span className="setting-title">{title}</span>
      </Tooltip>
      <Switch size="small" aria-label={title} checked={value === true} disabled={disabled} onChange={onChange} />
    </label>
  );
}

function ChoiceSetting({ title, property, value, disabled, onChange }: FieldProps) {
  const options = (property.enum ?? []).map((item) => ({ value: item, label: property.labels?.[item] ?? item }));
  return (
    <Setting title={title} property={property}>
      <Select size="small" aria-label={title} value={value as string} disabled={disabled} options={options} onChange={onChange} />
    </Setting>
  );
}

function ClipSetting({ title, property, value }: FieldProps) {
  return (
    <Setting title={title} property={property}>
      <span className="clip-said">{value ? sayClip(value as Clip) : "nothing yet: copy keys first (Ctrl C)"}</span>
    </Setting>
  );
}

function OrderSetting({ title, value, shot, onChange }: FieldProps) {
  return <OrderField title={title} value={value as string[]} shot={shot} onChange={onChange} />;
}

function ControlSetting({ title, property, value, shot, disabled, onChange }: FieldProps) {
  return (
    <Setting title={title} property={property}>
      <Select
        size="small"
        showSearch
        optionFilterProp="label"
        aria-label={title}
        value={(value as string) || undefined}
        placeholder={property.empty ?? "found by itself"}
        allowClear
        disabled={disabled}
        options={shot.rig.controls.map(({ id, name }) => ({ value: id, label: name }))}
        onChange={(id: string | undefined) => onChange(id ?? "")}
      />
    </Setting>
  );
}

/** What a thing may live in: the world, what it hangs on, or any control. */
function SpaceSetting({ title, property, value, shot, disabled, onChange }: FieldProps) {
  const options = [
    { value: IN_WORLD, label: "The world" },
    { value: IN_PARENT, label: "What it hangs on" },
    ...shot.rig.controls.map(({ id, name }) => ({ value: id, label: name })),
  ];
  return (
    <Setting title={title} property={property}>
      <Select
        size="small"
        showSearch
        optionFilterProp="label"
        aria-label={title}
        value={value as string}
        disabled={disabled}
        options={options}
        onChange={onChange}
      />
    </Setting>
  );
}

function ControlsSetting({ title, property, value, shot, disabled, onChange }: FieldProps) {
  return (
    <Setting title={title} property={property}>
      <Select
        size="small"
        mode="multiple"
        optionFilterProp="label"
        maxTagCount="responsive"
        aria-label={title}
        value={(value as string[] | undefined) ?? []}
        placeholder="nobody"
        disabled={disabled}
        options={figureControls(shot.rig).map(({ id, name }) => ({ value: id, label: name }))}
        onChange={onChange}
      />
    </Setting>
  );
}

function FramesSetting({ title, property, value, disabled, onChange }: FieldProps) {
  const frames = (value as number[] | undefined) ?? [];
  return (
    <Setting title={title} property={property} className="setting frames-setting">
      <Select
        size="small"
        mode="tags"
        aria-label={title}
        value={frames.map(String)}
        disabled={disabled}
        tokenSeparators={[",", " "]}
        onChange={(texts: string[]) => {
          const odd = texts.filter((text) => !Number.isFinite(Number(text)));
          if (odd.length > 0) tell(`${title}: "${odd[0]}" is no frame.`);
          onChange(texts.map(Number).filter(Number.isFinite));
        }}
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
          onClick={() => onChange([...new Set([...frames, clock.frame])].sort((a, b) => a - b))}
        />
      </Tooltip>
    </Setting>
  );
}

function TagsSetting({ title, property, value, disabled, onChange }: FieldProps) {
  return (
    <Setting title={title} property={property}>
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
    </Setting>
  );
}

function TextSetting({ title, property, value, disabled, onChange }: FieldProps) {
  const common = { "aria-label": title, value: value as string, disabled };
  return (
    <Setting title={title} property={property}>
      {property.widget === "lines" ? (
        <Input.TextArea rows={2} {...common} onChange={(event) => onChange(event.target.value)} />
      ) : property.widget === "list" ? (
        // A list is one line, however long: Enter takes it.
        <Input.TextArea
          autoSize={{ minRows: 1, maxRows: 6 }}
          className="takes-enter mono"
          {...common}
          onChange={(event) => onChange(event.target.value)}
        />
      ) : (
        <Input size="small" {...common} onChange={(event) => onChange(event.target.value)} />
      )}
    </Setting>
  );
}

/** A number, or in its place a choice that is none: "for ever". */
function CountSetting({ value, onChange, ...rest }: FieldProps) {
  const { title, property, disabled } = rest;
  const none = Number(value ?? property.default ?? 0) === 0;
  return (
    <>
      {!none && <NumberSetting value={value} onChange={onChange} {...rest} />}
      <label className="setting inline">
        <span className="setting-title">
          {none ? `${title}: ` : ""}
          {property.zero}
        </span>
        <Switch
          size="small"
          aria-label={`${title}, ${property.zero}`}
          checked={none}
          disabled={disabled}
          onChange={(on) => onChange(on ? 0 : 2)}
        />
      </label>
    </>
  );
}

function NumberSetting({ title, property, value, shot, disabled, onChange }: FieldProps) {
  const unit = unitOf(property.unit, shot);
  const number = Number(value ?? property.default ?? 0) * unit.factor;
  const low = property.minimum !== undefined && property.minimum > -1e6 ? property.minimum * unit.factor : Number.NEGATIVE_INFINITY;
  const high = property.maximum !== undefined && property.maximum < 1e6 ? property.maximum * unit.factor : Number.POSITIVE_INFINITY;
  const scale = property.unit === "length" ? lengthScale(shot) : 1;
  const most = property.max === undefined ? null : scaledLength(property.max, scale) * unit.factor;
  const step = scaledLength(property.step ?? 1, scale) * unit.factor;
  return (
    <Setting title={title} property={property} className={`setting number-setting ${unit.suffix.length > 3 ? "long-unit" : ""}`}>
      <NumberField
        label={title}
        value={number}
        decimals={step < 0.01 ? 3 : step < 0.1 ? 2 : step < 1 ? 1 : 0}
        suffix={unit.suffix}
        min={low}
        max={high}
        disabled={disabled}
        onCommit={(next) => onChange(next / unit.factor)}
      />
      {most !== null && (
        <Slider
          aria-label={`${title} slider`}
          tabIndex={-1}
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
    </Setting>
  );
}

/** Lengths are shown in millimetres where the shot knows its unit. */
function unitOf(unit: string | undefined, shot: Shot): { factor: number; suffix: string } {
  if (unit === "degrees") return { factor: 1, suffix: "°" };
  if (unit === "percent") return { factor: 1, suffix: " %" };
  if (unit === "length") return shot.unitMetres ? { factor: shot.unitMetres * 1000, suffix: " mm" } : { factor: 1, suffix: " units" };
  return { factor: 1, suffix: "" };
}

const byWidget: Readonly<Record<string, ComponentType<FieldProps>>> = {
  action: ActionSetting,
  folder: FolderSetting,
  band: BandSetting,
  mapping: MappingField,
  clip: ClipSetting,
  order: OrderSetting,
  control: ControlSetting,
  space: SpaceSetting,
  controls: ControlsSetting,
  frames: FramesSetting,
  field: FieldSetting,
  flights: FlightsField,
  takes: TakesField,
  costs: CostsField,
  closeness: ClosenessField,
  "closer-parts": CloserPartsField,
  painted: PaintedField,
  recipe: RecipeField,
  answers: AnswersField,
};
const byType: Readonly<Record<string, ComponentType<FieldProps>>> = { boolean: SwitchSetting, array: TagsSetting, string: TextSetting };

/** The field for a setting, from what the operation says about it. */
export function fieldFor({ widget, type, zero, enum: choices }: Property): ComponentType<FieldProps> {
  if (widget !== undefined && byWidget[widget]) return byWidget[widget];
  if (zero !== undefined) return CountSetting;
  return choices ? ChoiceSetting : (byType[type ?? ""] ?? NumberSetting);
}
