import { useSortable } from "@dnd-kit/sortable";
import {
  constantCurve,
  countedWord,
  countKeys,
  type Pass,
  passKind,
  playPass,
  sampleCurve,
  setKey,
  type Shot,
  strangeMembers,
} from "@kneader/core";
import { Lock } from "lucide-react";
import { memo, type ReactNode, useMemo, useState } from "react";
import { useRestingFrame } from "../../clock.ts";
import { useReadOnly, useShownPart } from "../../documents.ts";
import { changePass, movePass } from "../../edits.ts";
import { NumberField } from "../../NumberField.tsx";
import { useSelection } from "../../selection.ts";
import { NamingField } from "./NamingField.tsx";
import { TrayRow } from "../TrayRow.tsx";
import { PassBand } from "./PassBand.tsx";
import type { PassMenuPlace } from "./PassMenu.tsx";
import { PassSwitches } from "./PassSwitches.tsx";
import { PassTools } from "./PassTools.tsx";

interface PassRowProps {
  pass: Pass;
  chosen: boolean;
  /** It is on, and no other plays alone. */
  plays: boolean;
  onMenu(place: PassMenuPlace): void;
  /** Under which pass the row is sorted; left out: its own. */
  sortAs?: string;
  /** Bands beside its own. */
  children?: ReactNode;
}

/** One pass: name, switches, weight, and its band over time. */
export const PassRow = memo(function PassRow({ pass, chosen, plays, onMenu, sortAs, children }: PassRowProps) {
  const readOnly = useReadOnly();
  const { listeners, setNodeRef, transform } = useSortable({ id: sortAs ?? pass.id, disabled: readOnly });
  const [naming, setNaming] = useState(false);
  const frame = useRestingFrame();
  const weight = Math.round(sampleCurve(pass.weight, frame) * 100);
  const rig = useShownPart((shot) => shot.rig);
  const strange = useMemo(() => strangeMembers({ rig } as Shot, pass).length, [rig, pass]);
  const keyed = pass.weight.times.length > 1;
  const choose = () => useSelection.getState().setLayer(pass.id);
  /** A keyed weight is keyed at the playhead, any other is the same all along. */
  const setWeight = (percent: number) =>
    changePass(pass.id, { weight: keyed ? setKey(pass.weight, frame, percent / 100) : constantCurve(percent / 100) });
  const rename = (name: string | null) => {
    setNaming(false);
    if (name !== null) changePass(pass.id, { name });
  };
  return (
    <div
      ref={setNodeRef}
      role="group"
      aria-label={`Row of ${pass.name}`}
      onContextMenu={(event) => {
        event.preventDefault();
        onMenu({ x: event.clientX, y: event.clientY, pass: pass.id });
      }}
      style={transform ? { transform: `translateY(${transform.y}px)`, zIndex: 3, position: "relative" } : undefined}
    >
      <TrayRow
        name={pass.name}
        className={`pass-row ${strange > 0 ? "strange" : ""} ${chosen ? "chosen" : ""} ${plays ? "" : "silent"}`}
        gutter={
          <>
            {naming ? (
              <NamingField label="Name of the pass" name={pass.name} onName={rename} />
            ) : (
              <button
                type="button"
                className="pass-name"
                aria-pressed={chosen}
                title={`${pass.name}: ${passKind(pass.kind)?.help ?? ""} ${sayMembers(pass)}${strange > 0 ? ` ${strange} of its channels are not in the rig; they are kept.` : ""} Double-click renames; drag, or Alt and an arrow, moves it in the stack.`}
                onClick={choose}
                onDoubleClick={() => setNaming(true)}
                onKeyDown={(event) => {
                  if (!event.altKey || (event.key !== "ArrowUp" && event.key !== "ArrowDown")) return;
                  event.preventDefault();
                  movePass(pass.id, event.key === "ArrowUp" ? 1 : -1);
                }}
                {...listeners}
              >
                {pass.locked && <Lock size={11} aria-label="locked" />}
                <span className="name-text">{pass.name}</span>
              </button>
            )}
            <PassSwitches id={pass.id} name={pass.name} on={pass.on} solo={pass.solo} disabled={readOnly} />
            <NumberField
              className={keyed ? "weight keyed" : "weight"}
              label={`Weight of ${pass.name}, percent`}
              title={
                keyed
                  ? `Weight at frame ${frame}, keyed: typing sets a key here`
                  : "Weight in percent, the same all along; may go past 100. The pass menu keys it"
              }
              decimals={0}
              value={weight}
              min={-400}
              max={400}
              disabled={readOnly}
              onCommit={setWeight}
            />
          </>
        }
      >
        {children}
        <span data-band-row={pass.kind === playPass.id ? pass.id : undefined} className="band-row">
          <PassBand pass={pass} chosen={chosen} onChoose={choose} editable />
        </span>
        <PassTools id={pass.id} name={pass.name} kind={pass.kind} disabled={readOnly} onMenu={onMenu} />
      </TrayRow>
    </div>
  );
});

/** What a pass works on, in words. */
function sayMembers(pass: Pass): string {
  if (passKind(pass.kind)?.reads === "keys")
    return `${countedWord(countKeys(pass.curves), "key")} on ${countedWord(Object.keys(pass.curves).length, "curve")}.`;
  return pass.members === null ? "For the whole figure." : `For ${countedWord(pass.members.length, "channel")}.`;
}
