import { Tooltip } from "antd";
import { CirclePower, EyeOff, Spotlight } from "lucide-react";
import { memo } from "react";
import { changePass } from "../../edits.ts";

interface PassSwitchesProps {
  id: string;
  name: string;
  on: boolean;
  solo: boolean;
  disabled: boolean;
}

/** On and alone. By themselves, so that they are not drawn anew while the pass is dragged. */
export const PassSwitches = memo(function PassSwitches({ id, name, on, solo, disabled }: PassSwitchesProps) {
  return (
    <>
      <Tooltip title={on ? "Switch this pass off" : "Switch this pass on"}>
        <button
          type="button"
          className={`tool ${on ? "" : "lit"}`}
          aria-label={`${name} on`}
          aria-pressed={on}
          disabled={disabled}
          onClick={() => changePass(id, { on: !on })}
        >
          {on ? <CirclePower size={13} /> : <EyeOff size={13} />}
        </button>
      </Tooltip>
      <Tooltip title="Play only this pass over base motion">
        <button
          type="button"
          className={`tool ${solo ? "lit" : ""}`}
          aria-label={`${name} alone`}
          aria-pressed={solo}
          disabled={disabled}
          onClick={() => changePass(id, { solo: !solo })}
        >
          <Spotlight size={13} />
        </button>
      </Tooltip>
    </>
  );
});
