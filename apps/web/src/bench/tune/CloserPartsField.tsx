import { controlById, figureControls } from "@kneader/core";
import { Button, Select, Tooltip } from "antd";
import { Trash2 } from "lucide-react";
import { NumberField } from "../NumberField.tsx";
import type { FieldProps } from "../work/property.ts";

/** Twice as close as the others, where nothing else is said. */
const CLOSER = 2;

/** Body parts and controls that stay closer than the others, or less close. */
export function CloserPartsField({ title, property, value, shot, disabled, onChange }: FieldProps) {
  const parts = (value as Readonly<Record<string, number>> | undefined) ?? {};
  const controls = figureControls(shot.rig);
  const known = [...new Set(controls.map(({ part }) => part).filter(Boolean))];
  const options = [
    { label: "Body parts", options: known.map((part) => ({ value: part, label: part })) },
    { label: "Controls", options: controls.map(({ id, name }) => ({ value: id, label: name })) },
  ];
  return (
    <div className="setting closer">
      <Tooltip title={property.help}>
        <span className="setting-title">{title}</span>
      </Tooltip>
      <Select
        size="small"
        showSearch
        optionFilterProp="label"
        aria-label={title}
        placeholder="add a part or a control"
        value={null}
        disabled={disabled}
        options={options}
        onChange={(id: string | null) => id && onChange({ ...parts, [id]: parts[id] ?? CLOSER })}
      />
      {Object.entries(parts).map(([id, closer]) => (
        <span key={id} className="closer-part">
          <span>{controlById(shot.rig, id)?.name ?? id}</span>
          <NumberField
            label={`${id} times closer`}
            value={closer}
            decimals={1}
            suffix=" ×"
            min={0}
            max={1000}
            disabled={disabled}
            onCommit={(next) => onChange({ ...parts, [id]: next })}
          />
          <Button
            size="small"
            type="text"
            aria-label={`${id} as close as the others`}
            disabled={disabled}
            icon={<Trash2 size={13} />}
            onClick={() => onChange(Object.fromEntries(Object.entries(parts).filter(([other]) => other !== id)))}
          />
        </span>
      ))}
    </div>
  );
}
