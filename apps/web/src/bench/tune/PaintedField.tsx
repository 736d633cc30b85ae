import type { PaintedSpan } from "@kneader/core";
import { Button, Tooltip } from "antd";
import { Paintbrush, Trash2 } from "lucide-react";
import { NumberField } from "../NumberField.tsx";
import { tell } from "../notices.ts";
import { useSelection } from "../selection.ts";
import { sayLeash } from "./ClosenessField.tsx";
import type { FieldProps } from "../work/property.ts";
import { painted, useBrush } from "./brush.ts";

/** What was painted along time, as numbers; also how it is painted without a pointer: over the marked range. */
export function PaintedField({ title, property, value, shot, disabled, onChange }: FieldProps) {
  const spans = (value as readonly PaintedSpan[] | undefined) ?? [];
  const change = (n: number, more: Partial<PaintedSpan>) => onChange(spans.map((span, i) => (i === n ? { ...span, ...more } : span)));
  const add = () => {
    const { range } = useSelection.getState();
    if (range) onChange(painted(spans, { ...range, closeness: useBrush.getState().closeness }));
    else tell("Mark the frames on the ruler that should stay closer (Shift-drag), or paint on the strain tray.");
  };
  return (
    <div className="setting painted">
      <Tooltip title={property.help}>
        <span className="setting-title">{title}</span>
      </Tooltip>
      <Tooltip title="Over the marked range, with the brush of the strain tray">
        <Button size="small" disabled={disabled} icon={<Paintbrush size={13} />} onClick={add}>
          Paint the range
        </Button>
      </Tooltip>
      {spans.map((span, n) => (
        <span key={`${span.start} ${span.end}`} className="painted-span">
          <NumberField
            label={`Painted ${n + 1}, from`}
            value={span.start}
            max={span.end}
            disabled={disabled}
            onCommit={(start) => change(n, { start })}
          />
          –
          <NumberField
            label={`Painted ${n + 1}, to`}
            value={span.end}
            min={span.start}
            disabled={disabled}
            onCommit={(end) => change(n, { end })}
          />
          <NumberField
            label={`Painted ${n + 1}, closeness`}
            value={span.closeness}
            decimals={1}
            min={0}
            max={1000}
            disabled={disabled}
            onCommit={(closeness) => change(n, { closeness })}
          />
          <span className="quiet">{sayLeash(shot, span.closeness)}</span>
          <Button
            size="small"
            type="text"
            aria-label={`Wipe off frames ${span.start} to ${span.end}`}
            disabled={disabled}
            icon={<Trash2 size={13} />}
            onClick={() => onChange(spans.filter((_, i) => i !== n))}
          />
        </span>
      ))}
    </div>
  );
}
