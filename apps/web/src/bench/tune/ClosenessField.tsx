import { leashAt, placeLeash, type Shot, sizeOf } from "@kneader/core";
import { sayLength } from "../units.ts";
import { Slider, Tooltip } from "antd";
import { NumberField } from "../NumberField.tsx";
import type { FieldProps } from "../work/property.ts";

const MOST = 1000;
/** The slider goes by powers: as far from 0.1 to 1 as from 1 to 10. Below that it is free. */
const LEAST = 0.1;
const toSlider = (closeness: number) => (closeness < LEAST ? 0 : 1 + Math.log10(closeness / LEAST));
const fromSlider = (place: number) => (place < 1 ? 0 : Number((LEAST * 10 ** (place - 1)).toPrecision(2)));

/** How far things may turn and go, in words. */
export function sayLeash(shot: Shot, closeness: number): string {
  const leash = leashAt({ all: closeness, painted: [] }, 0);
  if (!Number.isFinite(leash)) return "free";
  return `within ${Number(leash.toPrecision(2))}° and ${sayLength(placeLeash(sizeOf(shot.rig), leash), shot)}`;
}

/** How closely the motion stays to what it was. */
export function ClosenessField({ title, property, value, shot, disabled, onChange }: FieldProps) {
  const closeness = Number(value ?? property.default ?? 1);
  return (
    <div className="setting number-setting closeness">
      <Tooltip title={property.help}>
        <span className="setting-title">
          {title} <span className="quiet">{sayLeash(shot, closeness)}</span>
        </span>
      </Tooltip>
      <NumberField label={title} value={closeness} decimals={1} min={0} max={MOST} disabled={disabled} onCommit={onChange} />
      <Slider
        aria-label={`${title} slider`}
        ariaLabelForHandle={`${title} slider`}
        tabIndex={-1}
        min={0}
        max={toSlider(MOST)}
        step={0.02}
        value={toSlider(closeness)}
        disabled={disabled}
        tooltip={{ open: false }}
        onChange={(place) => onChange(fromSlider(place))}
      />
    </div>
  );
}
