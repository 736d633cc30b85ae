import { useEffect, useState } from "react";
import { typedNumber } from "./arithmetic.ts";
import { isBenchKey } from "./keyOwner.ts";
import { tell } from "./notices.ts";

interface NumberFieldProps {
  value: number;
  label: string;
  autoFocus?: boolean;
  /** It was left, whatever became of it. */
  onLeave?(): void;
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

/** A number that can be typed, with simple arithmetic; Enter or leaving the field sets it, Esc does not. Space is the bench's. */
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
  autoFocus,
  onLeave,
  onCommit,
}: NumberFieldProps) {
  const shown = `${tidy(value, decimals)}${suffix}`;
  const [text, setText] = useState(shown);
  const [editing, setEditing] = useState(false);
  useEffect(() => {
    if (!editing) setText(shown);
  }, [shown, editing]);
  /** A number that cannot be is refused with the reason; what was there stays. */
  const commit = () => {
    setEditing(false);
    if (text === shown) return;
    const next = typedNumber(text, value);
    const why = next === null ? `"${text.trim()}" is no number` : whyNot(next, min, max, suffix);
    if (why === null) onCommit(next as number);
    else {
      tell(`${label}: ${why}. It stays ${shown.trim()}.`);
      setText(shown);
    }
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
      autoFocus={autoFocus}
      onBlur={() => {
        if (editing) commit();
        onLeave?.();
      }}
      onKeyDown={(event) => {
        // No number has spaces or letters in it: those keys are the bench's.
        if (isBenchKey(event.nativeEvent)) return event.preventDefault();
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

function whyNot(value: number, min: number, max: number, suffix: string): string | null {
  if (value > max) return `${round(value)} is more than ${round(max)}${suffix}, the most there can be`;
  return value < min ? `${round(value)} is less than ${round(min)}${suffix}, the least there can be` : null;
}

const round = (value: number) => Math.round(value * 1000) / 1000;

function tidy(value: number, decimals: number): string {
  const text = value.toFixed(decimals);
  return Number(text) === 0 ? (0).toFixed(decimals) : text;
}
