import { Button, Dropdown, Segmented, Tooltip } from "antd";
import { Check, Maximize, PanelBottom } from "lucide-react";
import { type Detail, usePreferences } from "../../../app/preferences.ts";
import { commandShortcut } from "../../commandKeys.ts";
import { fitShown } from "../../fit.ts";
import { DragToggles } from "./DragToggles.tsx";
import { KeyNumbers } from "./KeyNumbers.tsx";
import { TangentButtons } from "./TangentButtons.tsx";

const details: { value: Detail; label: string }[] = [
  { value: "curves", label: "Curves" },
  { value: "sheet", label: "Sheet" },
  { value: "spacing", label: "Spacing" },
];

/** Which trays the detail shows, and the tools for the keys in them. */
export function DetailHead() {
  const { detail, below, set } = usePreferences();
  const both = below !== null && below !== detail;
  const withKeys = detail !== "spacing" || (both && below !== "spacing");
  return (
    <div className="detail-head">
      <span className="detail-gutter">
        <Segmented size="small" aria-label="Detail" value={detail} options={details} onChange={(value) => set({ detail: value })} />
      </span>
      <div className="detail-tools">
        {withKeys && <TangentButtons />}
        {withKeys && <DragToggles />}
        {withKeys && <KeyNumbers />}
        <span className="spring" />
        <Dropdown
          trigger={["click"]}
          menu={{
            items: [
              { key: "", icon: <Check size={14} style={{ visibility: both ? "hidden" : "visible" }} />, label: "One tray" },
              ...details
                .filter(({ value }) => value !== detail)
                .map(({ value, label }) => ({
                  key: value,
                  icon: <Check size={14} style={{ visibility: both && below === value ? "visible" : "hidden" }} />,
                  label: `${label} below`,
                })),
            ],
            onClick: ({ key }) => set({ below: key === "" ? null : (key as Detail) }),
          }}
        >
          <Button
            size="small"
            type={both ? "primary" : "text"}
            aria-label="A second tray below"
            title={`A second tray below (${commandShortcut("two-details")})`}
            icon={<PanelBottom size={15} />}
          />
        </Dropdown>
        <Tooltip title={`Fit (${commandShortcut("fit")})`}>
          <Button size="small" type="text" aria-label="Fit" icon={<Maximize size={15} />} onClick={fitShown} />
        </Tooltip>
      </div>
    </div>
  );
}
