import { pickedCount } from "@kneader/core";
import { Button, Tooltip } from "antd";
import { useReadOnly } from "../../documents.ts";
import { tangentPicked } from "../../edits.ts";
import { useSelection } from "../../selection.ts";
import { Mark } from "../curves/Mark.tsx";

const kinds = ["auto", "smooth", "flat", "linear", "stepped", "free"] as const;
const help: Record<(typeof kinds)[number], string> = {
  auto: "never overshoots",
  smooth: "rounds",
  flat: "level",
  linear: "straight to the next key",
  stepped: "holds until the next key",
  free: "keeps the slope it has, for handles by hand",
};

/** The kinds of tangent by their marks; a press gives it to the picked keys. */
export function TangentButtons() {
  const count = useSelection((state) => pickedCount(state.keys));
  const readOnly = useReadOnly();
  return (
    <fieldset className="tool-group" aria-label="Tangent of the picked keys">
      {kinds.map((kind) => (
        <Tooltip key={kind} title={`Make the picked keys ${kind}: ${help[kind]}`}>
          <Button
            size="small"
            type="text"
            aria-label={`Make the picked keys ${kind}`}
            disabled={count === 0 || readOnly}
            icon={<Mark mark={kind} />}
            onClick={() => void tangentPicked(kind)}
          />
        </Tooltip>
      ))}
    </fieldset>
  );
}
