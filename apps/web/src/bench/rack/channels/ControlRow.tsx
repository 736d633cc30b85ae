import type { ChannelKey, Control } from "@kneader/core";
import { ChevronDown, ChevronRight, EyeOff, Lock, LockOpen } from "lucide-react";
import { useReadOnly } from "../../documents.ts";
import { startTieDrag } from "../ties/tieDrag.ts";
import { useSelection } from "../../selection.ts";
import { lockChannels, useChannelView } from "./channelView.ts";

interface ControlRowProps {
  control: Control;
  channels: readonly ChannelKey[];
  open: boolean;
  locked: ReadonlySet<ChannelKey>;
  active: boolean;
  onFold(): void;
}

/** A control of the list: fold, pick, and lock all of its channels at once. */
export function ControlRow({ control, channels, open, locked, active, onFold }: ControlRowProps) {
  const picked = useSelection((state) => state.controls.includes(control.id));
  const hidden = useChannelView((state) => channels.every((key) => state.hidden.has(key)));
  const readOnly = useReadOnly();
  const count = channels.filter((key) => locked.has(key)).length;
  const all = count === channels.length;
  const tab = active ? 0 : -1;
  const pick = (event: React.MouseEvent) => {
    // A pass's own settings are no control of the rig.
    if (control.part === "pass") return;
    const { controls, pickControls } = useSelection.getState();
    if (event.shiftKey || event.ctrlKey || event.metaKey)
      pickControls(picked ? controls.filter((id) => id !== control.id) : [...controls, control.id]);
    // It stays picked, all of it, and its channels with their fields stay where they are: only the arrow folds.
    else pickControls([control.id]);
  };
  return (
    <div className={`control-row ${picked ? "picked" : ""} ${hidden ? "hidden-channel" : ""}`}>
      <button
        type="button"
        className="fold"
        tabIndex={tab}
        aria-label={`${open ? "Fold" : "Unfold"} ${control.name}`}
        aria-expanded={open}
        onClick={onFold}
      >
        {open ? <ChevronDown size={13} /> : <ChevronRight size={13} />}
      </button>
      <button
        type="button"
        className="control-name"
        tabIndex={tab}
        data-row={control.id}
        aria-pressed={picked}
        title={`${control.name}: pick (Shift adds; Shift and drag onto another control ties it to that)`}
        onPointerDown={(event) => {
          if (event.shiftKey && event.button === 0 && !readOnly && control.part !== "pass") startTieDrag(control.id, event);
        }}
        onClick={pick}
      >
        {control.name}
      </button>
      {hidden && (
        <button
          type="button"
          className="mark-button"
          tabIndex={tab}
          aria-label={`Show ${control.name}`}
          title="Show its curves"
          onClick={() => useChannelView.getState().hide(channels, false)}
        >
          <EyeOff size={13} />
        </button>
      )}
      <button
        type="button"
        className={count > 0 ? "mark-button locked" : "mark-button on-hover"}
        tabIndex={tab}
        aria-label={`${all ? "Unlock" : "Lock"} all of ${control.name}`}
        title={
          all ? "Unlock all its channels" : count > 0 ? `${count} of ${channels.length} are locked. Lock all` : "Lock all its channels"
        }
        disabled={readOnly}
        onClick={() => lockChannels(channels, !all)}
      >
        {count > 0 ? <Lock size={13} /> : <LockOpen size={13} />}
      </button>
    </div>
  );
}
