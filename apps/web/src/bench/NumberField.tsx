import { useEffect, useState } from "react";
import { typedNumber } from "./arithmetic.ts";

interface NumberFieldProps {
  value: number;
  label: string;
  decimals?: number;
  suffix?: string;
  className?: string;
  disabled?: boolean;
  min?: number;
  max?: number;
  title?: string;
  tabIndex?: number;
  onCommit(value: number): void;
}

/** A number that can be typed, with simple arithmetic; Enter or leaving the field sets it, Esc does not. */
export function NumberField({
  value,
  label,
  decimals = 2,
  suffix = "",
  className = "",
  disabled,
  min = -Infinity,
  max = Infinity,
  title,
  tabIndex,
  onCommit,
}: NumberFieldProps) {
  const shown = `${tidy(value, decimals)}${suffix}`;
  const [text, setText] = useState(shown);
  const [editing, setEditing] = useState(false);
  useEffect(() => {
    if (!editing) setText(shown);
  }, [shown, editing]);
  const commit = () => {
    setEditing(false);
    const next = typedNumber(text, value);
    if (next === null || text === shown) setText(shown);
    else onCommit(Math.min(max, Math.max(min, next)));
  };
  return (
    <input
      className={`number mono ${className}`}
      aria-label={label}
      title={title}
      tabIndex={tabIndex}
      inputMode="decimal"
      disabled={disabled}
      value={text}
      onFocus={(event) => {
        setEditing(true);
        event.target.select();
      }}
      onChange={(event) => setText(event.target.value)}
      onBlur={() => editing && commit()}
      onKeyDown={(event) => {
        if (event.key === " ") return event.preventDefault();
        event.stopPropagation();
        if (event.key === "Enter") {
          // Leaving the field takes the number over, and the next key pressed is a shortcut again.
          event.currentTarget.blur();
        } else if (event.key === "Escape") {
          setText(shown);
          setEditing(false);
          event.currentTarget.blur();
        } else if (event.key === "ArrowUp" || event.key === "ArrowDown") {
          event.preventDefault();
          const step = (event.shiftKey ? 10 : 1) * 10 ** -Math.min(1, decimals) * (event.key === "ArrowUp" ? 1 : -1);
          onCommit(Math.min(max, Math.max(min, (typedNumber(text, value) ?? value) + step)));
          setEditing(false);
        }
      }}
    />
  );
}

function tidy(value: number, decimals: number): string {
  const text = value.toFixed(decimals);
  return Number(text) === 0 ? (0).toFixed(decimals) : text;
}
