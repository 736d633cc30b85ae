import { Tooltip } from "antd";
import type { ReactNode } from "react";
import type { FieldProps } from "./property.ts";

/** The title of a setting, its help under the pointer, and its field. */
export function Setting({
  title,
  property,
  className = "setting",
  children,
}: Pick<FieldProps, "title" | "property"> & { className?: string; children: ReactNode }) {
  return (
    <div className={className}>
      <Tooltip title={property.help}>
        <span className="setting-title">{title}</span>
      </Tooltip>
      {children}
    </div>
  );
}
