import { Button, Dropdown, Popover, Segmented, Tooltip } from "antd";
import { Columns3, Expand, Ghost, Mountain, PersonStanding, Spline } from "lucide-react";
import { memo, type ReactNode } from "react";
import { usePreferences } from "../../app/preferences.ts";
import { runCommand } from "../commands/commands.ts";
import { commandShortcut } from "../commandKeys.ts";
import { layouts } from "../layouts.ts";
import { cameras } from "./cameraNames.ts";
import { ArcSettings } from "./arcs/ArcSettings.tsx";
import { GhostSettings } from "./GhostSettings.tsx";
import { looks } from "./looks.ts";

const withKeys = (text: string, id: string) => {
  const keys = commandShortcut(id);
  return keys ? `${text} (${keys})` : text;
};

/** Cameras, and what is drawn with the figure. By itself, so that nothing of it is drawn anew while the figure moves. */
export const ViewBar = memo(function ViewBar({ hasSet }: { hasSet: boolean }) {
  const { camera, ghosts, arc, room, look, layout, set } = usePreferences();
  const toggle = (label: string, help: string, on: boolean, Icon: typeof Ghost, change: () => void) => (
    <Tooltip title={help}>
      <Button
        size="small"
        type="text"
        className={on ? "pressed" : ""}
        aria-label={label}
        aria-pressed={on}
        icon={<Icon size={15} />}
        onClick={change}
      />
    </Tooltip>
  );
  const withSettings = (label: string, title: string, on: boolean, Icon: typeof Ghost, settings: ReactNode, change: () => void) => (
    <Popover placement="bottom" trigger="hover" mouseEnterDelay={0.35} title={title} content={settings}>
      <Button
        size="small"
        type="text"
        className={on ? "pressed" : ""}
        aria-label={label}
        aria-pressed={on}
        icon={<Icon size={15} />}
        onClick={change}
      />
    </Popover>
  );
  return (
    <div className="view-bar">
      <Segmented size="small" aria-label="Camera" value={camera} options={[...cameras]} onChange={(value) => set({ camera: value })} />
      <div className="view-switches" role="group" aria-label="What is drawn">
        {withSettings("Ghosts", "Ghosts", ghosts, Ghost, <GhostSettings />, () => set({ ghosts: !ghosts }))}
        {withSettings("Arc", "Arc of the picked controls", arc, Spline, <ArcSettings />, () => set({ arc: !arc }))}
        {hasSet &&
          toggle("Set", "The set, or a plain room with a grid to judge movement against", !room, Mountain, () => set({ room: !room }))}
        <Dropdown
          trigger={["click"]}
          menu={{
            selectedKeys: [look],
            items: looks.map(({ value, label, help }) => ({ key: value, label, title: help })),
            onClick: ({ key }) => set({ look: key as typeof look }),
          }}
        >
          <Button
            size="small"
            type="text"
            className={look === "lit" ? "" : "pressed"}
            aria-label={`Figure: ${look}`}
            title={withKeys("Lit, flat or silhouette", "next-look")}
            icon={<PersonStanding size={15} />}
          />
        </Dropdown>
        <Tooltip
          title={withKeys(
            `Layout: ${layouts.find(({ value }) => value === layout)?.label.toLowerCase()}. Press for the next`,
            "next-layout",
          )}
        >
          <Button
            size="small"
            type="text"
            className={layout === "balanced" ? "" : "pressed"}
            aria-label={`Layout: ${layout}`}
            icon={<Columns3 size={15} />}
            onClick={() => runCommand("next-layout")}
          />
        </Tooltip>
        <Tooltip title={withKeys("Full screen", "full-screen")}>
          <Button size="small" type="text" aria-label="Full screen" icon={<Expand size={15} />} onClick={() => runCommand("full-screen")} />
        </Tooltip>
      </div>
    </div>
  );
});
