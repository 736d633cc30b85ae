import { type Control, controlById, learnRanges, likelyFlips, operations, type Shot } from "@kneader/core";
import { Button, Switch } from "antd";
import { useState } from "react";
import { NumberField } from "../bench/NumberField.tsx";
import { performOrTell } from "../bench/perform.ts";

type Range = readonly [number, number];
type Ranges = Readonly<Record<string, Readonly<Record<string, Range | null>>>>;

const say = (ranges: Ranges) => performOrTell(operations.changeRig, { ranges });
const turnsOf = ({ channels }: Control) => channels.filter((channel) => channel.startsWith("rotate"));

/** How far joints turn: of the picked control typed, of all learned from the shot. Tune strains what goes past it. */
export function JointRanges({ shot, picked, disabled }: { shot: Shot; picked: string | null; disabled: boolean }) {
  const [both, setBoth] = useState(true);
  const control = picked === null ? undefined : controlById(shot.rig, picked);
  const told = shot.rig.controls.filter(({ ranges }) => ranges);
  const partner =
    control && control.partner !== null && control.partner !== control.id ? controlById(shot.rig, control.partner) : undefined;
  const set = (channel: string, range: Range | null) => {
    if (!control) return;
    const across =
      both && partner?.channels.includes(channel) ? { [partner.id]: { [channel]: acrossFrom(shot, control, channel, range) } } : {};
    say({ [control.id]: { [channel]: range }, ...across });
  };
  const forget = () =>
    say(
      Object.fromEntries(
        told.map(({ id, ranges }) => [id, Object.fromEntries(Object.keys(ranges ?? {}).map((channel) => [channel, null]))]),
      ),
    );
  return (
    <>
      <h3>How far joints turn</h3>
      <div className="rig-buttons">
        <Button
          size="small"
          disabled={disabled}
          title="The ranges of all joints from what they do in this shot, but for what is rare in it"
          onClick={() => say(learnRanges(shot))}
        >
          From this shot
        </Button>
        <Button size="small" type="text" disabled={disabled || told.length === 0} onClick={forget}>
          Not said
        </Button>
      </div>
      {!control && (
        <p className="quiet rig-note">
          Pick a control to type its ranges.{" "}
          {told.length > 0 ? `${told.length} joints have some.` : "None is said: Tune learns them from the shot."}
        </p>
      )}
      {control && turnsOf(control).length === 0 && <p className="quiet rig-note">{control.name} does not turn.</p>}
      {control &&
        turnsOf(control).map((channel) => (
          <RangeRow key={channel} control={control} channel={channel} disabled={disabled} onChange={(range) => set(channel, range)} />
        ))}
      {control && partner && turnsOf(control).length > 0 && (
        <label className="rig-only">
          <Switch size="small" aria-label="Its partner too" checked={both} onChange={setBoth} />
          <span>{partner.name} too</span>
        </label>
      )}
    </>
  );
}

/** The partner's range: where its channel has the other sign, turned round. */
function acrossFrom(shot: Shot, { id, mirror }: Control, channel: string, range: Range | null): Range | null {
  const flips = typeof mirror === "object" ? mirror.flips : likelyFlips(shot.rig, id);
  return range && flips.includes(channel) ? [-range[1], -range[0]] : range;
}

interface RowProps {
  control: Control;
  channel: string;
  disabled: boolean;
  onChange(range: Range | null): void;
}

function RangeRow({ control: { name, ranges }, channel, disabled, onChange }: RowProps) {
  const range = ranges?.[channel];
  const [low, high] = range ?? [-180, 180];
  const axis = channel.slice(-1);
  const field = (end: string, value: number, set: (value: number) => void) => (
    <NumberField
      label={`${name} turns about ${axis} ${end}`}
      title={`About ${axis} ${end}`}
      value={value}
      decimals={1}
      suffix="°"
      className={range ? "" : "quiet"}
      disabled={disabled}
      onCommit={set}
    />
  );
  return (
    <div className="rig-range">
      <span className="setting-title">{axis}</span>
      {field("from", low, (next) => onChange([next, high]))}
      <span className="quiet">to</span>
      {field("to", high, (next) => onChange([low, next]))}
      <Button
        size="small"
        type="text"
        disabled={disabled || !range}
        aria-label={`Say nothing of ${name} about ${axis}`}
        title="Learned from the shot again"
        onClick={() => onChange(null)}
      >
        ×
      </Button>
    </div>
  );
}
