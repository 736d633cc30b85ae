import { Button, Select } from "antd";
import { Cable } from "lucide-react";
import { useEffect, useState } from "react";
import { NumberField } from "../../NumberField.tsx";
import { letGo, loseLine, toggleLine } from "./streamHand.ts";
import { useStream } from "./streamState.ts";

const performances = [
  { value: "walk", label: "A walk" },
  { value: "hop", label: "A hop" },
  { value: "lantern", label: "A lantern handed over" },
  { value: "waiting", label: "Waiting" },
];

const lines = { none: "not connected", connecting: "connecting …", here: "", lost: "line lost, looking for it …" } as const;

/** The device: what it performs, how bad its line is, and how it is doing. */
export function StreamSettings({ disabled }: { disabled: boolean }) {
  const stream = useStream();
  const [all, setAll] = useState(false);
  const isOpen = stream.line !== "none";
  // Who leaves the card lets go of the device.
  useEffect(() => letGo, []);
  const number = (
    name: "rate" | "noise" | "drift" | "dropped" | "late" | "doubled" | "swapped" | "preRoll",
    label: string,
    suffix: string,
    max: number,
    title: string,
  ) => (
    <label className="stream-number" title={title}>
      <span>{label}</span>
      <NumberField
        label={label}
        value={stream[name]}
        suffix={suffix}
        decimals={name === "rate" ? 0 : 1}
        min={name === "rate" ? 1 : 0}
        max={max}
        disabled={disabled || (isOpen && name !== "preRoll")}
        onCommit={(value) => useStream.setState({ [name]: value })}
      />
    </label>
  );
  return (
    <div className="stream-settings">
      <Button size="small" icon={<Cable size={13} />} disabled={disabled} onClick={toggleLine}>
        {isOpen ? "Let go" : "Connect"}
      </Button>
      <Select
        size="small"
        aria-label="Performance"
        value={stream.performance}
        options={performances}
        disabled={disabled || isOpen}
        onChange={(performance: string) => useStream.setState({ performance })}
      />
      <button type="button" className="link" tabIndex={-1} aria-expanded={all} onClick={() => setAll(!all)}>
        {all ? "Less of the line" : "The line"}
      </button>
      <span className="quiet stream-said" role="status">
        {stream.problem || lines[stream.line] || stream.said}
      </span>
      {all && (
        <div className="stream-numbers">
          {number("rate", "Rate", " Hz", 240, "Frames of the device a second")}
          {number("preRoll", "Pre-roll", " s", 4, "So much of what came before the button goes into the take")}
          {number("noise", "Noise", "°", 90, "Jitter of each angle")}
          {number("drift", "Drift", "°", 90, "What an angle runs off in a minute")}
          {number("dropped", "Lost", " %", 50, "Packets that never come")}
          {number("late", "Late", " %", 50, "Packets that come after later ones")}
          {number("doubled", "Doubled", " %", 50, "Packets that come twice")}
          {number("swapped", "Swapped", " %", 50, "Packets that change places with the next")}
          {isOpen && (
            <Button size="small" type="text" onClick={loseLine}>
              Pull the cable
            </Button>
          )}
        </div>
      )}
    </div>
  );
}
