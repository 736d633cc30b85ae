import { BASE, channelKey, channelLabel, channelTitle, channelUnit, type Control, layerCurves, type Shot } from "@kneader/core";
import { Eye, EyeOff, Lock, LockOpen } from "lucide-react";
import { useRestingFrame } from "../../clock.ts";
import { useReadOnly } from "../../documents.ts";
import { ownValue, typeValue } from "../../edits.ts";
import { NumberField } from "../../NumberField.tsx";
import { useSelection } from "../../selection.ts";
import { axisLetter } from "../curves/curveView.ts";
import { lockChannels, useChannelView } from "./channelView.ts";

interface ChannelRowProps {
  shot: Shot;
  control: Control;
  channel: string;
  /** Drawn in the curve tray. */
  shown: boolean;
  locked: boolean;
  /** The one line of the list that the keyboard stops at. */
  active: boolean;
}

/** A channel: its mark, name, lock, and its value at the playhead, which can be typed. */
export function ChannelRow({ shot, control, channel, shown, locked, active }: ChannelRowProps) {
  const key = channelKey(control.id, channel);
  const layer = useSelection((state) => state.layer);
  const chosen = useSelection((state) => state.channels.includes(key));
  const hidden = useChannelView((state) => state.hidden.has(key));
  const readOnly = useReadOnly();
  const frame = useRestingFrame();
  const keyed = key in layerCurves(shot, layer);
  const unit = channelUnit(channel);
  const title = channelTitle(shot.rig, key);
  const tab = active ? 0 : -1;
  const pick = (event: React.MouseEvent) => {
    if (control.part === "pass") return;
    const { channels, pickChannels, pickControls, controls } = useSelection.getState();
    if (!controls.includes(control.id)) pickControls(event.shiftKey ? [...controls, control.id] : [control.id]);
    if (event.shiftKey) pickChannels(chosen ? channels.filter((k) => k !== key) : [...channels, key]);
    else pickChannels(chosen && channels.length === 1 ? [] : [key]);
  };
  return (
    <div className={`channel ${shown ? "shown" : ""} ${chosen ? "chosen" : ""} ${hidden ? "hidden-channel" : ""}`}>
      <button
        type="button"
        className="mark-button"
        tabIndex={tab}
        aria-label={`${hidden ? "Show" : "Hide"} ${title}`}
        title={`${hidden ? "Show" : "Hide"} the curve`}
        onClick={() => useChannelView.getState().hide([key], !hidden)}
      >
        {hidden ? <EyeOff size={13} /> : <Eye size={13} className="on-hover" />}
        {!hidden && <i className={`dot ${axisLetter(key)} ${keyed ? "" : "unkeyed"}`} />}
      </button>
      <button
        type="button"
        className="channel-name"
        tabIndex={tab}
        data-row={key}
        aria-pressed={chosen}
        aria-label={title}
        onClick={pick}
        title={`${title}${keyed ? "" : layer === BASE ? ": never keyed" : ": not keyed in this pass"}`}
      >
        {channelLabel(channel)}
      </button>
      <button
        type="button"
        className={locked ? "mark-button locked" : "mark-button on-hover"}
        tabIndex={tab}
        aria-label={`${locked ? "Unlock" : "Lock"} ${title}`}
        title={locked ? "Unlock" : "Lock: no edit changes it"}
        disabled={readOnly}
        onClick={() => lockChannels([key], !locked)}
      >
        {locked ? <Lock size={13} /> : <LockOpen size={13} />}
      </button>
      <NumberField
        label={title}
        tabIndex={tab}
        value={ownValue(shot, layer, key, frame)}
        decimals={unit === "degrees" || unit === "percent" ? 1 : 3}
        suffix={unit === "degrees" ? "°" : unit === "percent" ? "%" : ""}
        disabled={readOnly || locked}
        onCommit={(value) => typeValue(key, value)}
      />
    </div>
  );
}
