import { Segmented } from "antd";
import { usePreferences } from "../../app/preferences.ts";
import { clock } from "../clock.ts";
import { NumberField } from "../NumberField.tsx";

const ways = [
  { value: "poses", label: "Key poses" },
  { value: "every", label: "Every few" },
  { value: "frames", label: "Chosen" },
] as const;

/** Which poses are drawn pale, how many, and how strongly. */
export function GhostSettings() {
  const { ghostBy, ghostEvery, ghostsBefore, ghostsAfter, ghostFrames, ghostInk, set } = usePreferences();
  const field = (label: string, value: number, min: number, max: number, suffix: string, commit: (value: number) => void) => (
    <label className="ghost-field">
      {label}
      <NumberField label={label} value={value} decimals={0} min={min} max={max} suffix={suffix} onCommit={commit} />
    </label>
  );
  return (
    <div className="ghost-settings">
      <Segmented
        size="small"
        aria-label="Which poses"
        value={ghostBy}
        options={[...ways]}
        onChange={(value) => set({ ghostBy: value, ghosts: true })}
      />
      {ghostBy === "every" &&
        field("Every", ghostEvery, 1, 500, ghostEvery === 1 ? " frame" : " frames", (value) => set({ ghostEvery: value }))}
      {ghostBy === "frames" ? (
        <p className="ghost-frames">
          <span className="mono">{ghostFrames.length > 0 ? ghostFrames.join(" ") : "none yet"}</span>
          <button
            type="button"
            className="link"
            onClick={() => {
              const others = ghostFrames.filter((frame) => frame !== clock.frame);
              set({
                ghosts: true,
                ghostFrames: others.length < ghostFrames.length ? others : [...others, clock.frame].sort((a, b) => a - b),
              });
            }}
          >
            this frame in or out
          </button>
        </p>
      ) : (
        <>
          {field("Before", ghostsBefore, 0, 12, "", (value) => set({ ghostsBefore: value }))}
          {field("After", ghostsAfter, 0, 12, "", (value) => set({ ghostsAfter: value }))}
        </>
      )}
      {field("Strength", Math.round(ghostInk * 100), 5, 100, " %", (value) => set({ ghostInk: value / 100 }))}
    </div>
  );
}
