import { Button, Tooltip } from "antd";
import { Magnet, MoveHorizontal, MoveVertical, Ruler, Spline, SquareDashed } from "lucide-react";
import { usePreferences } from "../../../app/preferences.ts";

const toggles = [
  {
    id: "keyBox",
    label: "Box around picked keys",
    help: "Sides scale time or value, corners both; Alt scales about the middle",
    Icon: SquareDashed,
  },
  { id: "keepValue", label: "Keep value while dragging", help: "Keys move in time only; Shift does it for one drag", Icon: MoveHorizontal },
  { id: "keepTime", label: "Keep time while dragging", help: "Keys move in value only; Shift does it for one drag", Icon: MoveVertical },
  { id: "wholeFrames", label: "Whole frames", help: "Dragged keys land on whole frames", Icon: Ruler },
  {
    id: "result",
    label: "Source and result",
    help: "What passes make of the curves is drawn with them; drag the result to key the chosen layer",
    Icon: Spline,
  },
  { id: "toKeys", label: "Snap to keys", help: "What is dragged is drawn to the frames of keys nearby", Icon: Magnet },
] as const;

/** How drags of keys behave: what they keep, and where they snap. */
export function DragToggles() {
  const preferences = usePreferences();
  return (
    <fieldset className="tool-group" aria-label="Dragging keys">
      {toggles.map(({ id, label, help, Icon }) => (
        <Tooltip key={id} title={`${label}. ${help}`}>
          <Button
            size="small"
            type="text"
            className={preferences[id] ? "pressed" : ""}
            aria-label={label}
            aria-pressed={preferences[id]}
            icon={<Icon size={15} />}
            onClick={() => {
              // Keeping both would leave nothing to drag.
              const other = id === "keepTime" ? { keepValue: false } : id === "keepValue" ? { keepTime: false } : {};
              preferences.set({ ...(preferences[id] ? {} : other), [id]: !preferences[id] });
            }}
          />
        </Tooltip>
      ))}
    </fieldset>
  );
}
