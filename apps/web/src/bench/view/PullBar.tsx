import { computedKind, controlById, isNudge, type PullBy } from "@kneader/core";
import { Button, Popover, Segmented, Switch, Tooltip } from "antd";
import { Anchor } from "lucide-react";
import { memo } from "react";
import { usePreferences } from "../../app/preferences.ts";
import { useRestingFrame } from "../clock.ts";
import { commandShortcut } from "../commandKeys.ts";
import { useReadOnly, useShownPart } from "../documents.ts";
import { useSelection } from "../selection.ts";
import { useHovered } from "./hovered.ts";

const ways: { value: PullBy; label: string; title: string }[] = [
  { value: "turn", label: "Turn", title: "Drag a part: it turns about its joint." },
  { value: "reach", label: "Reach", title: "Drag a part: what it hangs on reaches after the pointer; what moves by itself is moved." },
];

/** How the figure gives way when a part of it is dragged, and where that is keyed. */
export const PullBar = memo(function PullBar() {
  const pullBy = usePreferences((state) => state.pullBy);
  const layer = useSelection((state) => state.layer);
  const range = useSelection((state) => state.range);
  const frame = useRestingFrame();
  // Only what is said here: a pass that is dragged must not draw this anew.
  const name = useShownPart((shot) => shot.passes.find(({ id }) => id === layer)?.name ?? null);
  const computed = useShownPart((shot) => computedKind(shot.passes.find(({ id }) => id === layer)?.kind ?? "") !== undefined);
  const holds = usePreferences((state) => state.holdFeet || state.holdHands || state.pullBoth);
  const hovered = useHovered((state) => state.control);
  const part = useShownPart((shot) => (hovered === null ? null : (controlById(shot.rig, hovered)?.name ?? null)));
  const readOnly = useReadOnly();
  if (readOnly) return null;
  const nudge = !computed && range !== null;
  const inside = isNudge(frame, range);
  const where = name ?? "Base motion";
  return (
    <div className="pull-bar">
      <Segmented
        size="small"
        aria-label="Dragged parts"
        value={pullBy}
        onChange={(value) => usePreferences.getState().set({ pullBy: value })}
        options={ways.map(({ value, label, title }) => ({
          value,
          label: (
            <Tooltip title={`${title} Alt: the other way. Ctrl and sideways: it twists. (${commandShortcut("pull-way")})`}>{label}</Tooltip>
          ),
        }))}
      />
      <Popover placement="topLeft" trigger="hover" mouseEnterDelay={0.35} title="While a part is pulled" content={<PullSettings />}>
        <Button
          size="small"
          type="text"
          className={holds ? "pressed pull-holds" : "pull-holds"}
          aria-label="What is held while a part is pulled"
          icon={<Anchor size={14} />}
          onClick={() => usePreferences.getState().set(holds ? { holdFeet: false, holdHands: false, pullBoth: false } : { holdFeet: true })}
        />
      </Popover>
      <Tooltip
        title={
          computed
            ? "Choose a pass to key, or base motion, in the pass tray."
            : nudge
              ? inside
                ? "Dragging the figure changes this between the ends of the marked range and nothing outside."
                : "The playhead is not within the marked range; nothing outside it is to change."
              : "Dragging the figure keys this, at the playhead. In a pass, one key changes the whole shot."
        }
      >
        <span className={computed || (nudge && !inside) ? "pull-into refused" : "pull-into"}>
          {part && <b>{part} </b>}
          {computed ? `${where} takes no keys` : nudge ? `into ${where}, ${range.start}–${range.end}` : `into ${where}`}
        </span>
      </Tooltip>
    </div>
  );
});

const switches = [
  ["holdFeet", "Hold the feet", "Feet below what is pulled stay where they stand: their legs bend."],
  ["holdHands", "Hold the hands", "Hands below what is pulled stay where they are: their arms bend."],
  ["pullBoth", "Both sides", "The partners of what gives way follow mirrored."],
] as const;

/** What stays, and what goes along. Several picked parts are pulled together. */
function PullSettings() {
  const preferences = usePreferences();
  return (
    <div className="ghost-settings">
      {switches.map(([name, label, help]) => (
        <label key={name} className="ghost-field" title={help}>
          {label}
          <Switch size="small" aria-label={label} checked={preferences[name]} onChange={(on) => preferences.set({ [name]: on })} />
        </label>
      ))}
      <span className="quiet">Several picked parts are pulled together.</span>
    </div>
  );
}
