import { computedKind } from "@kneader/core";
import { Tooltip } from "antd";
import { Ellipsis, SlidersHorizontal, Trash2 } from "lucide-react";
import { memo } from "react";
import { removePass } from "../../edits.ts";
import { useSelection } from "../../selection.ts";
import { useWork } from "../../work/workStore.ts";
import type { PassMenuPlace } from "./PassMenu.tsx";

interface PassToolsProps {
  id: string;
  name: string;
  kind: string;
  disabled: boolean;
  onMenu(place: PassMenuPlace): void;
}

/** The menu of a pass, its settings where it is worked out, and its removal. */
export const PassTools = memo(function PassTools({ id, name, kind, disabled, onMenu }: PassToolsProps) {
  const computed = computedKind(kind);
  return (
    <>
      <Tooltip title="More: duplicate, members, colour, lock, bake … (right-click)">
        <button
          type="button"
          className="tool remove"
          aria-label={`More for ${name}`}
          onClick={(event) => {
            const box = event.currentTarget.getBoundingClientRect();
            onMenu({ x: box.left, y: box.bottom, pass: id });
          }}
        >
          <Ellipsis size={14} />
        </button>
      </Tooltip>
      {computed && (
        <Tooltip title="Its settings, in the work card">
          <button
            type="button"
            className="tool remove settings-tool"
            aria-label={`Settings of ${name}`}
            disabled={disabled}
            onClick={() => {
              useSelection.getState().setLayer(id);
              useWork.getState().open(computed.madeBy);
            }}
          >
            <SlidersHorizontal size={13} />
          </button>
        </Tooltip>
      )}
      <Tooltip title="Remove the pass; the shot is as if it had never been">
        <button type="button" className="tool remove away" aria-label={`Remove ${name}`} disabled={disabled} onClick={() => removePass(id)}>
          <Trash2 size={13} />
        </button>
      </Tooltip>
    </>
  );
});
