import { Button, Tooltip } from "antd";
import type { ReactNode } from "react";

interface IconButtonProps {
  label: string;
  title: string;
  icon: ReactNode;
  disabled?: boolean;
  /** Reached by Tab; of many alike only the first are. */
  isReached?: boolean;
  onPress(): void;
}

/** A small button of a picture, with what it does under the pointer. */
export function IconButton({ label, title, icon, disabled = false, isReached = false, onPress }: IconButtonProps) {
  return (
    <Tooltip title={title}>
      <Button size="small" type="text" tabIndex={isReached ? 0 : -1} aria-label={label} disabled={disabled} icon={icon} onClick={onPress} />
    </Tooltip>
  );
}
