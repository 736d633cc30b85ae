import { channelKeysOf, channelTitle, type Join, lastFrame, type RecordSettings, type Shot, type Take } from "@kneader/core";
import { Button, Select, Switch, Tooltip } from "antd";
import { useEffect } from "react";
import { Circle, Scissors, Square, Trash2 } from "lucide-react";
import { clock } from "../clock.ts";
import { commandShortcut } from "../commandKeys.ts";
import { NumberField } from "../NumberField.tsx";
import { tell } from "../notices.ts";
import { useSelection } from "../selection.ts";
import type { FieldProps } from "../work/property.ts";
import { useHand, useRecorder } from "./handState.ts";
import { toggleRecording } from "./recorder.ts";
import { StreamSettings } from "./stream/StreamSettings.tsx";
import "../work/pickList.css";
import "./record.css";

type Recorded = RecordSettings["recorded"];

/** Recording, and the takes it made: one is chosen, spans of others are joined into it. */
export function TakesField({ value, shot, disabled, onChange }: FieldProps) {
  const recorded = value as Recorded;
  const { state, beats, round, said } = useRecorder();
  const key = commandShortcut("record-hand");
  // Who leaves the card while it counts in does not want to record.
  useEffect(() => () => void (useRecorder.getState().state === "counting" && toggleRecording()), []);
  const change = (more: Partial<Recorded>) => onChange({ ...recorded, ...more });
  return (
    <fieldset className="takes" aria-label="Takes">
      <div className="takes-head">
        <Tooltip title={`Plays the marked range, or on from the playhead, and takes what you drag (${key})`}>
          <Button
            size="small"
            type={state === "rest" ? "primary" : "default"}
            danger={state !== "rest"}
            disabled={disabled}
            icon={state === "rest" ? <Circle size={13} fill="currentColor" /> : <Square size={13} />}
            onClick={toggleRecording}
          >
            {state === "rest" ? "Record" : "Stop"} <kbd>{key}</kbd>
          </Button>
        </Tooltip>
        <span className="quiet" role="status">
          {state === "counting" && `begins in ${beats}`}
          {state === "recording" && (round > 1 ? `recording, round ${round}` : "recording: drag in the view")}
        </span>
      </div>
      <HandSettings shot={shot} disabled={disabled || state !== "rest"} />
      {recorded.takes.length > 0 && (
        <ul className="pick-list">
          {recorded.takes.map((take) => (
            <TakeRow
              key={take.id}
              take={take}
              said={said[take.id]}
              isChosen={take.id === recorded.chosen}
              joins={recorded.joins.filter((join) => join.take === take.id)}
              disabled={disabled || state !== "rest"}
              onChoose={() => change({ chosen: take.id, joins: recorded.joins.filter((join) => join.take !== take.id) })}
              onJoin={() => joinFrom(take, recorded, change)}
              onRemove={() => change(without(recorded, take.id))}
            />
          ))}
        </ul>
      )}
      {recorded.joins.length > 0 && (
        <p className="quiet">
          {recorded.joins
            .map(({ take, start, end }) => `${recorded.takes.find(({ id }) => id === take)?.name}, frames ${start}–${end}`)
            .join("; ")}{" "}
          put in.{" "}
          <button type="button" className="link" tabIndex={-1} disabled={disabled} onClick={() => change({ joins: [] })}>
            Take out again
          </button>
        </p>
      )}
    </fieldset>
  );
}

/** A span of a take goes into the chosen one: the marked range. */
function joinFrom(take: Take, { joins }: Recorded, change: (more: Partial<Recorded>) => void): void {
  const { range } = useSelection.getState();
  if (range) change({ joins: [...joins, { take: take.id, start: range.start, end: range.end }] });
  else tell(`Mark the frames on the ruler that ${take.name} should give to the chosen take (Shift-drag).`);
}

function without({ takes, chosen, joins }: Recorded, id: string): Recorded {
  const left = takes.filter((take) => take.id !== id);
  return {
    takes: left,
    chosen: chosen === id ? (left[left.length - 1]?.id ?? "") : chosen,
    joins: joins.filter(({ take }) => take !== id),
  };
}

interface TakeRowProps {
  take: Take;
  said: string | undefined;
  isChosen: boolean;
  joins: readonly Join[];
  disabled: boolean;
  onChoose(): void;
  onJoin(): void;
  onRemove(): void;
}

function TakeRow({ take, said, isChosen, disabled, onChoose, onJoin, onRemove }: TakeRowProps) {
  return (
    <li className={isChosen ? "chosen" : ""}>
      <button
        type="button"
        tabIndex={isChosen ? 0 : -1}
        aria-pressed={isChosen}
        disabled={disabled}
        title="Take this one. Arrows go through the takes"
        onClick={() => {
          onChoose();
          clock.set(take.start);
        }}
        onKeyDown={(event) => {
          const way = event.key === "ArrowDown" ? "nextElementSibling" : event.key === "ArrowUp" ? "previousElementSibling" : null;
          if (!way) return;
          event.preventDefault();
          event.stopPropagation();
          const other = event.currentTarget.parentElement?.[way]?.querySelector("button");
          other?.click();
          other?.focus();
        }}
      >
        <b>{take.name}</b>
        <span className="quiet">
          <span className="mono">
            {take.start}–{lastFrame(take)}
          </span>
          {said && `, ${said}`}
        </span>
      </button>
      {!isChosen && (
        <Tooltip title="Put the marked range of this take into the chosen one">
          <Button
            size="small"
            type="text"
            tabIndex={-1}
            aria-label={`Join from ${take.name}`}
            disabled={disabled}
            icon={<Scissors size={13} />}
            onClick={onJoin}
          />
        </Tooltip>
      )}
      <Tooltip title="Delete this take">
        <Button
          size="small"
          type="text"
          tabIndex={-1}
          aria-label={`Delete ${take.name}`}
          disabled={disabled}
          icon={<Trash2 size={13} />}
          onClick={onRemove}
        />
      </Tooltip>
    </li>
  );
}

/** How the hand is heard. */
function HandSettings({ shot, disabled }: { shot: Shot; disabled: boolean }) {
  const hand = useHand();
  const channels = channelKeysOf(shot.rig).map((key) => ({ value: key, label: channelTitle(shot.rig, key) }));
  const channel = (name: "across" | "up" | "pressure", label: string) => (
    <Select
      size="small"
      showSearch
      allowClear
      optionFilterProp="label"
      aria-label={label}
      placeholder={label}
      value={hand[name] || undefined}
      options={channels}
      disabled={disabled}
      onChange={(key?: string) => useHand.setState({ [name]: key ?? "" })}
    />
  );
  return (
    <div className="hand-settings">
      <Select
        size="small"
        aria-label="Hand"
        value={hand.hand}
        disabled={disabled}
        options={[
          { value: "pull", label: "Drags the figure" },
          { value: "pair", label: "Drives two channels" },
          { value: "stream", label: "A capture device" },
        ]}
        onChange={(next) => useHand.setState({ hand: next })}
      />
      <Select
        size="small"
        aria-label="Speed while recording"
        value={hand.speed}
        disabled={disabled}
        options={[100, 50, 25].map((speed) => ({ value: speed, label: `at ${speed} %` }))}
        onChange={(speed) => useHand.setState({ speed })}
      />
      <label title="It starts again at the end; each round is another take">
        <Switch
          size="small"
          aria-label="Round after round"
          checked={hand.rounds}
          disabled={disabled}
          onChange={(rounds) => useHand.setState({ rounds })}
        />
        <span>rounds</span>
      </label>
      <label title="Three beats before it begins">
        <Switch
          size="small"
          aria-label="Count in"
          checked={hand.countsIn}
          disabled={disabled}
          onChange={(countsIn) => useHand.setState({ countsIn })}
        />
        <span>count in</span>
      </label>
      {hand.hand === "stream" && <StreamSettings disabled={disabled} />}
      {hand.hand === "pair" && (
        <>
          {channel("across", "Across")}
          {channel("up", "Up")}
          {channel("pressure", "Pen pressure")}
          <NumberField
            label="At full push"
            value={hand.amount}
            decimals={2}
            disabled={disabled}
            onCommit={(amount) => useHand.setState({ amount })}
          />
        </>
      )}
    </div>
  );
}
