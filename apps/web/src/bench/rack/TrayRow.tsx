import type { ReactNode } from "react";

interface TrayRowProps {
  name: string;
  className?: string;
  gutter: ReactNode;
  children: ReactNode;
}

/** One tray: its gutter at the left, its plot on the shared time axis at the right. */
export function TrayRow({ name, className = "", gutter, children }: TrayRowProps) {
  return (
    <section className={`tray ${className}`} aria-label={name}>
      <div className="gutter">{gutter}</div>
      <div className="plot">{children}</div>
    </section>
  );
}
