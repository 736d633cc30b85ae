import { Tooltip } from "antd";
import { CirclePower, EyeOff, Spotlight } from "lucide-react";
import { memo } from "react";
import { changePass } from "../../edits.ts";

interface SwitchesProps {
  id: string;
  name: string;
  on: boolean;
  solo: boolean;
  disabled: boolean;
  /** What it is: "this pass", "this constraint". */
  what: string;
  /** What being alone means. */
  alone: string;
  change(id: string, to: { on: boolean } | { solo: boolean }): void;
}

/** On and alone. By themselves, so that they are not drawn anew while the pass is dragged. */
export function PassSwitches(props: Pick<SwitchesProps, "id" | "name" | "on" | "solo" | "disabled">) {
  return <Switches {...props} what="this pass" alone="Play only this pass over base motion" change={changePass} />;
}

/** Two switches of a row. */
export const Switches = memo(function Switches({ id, name, on, solo, disabled, what, alone, change }: SwitchesProps) {
  return (
    <>
      <Tooltip title={on ? `Switch ${what} off` : `Switch ${what} on`}>
        <button
          type="button"
          className={`tool ${on ? "" : "lit"}`}
          aria-label={`${name} on`}
          aria-pressed={on}
          disabled={disabled}
          onClick={() => change(id, { on: !on })}
        >
          {on ? <CirclePower size={13} /> : <EyeOff size={13} />}
        </button>
      </Tooltip>
      <Tooltip title={alone}>
        <button
          type="button"
          className={`tool ${solo ? "lit" : ""}`}
          aria-label={`${name} alone`}
          aria-pressed={solo}
          disabled={disabled}
          onClick={() => change(id, { solo: !solo })}
        >
          <Spotlight size={13} />
        </button>
      </Tooltip>
    </>
  );
});
