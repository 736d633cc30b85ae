import { type Constraint, constantCurve, constraintKind, missingOf, sampleCurve, setKey } from "@kneader/core";
import { Tooltip } from "antd";
import { Ellipsis, Trash2, Unlink } from "lucide-react";
import { memo, useState } from "react";
import { useRestingFrame } from "../../clock.ts";
import { useReadOnly, useShownPart } from "../../documents.ts";
import { NumberField } from "../../NumberField.tsx";
import { useSelection } from "../../selection.ts";
import { Switches } from "../passes/PassSwitches.tsx";
import { NamingField } from "../passes/NamingField.tsx";
import { TrayRow } from "../TrayRow.tsx";
import { ContactBand } from "./ContactBand.tsx";
import { SpaceStrip } from "./SpaceStrip.tsx";
import { WholeBand } from "./WholeBand.tsx";
import { StrengthBand } from "./StrengthBand.tsx";
import { changeTie, letGo, strengthOf, weightedTie } from "./tieEdits.ts";
import type { TieMenuPlace } from "./TieMenu.tsx";

interface TieRowProps {
  tie: Constraint;
  chosen: boolean;
  /** It is on, and no other plays alone. */
  plays: boolean;
  onMenu(place: TieMenuPlace): void;
}

/** One constraint: name, switches, strength, and what it does over time. */
export const TieRow = memo(function TieRow({ tie, chosen, plays, onMenu }: TieRowProps) {
  const readOnly = useReadOnly();
  const rig = useShownPart((shot) => shot.rig);
  const [naming, setNaming] = useState(false);
  const gone = missingOf({ rig }, tie);
  const kind = constraintKind(tie.kind);
  const choose = () => useSelection.getState().setLayer(tie.id);
  const menu = (event: React.MouseEvent, span?: number) => onMenu({ x: event.clientX, y: event.clientY, tie: tie.id, span });
  const rename = (name: string | null) => {
    setNaming(false);
    if (name !== null) changeTie(tie.id, { name });
  };
  const hasStrength = kind?.channels(tie.settings).some(({ name }) => name === "strength") === true;
  return (
    <div
      role="group"
      aria-label={`Row of ${tie.name}`}
      onContextMenu={(event) => {
        event.preventDefault();
        menu(event);
      }}
    >
      <TrayRow
        name={tie.name}
        className={`pass-row tie-row ${chosen ? "chosen" : ""} ${plays && gone.length === 0 ? "" : "silent"}`}
        gutter={
          <>
            {naming ? (
              <NamingField label="Name of the constraint" name={tie.name} onName={rename} />
            ) : (
              <button
                type="button"
                className="pass-name"
                aria-pressed={chosen}
                title={
                  gone.length > 0
                    ? `${tie.name}: "${gone.join('", "')}" is not in the rig any more, so it has no say; what it led is where its own keys put it.`
                    : `${tie.name}: ${kind?.help ?? ""} Press shows its channels in the trays below; double-click renames.`
                }
                onClick={choose}
                onDoubleClick={() => setNaming(true)}
              >
                {gone.length > 0 && <Unlink size={12} aria-label="its target is gone" />}
                <span className="name-text">{tie.name}</span>
              </button>
            )}
            <Switches
              id={tie.id}
              name={tie.name}
              on={tie.on}
              solo={tie.solo === true}
              disabled={readOnly}
              what="this constraint"
              alone="Let only this constraint lead"
              change={changeTie}
            />
            {hasStrength ? <StrengthField tie={tie} disabled={readOnly} /> : <span className="no-strength" />}
          </>
        }
      >
        {tie.kind === "space" ? (
          <SpaceStrip tie={tie} onMenu={menu} />
        ) : tie.kind === "plant" ? (
          <ContactBand tie={tie} />
        ) : !hasStrength ? (
          <WholeBand tie={tie} chosen={chosen} onChoose={choose} />
        ) : (
          <StrengthBand tie={tie} chosen={chosen} onChoose={choose} />
        )}
        <Tooltip title="More: bake down, colour, let go … (right-click)">
          <button type="button" className="tool remove tie-more" aria-label={`More for ${tie.name}`} onClick={(event) => menu(event)}>
            <Ellipsis size={14} />
          </button>
        </Tooltip>
        <Tooltip title="Let go: what it leads is where its own keys put it. Bake down keeps the motion">
          <button
            type="button"
            className="tool remove away"
            aria-label={`Let go of ${tie.name}`}
            disabled={readOnly}
            onClick={() => letGo(tie.id)}
          >
            <Trash2 size={13} />
          </button>
        </Tooltip>
      </TrayRow>
    </div>
  );
});

/** Strength in percent at the playhead: typed all along, or as a key where it is keyed. */
function StrengthField({ tie, disabled }: { tie: Constraint; disabled: boolean }) {
  const frame = useRestingFrame();
  const strength = strengthOf(tie);
  const keyed = strength.times.length > 1;
  const { change } = weightedTie(tie);
  return (
    <NumberField
      className={keyed ? "weight keyed" : "weight"}
      label={`Strength of ${tie.name}, percent`}
      title={
        keyed ? `Strength at frame ${frame}, keyed: typing sets a key here` : "Strength in percent, the same all along. The menu keys it"
      }
      decimals={0}
      value={Math.round(sampleCurve(strength, frame) * 100)}
      min={0}
      max={100}
      disabled={disabled}
      onCommit={(percent) => change(keyed ? setKey(strength, frame, percent / 100) : constantCurve(percent / 100, strength.times[0]))}
    />
  );
}
