import { channelKey, channelLabel, channelTitle, channelUnit, type Control, layerCurves, type Shot } from "@kneader/core";
import { Input } from "antd";
import { ChevronDown, ChevronRight, Search } from "lucide-react";
import { useMemo, useState } from "react";
import { useRestingFrame } from "../clock.ts";
import { useReadOnly, useShown } from "../documents.ts";
import { ownValue, typeValue } from "../edits.ts";
import { NumberField } from "../NumberField.tsx";
import { useSelection } from "../selection.ts";
import { matchesWords } from "./channelFilter.ts";
import { axisLetter } from "./curves/curveView.ts";
import { shownChannels } from "./curves/shownCurves.ts";

/** Controls and their channels with values that can be typed. Picking here is picking everywhere. */
export function ChannelList() {
  const shot = useShown();
  const { controls, channels, layer } = useSelection();
  const [words, setWords] = useState("");
  const shownKeys = useMemo(() => new Set(shownChannels(shot, layer, controls, channels)), [shot, layer, controls, channels]);
  const listed = useMemo(
    () =>
      shot.rig.controls.flatMap((control) => {
        const own = control.channels.filter((channel) => matchesWords(`${control.name} ${channelLabel(channel)}`, words));
        return own.length > 0 ? [{ control, own }] : [];
      }),
    [shot.rig, words],
  );
  return (
    <div className="channel-list">
      <Input
        size="small"
        allowClear
        prefix={<Search size={13} />}
        placeholder="Filter channels"
        aria-label="Filter channels"
        value={words}
        onChange={(event) => setWords(event.target.value)}
        onKeyDown={(event) => event.stopPropagation()}
      />
      <div className="channel-scroll" role="group" aria-label="Channels">
        {listed.map(({ control, own }) => (
          <ControlRows key={control.id} shot={shot} control={control} own={own} shownKeys={shownKeys} open={words !== "" ? true : null} />
        ))}
        {listed.length === 0 && <p className="quiet empty-line">No channel has "{words}" in its name.</p>}
      </div>
    </div>
  );
}

interface ControlRowsProps {
  shot: Shot;
  control: Control;
  own: readonly string[];
  shownKeys: ReadonlySet<string>;
  open: boolean | null;
}

function ControlRows({ shot, control, own, shownKeys, open }: ControlRowsProps) {
  const picked = useSelection((state) => state.controls.includes(control.id));
  const anyShown = own.some((channel) => shownKeys.has(channelKey(control.id, channel)));
  const [folded, setFolded] = useState<boolean | null>(null);
  const unfolded = folded === null ? (open ?? (picked || anyShown)) : !folded;
  const pick = (event: React.MouseEvent) => {
    const { controls, pickControls } = useSelection.getState();
    if (event.shiftKey || event.ctrlKey || event.metaKey)
      pickControls(picked ? controls.filter((id) => id !== control.id) : [...controls, control.id]);
    else pickControls(picked && controls.length === 1 ? [] : [control.id]);
  };
  return (
    <div className={picked ? "control picked" : "control"}>
      <div className="control-row">
        <button
          type="button"
          className="fold"
          aria-label={`${unfolded ? "Fold" : "Unfold"} ${control.name}`}
          aria-expanded={unfolded}
          onClick={() => setFolded(unfolded)}
        >
          {unfolded ? <ChevronDown size={13} /> : <ChevronRight size={13} />}
        </button>
        <button type="button" className="control-name" aria-pressed={picked} title={`${control.name}: pick (Shift adds)`} onClick={pick}>
          {control.name}
        </button>
      </div>
      {unfolded &&
        own.map((channel) => (
          <ChannelRow
            key={channel}
            shot={shot}
            control={control}
            channel={channel}
            shown={shownKeys.has(channelKey(control.id, channel))}
          />
        ))}
    </div>
  );
}

function ChannelRow({ shot, control, channel, shown }: { shot: Shot; control: Control; channel: string; shown: boolean }) {
  const key = channelKey(control.id, channel);
  const layer = useSelection((state) => state.layer);
  const chosen = useSelection((state) => state.channels.includes(key));
  const readOnly = useReadOnly();
  const frame = useRestingFrame();
  const keyed = key in layerCurves(shot, layer);
  const unit = channelUnit(channel);
  const title = channelTitle(shot.rig, key);
  const pick = (event: React.MouseEvent) => {
    const { channels, pickChannels, pickControls, controls } = useSelection.getState();
    if (!controls.includes(control.id)) pickControls(event.shiftKey ? [...controls, control.id] : [control.id]);
    if (event.shiftKey) pickChannels(chosen ? channels.filter((k) => k !== key) : [...channels, key]);
    else pickChannels(chosen && channels.length === 1 ? [] : [key]);
  };
  return (
    <div className={`channel ${shown ? "shown" : ""} ${chosen ? "chosen" : ""}`}>
      <button
        type="button"
        className="channel-name"
        aria-pressed={chosen}
        aria-label={title}
        onClick={pick}
        title={`${title}${keyed ? "" : ": no keys here"}`}
      >
        <i className={`dot ${axisLetter(key)} ${keyed ? "" : "unkeyed"}`} />
        {channelLabel(channel)}
      </button>
      <NumberField
        label={title}
        value={ownValue(shot, layer, key, frame)}
        decimals={unit === "degrees" ? 1 : 3}
        suffix={unit === "degrees" ? "°" : ""}
        disabled={readOnly}
        onCommit={(value) => typeValue(key, title, value)}
      />
    </div>
  );
}
