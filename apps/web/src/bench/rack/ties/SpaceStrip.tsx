import { type Constraint, spaceName, type Switch, switchesOf } from "@kneader/core";
import { useMemo } from "react";
import { isReached } from "../../keyOwner.ts";
import { useReadOnly, useShownPart } from "../../documents.ts";
import { useTimeAxis, xOf } from "../../timeAxis.ts";
import { dragAlong } from "./dragAlong.ts";
import { moveSwitches, removeSwitch, withMovedSwitches } from "./tieEdits.ts";

interface SpaceStripProps {
  tie: Constraint;
  /** A span was pressed with the other button, or its name was clicked: by the frame it begins at. */
  onMenu(event: React.MouseEvent, span: number): void;
}

/** Where a control lives over time: a span a space with its name in it, and a handle at each switch. */
export function SpaceStrip({ tie, onMenu }: SpaceStripProps) {
  const axis = useTimeAxis();
  const readOnly = useReadOnly();
  const rig = useShownPart((shot) => shot.rig);
  const range = useShownPart((shot) => shot.range);
  const { control } = tie.settings as { control: string };
  // Off, it still shows what it would say.
  const switches = useMemo(() => switchesOf({ rig, constraints: [{ ...tie, on: true }] }, control), [rig, tie, control]);
  const fixed = readOnly || !tie.on;
  const spaces = (tie.settings as { spaces: (string | null)[] }).spaces;

  const moved = (i: number, by: number): Switch[] => {
    const [least, most] = [switches[i - 1].frame + 1, (switches[i + 1]?.frame ?? Number.POSITIVE_INFINITY) - 1];
    const frame = Math.min(most, Math.max(Number.isFinite(least) ? least : range.start + 1, switches[i].frame + by));
    return switches.map((one, n) => (n === i ? { ...one, frame } : one));
  };
  const drag = (i: number) => (event: React.PointerEvent) => {
    if (event.button !== 0 || fixed) return;
    event.stopPropagation();
    dragAlong(
      event,
      (shot, by) => withMovedSwitches(shot, control, moved(i, by)),
      (by) => moveSwitches(control, moved(i, by)),
    );
  };
  const keys = (i: number) => (event: React.KeyboardEvent) => {
    // Clicked, it leaves the bench its keys.
    if (!isReached(event)) return;
    const by = event.key === "ArrowLeft" ? -1 : event.key === "ArrowRight" ? 1 : 0;
    if (by === 0 && event.key !== "Delete" && event.key !== "Backspace") return;
    event.preventDefault();
    event.stopPropagation();
    if (by !== 0) moveSwitches(control, moved(i, by));
    else removeSwitch(control, switches[i].frame);
  };
  return (
    <>
      {switches.map((one, i) => {
        const start = Math.max(range.start, one.frame);
        const end = switches[i + 1]?.frame ?? range.end;
        const [left, right] = [xOf(axis, start), xOf(axis, end)];
        const name = spaceName({ rig }, one.space);
        return (
          <button
            type="button"
            key={one.frame}
            className="space-span"
            data-tone={spaces.indexOf(one.space) % 4}
            style={{ left, width: Math.max(3, right - left - 1) }}
            title={`Lives in ${name === "world" ? "the world" : name} from frame ${start}. Press for what can be done`}
            onClick={(event) => onMenu(event, start)}
            onContextMenu={(event) => {
              event.preventDefault();
              event.stopPropagation();
              onMenu(event, start);
            }}
          >
            <span>{name}</span>
          </button>
        );
      })}
      {switches.slice(1).map((one, n) => (
        <button
          type="button"
          key={one.frame}
          className="space-switch"
          disabled={fixed}
          style={{ left: xOf(axis, one.frame) }}
          aria-label={`Switch at frame ${one.frame} to ${spaceName({ rig }, one.space)}`}
          title={`From frame ${one.frame} in ${spaceName({ rig }, one.space)}. Drag it, or arrows; Delete takes it out. Poses stay`}
          onPointerDown={drag(n + 1)}
          onKeyDown={keys(n + 1)}
        />
      ))}
    </>
  );
}
