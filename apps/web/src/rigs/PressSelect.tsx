import { Button, Select } from "antd";
import { useEffect, useRef, useState } from "react";

interface PressSelectProps {
  /** What is chosen, in words; the list opens when it is pressed. */
  said: string;
  label: string;
  value: string;
  options: readonly { value: string; label: string }[];
  disabled: boolean;
  onChange(value: string): void;
}

/** A choice that is plain text until it is pressed: of many lines only one has a list. Closed, it has the focus again. */
export function PressSelect({ said, label, value, options, disabled, onChange }: PressSelectProps) {
  const [open, setOpen] = useState(false);
  const button = useRef<HTMLButtonElement>(null);
  const returns = useRef(false);
  useEffect(() => {
    if (!open && returns.current) button.current?.focus();
    returns.current = false;
  }, [open]);
  const close = (withFocus: boolean) => {
    returns.current = withFocus;
    setOpen(false);
  };
  if (!open)
    return (
      <Button
        ref={button}
        type="text"
        size="small"
        className="rig-cell"
        disabled={disabled}
        aria-label={`${label}: ${said}`}
        onClick={() => setOpen(true)}
      >
        {said}
      </Button>
    );
  return (
    <Select
      size="small"
      autoFocus
      defaultOpen
      showSearch
      optionFilterProp="label"
      popupMatchSelectWidth={220}
      aria-label={label}
      value={value}
      options={[...options]}
      onChange={(chosen) => {
        close(true);
        onChange(chosen);
      }}
      onKeyDown={(event) => event.key === "Escape" && close(true)}
      onBlur={() => close(false)}
    />
  );
}
